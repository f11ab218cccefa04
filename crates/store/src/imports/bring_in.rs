//! Rows become samples, within an act. The trail tells it in one entry, with a digest of all of them.

use std::sync::Arc;

use chrono::{DateTime, Utc};
use quality::import::ImportSource;
use quality::object::ObjectKind;
use quality::signal::WithdrawnReason;
use quality::trail::{Action, Deed};
use serde_json::{Value, json};
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use super::rows::{Common, Into, Rows};
use crate::StoreError;
use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::judging::{Progress, Range};
use crate::limits::{Made, begins_afresh};
use crate::news::News;
use crate::samples::newest_anew;

/// What an import says of itself.
struct Told {
    file_name: String,
    file_digest: String,
    source: String,
    person_id: Uuid,
    at: DateTime<Utc>,
    first_number: i64,
    stored: i32,
    samples_digest: Option<String>,
    stated: Option<Json<Value>>,
    key: Vec<String>,
}

impl Told {
    async fn read(conn: &mut PgConnection, import: Uuid) -> Result<Self, StoreError> {
        sqlx::query_as!(
            Told,
            r#"select file_name, file_digest, source, person_id, at, first_number, stored, samples_digest,
                   stated as "stated: Json<Value>", key from import where id = $1 and state in ('staged', 'waiting')"#,
            import
        )
        .fetch_optional(conn)
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Import))
    }

    fn device(&self, characteristic: Uuid) -> Uuid {
        ImportSource { name: &self.source, characteristic }.device()
    }
}

/// Makes samples of rows. They are not judged yet. Gives their digest too, which is still to be written down.
///
/// # Errors
/// When it was cancelled, or an event of the same moment is there.
pub(super) async fn from_rows(
    act: &mut Act,
    setup: &CharacteristicView,
    rows: &Arc<Rows>,
    progress: Option<&mut Progress<'_>>,
) -> Result<(Made, String), StoreError> {
    let told = Told::read(act.conn(), rows.import).await?;
    let pieces_made = sqlx::query_scalar!("select pieces_made from station where id = $1", setup.station_id);
    let common = Common {
        characteristic: setup.id,
        device: told.device(setup.id),
        person: told.person_id,
        at: told.at,
        pieces_made: pieces_made.fetch_one(act.conn()).await?,
    };
    let digest = rows.copy(act.conn(), Into::Samples(common), progress).await?;
    Ok((came(act, setup, (rows.import, rows.from), (&told, &digest)).await?, digest))
}

/// Makes samples of what an import has staged. They are not judged yet.
///
/// # Errors
/// When it was cancelled, or an event of the same moment is there.
pub(crate) async fn from_staged(act: &mut Act, setup: &CharacteristicView, import: Uuid) -> Result<Made, StoreError> {
    let told = Told::read(act.conn(), import).await?;
    let from = staged_from(act.conn(), import).await?;
    sqlx::query!(
        "insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings,
             inspected, count, defects, tags, pieces_made, skipped_because, event, distance, import_id, source_row,
             source_digest)
         select i.id, $2, i.number, $3, i.entry, i.taken_at, $4, $5, i.readings, i.inspected, i.count, i.defects, i.tags,
             s.pieces_made, i.skipped_because, i.event, i.distance, $1, i.source_row, i.source_digest
         from import_sample i, characteristic c join station s on s.id = c.station_id
         where i.import_id = $1 and c.id = $2 order by i.number",
        import,
        setup.id,
        told.device(setup.id),
        told.at,
        told.person_id
    )
    .execute(act.conn())
    .await?;
    let digest = told.samples_digest.as_deref().ok_or_else(|| StoreError::Corrupt("staged without a digest".into()))?;
    came(act, setup, (import, from), (&told, digest)).await
}

/// When the first of the samples was taken that an import has staged.
pub(crate) async fn staged_from(conn: &mut PgConnection, import: Uuid) -> Result<DateTime<Utc>, StoreError> {
    let from = sqlx::query_scalar!(r#"select min(taken_at) as "from" from import_sample where import_id = $1"#, import);
    from.fetch_one(conn).await?.ok_or(StoreError::Missing(ObjectKind::Import))
}

/// Tells what came, and what that moves.
async fn came(
    act: &mut Act,
    setup: &CharacteristicView,
    (import, from): (Uuid, DateTime<Utc>),
    (told, digest): (&Told, &str),
) -> Result<Made, StoreError> {
    let characteristic = setup.id;
    let detail = json!({"file": told.file_name, "file_digest": told.file_digest, "source": told.source,
                        "device": told.device(characteristic), "samples": told.stored, "first": told.first_number,
                        "digest": digest, "stated": told.stated, "key": told.key});
    let deed = Deed::new(told.at, Some(told.person_id), Action::SamplesImported, import, &detail);
    act.did(characteristic, deed, News::Sample { characteristic, added: None });
    if setup.characteristic.asks_when() {
        events_apart(act.conn(), characteristic).await?;
    }
    afresh(act, characteristic, (import, from), told.at).await?;
    let first = sqlx::query!(
        "select id, taken_at, number from sample where characteristic_id = $1 and taken_at >= $2 and import_id = $3
         order by taken_at, number limit 1",
        characteristic,
        from,
        import
    );
    let first = first.fetch_one(act.conn()).await?;
    let range = Some(Range { from: Some((first.taken_at, first.number)), before: None });
    Ok(Made { range, reason: WithdrawnReason::Late, sample: Some(first.id), counts: None })
}

/// Writes down what an import's samples held at first.
pub(super) async fn digested(conn: &mut PgConnection, import: Uuid, digest: &str) -> Result<(), StoreError> {
    sqlx::query!("update import set samples_digest = $2 where id = $1", import, digest).execute(conn).await?;
    Ok(())
}

/// What was brought in is there for good. Where it is only tried, aside, this is left out: whoever cancels it, or saves
/// a sample, must not wait for what is taken back in the end.
pub(crate) async fn done(act: &mut Act, characteristic: Uuid, import: Uuid) -> Result<(), StoreError> {
    newest_anew(act.conn(), characteristic).await?;
    sqlx::query!("update import set state = 'done', ended_at = now() where id = $1", import)
        .execute(act.conn())
        .await?;
    sqlx::query!("delete from import_sample where import_id = $1", import).execute(act.conn()).await?;
    Ok(())
}

/// Tells every event how many hours lie between it and the one before it.
async fn events_apart(conn: &mut PgConnection, characteristic: Uuid) -> Result<(), StoreError> {
    let twice = sqlx::query_scalar!(
        r#"select exists (select from sample where characteristic_id = $1 and not gap
                          group by taken_at having count(*) > 1) as "twice!""#,
        characteristic
    );
    if twice.fetch_one(&mut *conn).await? {
        return Err(StoreError::EventThere);
    }
    sqlx::query!(
        "with apart as (
             select id, (extract(epoch from taken_at - lag(taken_at) over (order by taken_at, number)) / 3600)::double precision as hours
             from sample where characteristic_id = $1 and not gap)
         update sample s set distance = apart.hours from apart
         where s.id = apart.id and s.distance is distinct from apart.hours",
        characteristic
    )
    .execute(conn)
    .await?;
    Ok(())
}

/// Rules start afresh at the first sample after a correction of the process, where that is one of these.
async fn afresh(
    act: &mut Act,
    characteristic: Uuid,
    (import, from): (Uuid, DateTime<Utc>),
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let first = sqlx::query!(
        r#"select distinct s.taken_at, s.number, s.id from planned_restart p
           cross join lateral (select id, taken_at, number from sample
                               where characteristic_id = $1 and taken_at >= $3 and taken_at > p.corrected_at
                                 and import_id = $2
                               order by taken_at, number limit 1) s
           where p.characteristic_id = $1 and not p.dropped and (p.starts_at is null or p.starts_at > s.taken_at)
           order by s.taken_at, s.number"#,
        characteristic,
        import,
        from
    );
    for sample in first.fetch_all(act.conn()).await? {
        begins_afresh(act, characteristic, (sample.id, (sample.taken_at, sample.number)), at).await?;
    }
    Ok(())
}
