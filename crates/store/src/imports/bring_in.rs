//! Staged samples become samples, within an act. The trail tells it in one entry, with a digest of all of them.

use chrono::{DateTime, Utc};
use quality::signal::WithdrawnReason;
use quality::trail::{Action, Deed};
use serde_json::{Value, json};
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::judging::Range;
use crate::limits::{Made, begins_afresh};
use crate::news::News;
use crate::samples::newest_anew;

/// Makes samples of what an import has staged. They are not judged yet.
///
/// # Errors
/// When it was cancelled, or an event of the same moment is there.
pub(crate) async fn bring_in(act: &mut Act, setup: &CharacteristicView, import: Uuid) -> Result<Made, StoreError> {
    let characteristic = setup.id;
    let told = sqlx::query!(
        r#"select file_name, file_digest, source, person_id, at, first_number, stored, samples_digest as "digest!",
               stated as "stated: Json<Value>", key from import where id = $1 and state in ('staged', 'waiting')"#,
        import
    );
    let told =
        told.fetch_optional(act.conn()).await?.ok_or(StoreError::Missing(quality::object::ObjectKind::Import))?;
    let device = quality::import::ImportSource { name: &told.source, characteristic }.device();
    sqlx::query!(
        "insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings,
             inspected, count, defects, tags, pieces_made, skipped_because, event, distance, import_id, source_row,
             source_digest)
         select i.id, $2, i.number, $3, i.entry, i.taken_at, $4, $5, i.readings, i.inspected, i.count, i.defects, i.tags,
             s.pieces_made, i.skipped_because, i.event, i.distance, $1, i.source_row, i.source_digest
         from import_sample i, characteristic c join station s on s.id = c.station_id
         where i.import_id = $1 and c.id = $2 order by i.number",
        import,
        characteristic,
        device,
        told.at,
        told.person_id
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"file": told.file_name, "file_digest": told.file_digest, "source": told.source, "device": device,
                        "samples": told.stored, "first": told.first_number, "digest": told.digest,
                        "stated": told.stated, "key": told.key});
    let deed = Deed::new(told.at, Some(told.person_id), Action::SamplesImported, import, &detail);
    act.did(characteristic, deed, News::Sample { characteristic, added: None });
    if setup.characteristic.asks_when() {
        events_apart(act.conn(), characteristic).await?;
    }
    afresh(act, characteristic, import, told.at).await?;
    let first = sqlx::query!(
        "select id, taken_at, number from sample where import_id = $1 order by taken_at, number limit 1",
        import
    );
    let first = first.fetch_one(act.conn()).await?;
    let from = Some((first.taken_at, first.number));
    let range = Some(Range { from, before: None });
    Ok(Made { range, reason: WithdrawnReason::Late, sample: Some(first.id), counts: None })
}

/// Whether all that an import has staged comes behind every sample that is there, and can touch no signal: none that
/// goes on up to the last of them, and none at all on trial, where limits move.
pub(crate) async fn is_behind(conn: &mut PgConnection, characteristic: Uuid, import: Uuid) -> Result<bool, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"with first as (select min(taken_at) as at from import_sample where import_id = $2),
             last as (select taken_at, number from sample where characteristic_id = $1
                      order by taken_at desc, number desc limit 1),
             phase as (select l.state = 'trial' as trial from phase p join limits l on l.phase_id = p.id
                       where p.characteristic_id = $1 and p.merged_at is null and l.state <> 'retired' order by p.starts_at desc limit 1)
           select first.at is not null and not exists (select from last where taken_at >= first.at)
               and not exists (select from signal g where g.characteristic_id = $1 and g.to_taken_at >= (
                   select case when phase.trial then '-infinity' else last.taken_at end from last, phase)) as "is!"
           from first"#,
        characteristic,
        import
    )
    .fetch_one(conn)
    .await?)
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
async fn afresh(act: &mut Act, characteristic: Uuid, import: Uuid, at: DateTime<Utc>) -> Result<(), StoreError> {
    let first = sqlx::query!(
        r#"select distinct s.taken_at, s.number, s.id from planned_restart p
           cross join lateral (select id, taken_at, number from sample
                               where import_id = $2 and taken_at > p.corrected_at
                               order by taken_at, number limit 1) s
           where p.characteristic_id = $1 and not p.dropped and (p.starts_at is null or p.starts_at > s.taken_at)
           order by s.taken_at, s.number"#,
        characteristic,
        import
    );
    for sample in first.fetch_all(act.conn()).await? {
        begins_afresh(act, characteristic, (sample.id, (sample.taken_at, sample.number)), at).await?;
    }
    Ok(())
}
