//! What may explain an episode: what differs inside it, what changed and happened near it, how its like were answered,
//! and what was made meanwhile.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use spc::differs::{Differs, DiffersRequest, Tagged, differs};
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::answered::answers;
use super::extent::Extent;
use super::stage::joined;
use super::view::EpisodeBefore;
use crate::events::{self, Event};
use crate::once::compiled_once;
use crate::phases::{holding, phases};
use crate::{StoreError, characteristics};

/// Samples before an episode that it is compared with.
const OUTSIDE: i64 = 50;
/// Episodes of the same pattern that are told.
const ALIKE: i64 = 5;

/// What may explain an episode.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Explained {
    /// Tags that are commoner inside it than in the last 50 tested samples before it, of its phase and in no episode.
    pub differs: Differs,
    /// Tags that its first sample has otherwise than the last clean one.
    pub changed: Vec<TagChanged>,
    /// What happened at the station from the last clean sample to the next.
    pub events: Vec<Event>,
    /// Notes on its samples.
    pub notes: Vec<EpisodeNote>,
    /// The latest of the same pattern that were answered.
    pub alike: Vec<EpisodeBefore>,
    /// Where else its last answer's cause was named on this characteristic.
    pub same_cause: Option<SameCause>,
    /// What was made since the last clean sample; nothing where there is none before.
    pub made: Option<MadeSince>,
}

/// A cause, and where else it was named.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct SameCause {
    pub cause: String,
    /// How many other episodes of this characteristic name it.
    pub episodes: i64,
    /// The latest of them.
    pub latest: Vec<EpisodeBefore>,
}

/// A tag that changed as an episode began.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct TagChanged {
    pub tag: String,
    pub before: Option<String>,
    pub after: Option<String>,
}

/// A note on a sample of an episode.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EpisodeNote {
    /// Number of the sample.
    pub number: i64,
    pub text: String,
    pub person: String,
    pub at: DateTime<Utc>,
}

/// What was made since the last clean sample.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct MadeSince {
    /// Number of the last clean sample.
    pub clean: i64,
    /// When it was taken.
    pub since: DateTime<Utc>,
    /// When the next clean one was; nothing while there is none.
    pub until: Option<DateTime<Utc>>,
    /// Pieces that were counted at the station meanwhile; nothing where nobody counts.
    pub pieces: Option<i64>,
    /// Lots that were worked on meanwhile.
    pub lots: Vec<String>,
}

type Tags = BTreeMap<String, String>;

/// A clean sample: tested, and in no episode.
struct Clean {
    number: i64,
    taken_at: DateTime<Utc>,
    tags: Json<Tags>,
    pieces_made: i64,
}

/// What may explain an episode.
///
/// # Errors
/// When it is missing.
#[compiled_once]
pub async fn explain(pool: &PgPool, id: Uuid) -> Result<Explained, StoreError> {
    let mut conn = pool.acquire().await?;
    let id = joined(&mut conn, id).await?;
    let row = sqlx::query!(
        r#"select e.characteristic_id, e.from_taken_at, e.from_number, e.to_taken_at, e.to_number, c.station_id,
                  s.pieces_made
           from episode e join characteristic c on c.id = e.characteristic_id join station s on s.id = c.station_id
           where e.id = $1"#,
        id
    )
    .fetch_one(&mut *conn)
    .await?;
    let characteristic = row.characteristic_id;
    let extent = Extent { from: (row.from_taken_at, row.from_number), to: (row.to_taken_at, row.to_number) };
    let setup = characteristics::find(&mut *conn, characteristic).await?;
    let all = phases(&mut conn, setup.id).await?;
    let held = holding(&all, extent.from.0);
    // What was sampled before the first phase counts to it.
    let phase_starts = all.get(held).filter(|_| held > 0).map(|phase| phase.starts_at);

    let inside = inside(&mut conn, characteristic, extent).await?;
    let outside = clean_before(&mut conn, characteristic, extent, phase_starts).await?;
    let next = clean_after(&mut conn, characteristic, extent).await?;
    let tagged = |tags: &Tags| Tagged { tags: tags.clone() };
    let request = DiffersRequest {
        inside: inside.iter().map(tagged).collect(),
        outside: outside.iter().map(|clean| tagged(&clean.tags.0)).collect(),
        alpha: None,
    };
    let differs = differs(&request)?;
    let last = outside.first();
    let changed = match (last, inside.first()) {
        (Some(before), Some(after)) => changed(&before.tags.0, after),
        _ => vec![],
    };
    let since = last.map_or(extent.from.0, |clean| clean.taken_at);
    let until = next.as_ref().map(|clean| clean.taken_at);
    let events = events::between(&mut conn, row.station_id, since, until).await?;
    let made = last.map(|clean| {
        let pieces = next.as_ref().map_or(row.pieces_made, |next| next.pieces_made) - clean.pieces_made;
        let named = inside.iter().filter_map(|tags| tags.get("lot").cloned());
        let mut lots: Vec<String> = named.chain(events.iter().filter_map(|event| event.lot.clone())).collect();
        lots.sort();
        lots.dedup();
        MadeSince { clean: clean.number, since, until, pieces: Some(pieces).filter(|n| *n > 0), lots }
    });
    let notes = notes(&mut conn, characteristic, extent).await?;
    let alike = alike(&mut conn, id).await?;
    let same_cause = same_cause(&mut conn, characteristic, id).await?;
    Ok(Explained { differs, changed, events, notes, alike, same_cause, made })
}

fn changed(before: &Tags, after: &Tags) -> Vec<TagChanged> {
    let mut tags: Vec<&String> = before.keys().chain(after.keys()).collect();
    tags.sort();
    tags.dedup();
    let of = |tags: &Tags, tag: &String| tags.get(tag).cloned();
    tags.into_iter()
        .filter(|tag| before.get(*tag) != after.get(*tag))
        .map(|tag| TagChanged { tag: tag.clone(), before: of(before, tag), after: of(after, tag) })
        .collect()
}

/// The tags of its tested samples, in order.
async fn inside(conn: &mut PgConnection, characteristic: Uuid, extent: Extent) -> Result<Vec<Tags>, StoreError> {
    let rows = sqlx::query_scalar!(
        r#"select tags as "tags: Json<Tags>" from sample
           where characteristic_id = $1 and (taken_at, number) >= ($2, $3) and (taken_at, number) <= ($4, $5)
             and not gap and not aside order by taken_at, number"#,
        characteristic,
        extent.from.0,
        extent.from.1,
        extent.to.0,
        extent.to.1
    );
    Ok(rows.fetch_all(conn).await?.into_iter().map(|tags| tags.0).collect())
}

/// The last clean samples before it, the latest first.
async fn clean_before(
    conn: &mut PgConnection,
    characteristic: Uuid,
    extent: Extent,
    phase_starts: Option<DateTime<Utc>>,
) -> Result<Vec<Clean>, StoreError> {
    let rows = sqlx::query_as!(
        Clean,
        r#"select number, taken_at, tags as "tags: Json<Tags>", pieces_made from sample s
           where characteristic_id = $1 and (taken_at, number) < ($2, $3) and not gap and not aside
             and taken_at >= coalesce($4, '-infinity'::timestamptz)
             and not exists (select from episode e where e.characteristic_id = $1 and not e.gone
                             and (s.taken_at, s.number) >= (e.from_taken_at, e.from_number)
                             and (s.taken_at, s.number) <= (e.to_taken_at, e.to_number))
           order by taken_at desc, number desc limit $5"#,
        characteristic,
        extent.from.0,
        extent.from.1,
        phase_starts,
        OUTSIDE
    );
    Ok(rows.fetch_all(conn).await?)
}

/// The first clean sample behind it.
async fn clean_after(
    conn: &mut PgConnection,
    characteristic: Uuid,
    extent: Extent,
) -> Result<Option<Clean>, StoreError> {
    let row = sqlx::query_as!(
        Clean,
        r#"select number, taken_at, tags as "tags: Json<Tags>", pieces_made from sample s
           where characteristic_id = $1 and (taken_at, number) > ($2, $3) and not gap and not aside
             and not exists (select from episode e where e.characteristic_id = $1 and not e.gone
                             and (s.taken_at, s.number) >= (e.from_taken_at, e.from_number)
                             and (s.taken_at, s.number) <= (e.to_taken_at, e.to_number))
           order by taken_at, number limit 1"#,
        characteristic,
        extent.to.0,
        extent.to.1
    );
    Ok(row.fetch_optional(conn).await?)
}

async fn notes(conn: &mut PgConnection, characteristic: Uuid, extent: Extent) -> Result<Vec<EpisodeNote>, StoreError> {
    Ok(sqlx::query_as!(
        EpisodeNote,
        "select s.number, n.text, p.name as person, n.at
         from note n join sample s on s.id = n.sample_id join person p on p.id = n.person_id
         where s.characteristic_id = $1 and (s.taken_at, s.number) >= ($2, $3) and (s.taken_at, s.number) <= ($4, $5)
         order by n.at",
        characteristic,
        extent.from.0,
        extent.from.1,
        extent.to.0,
        extent.to.1
    )
    .fetch_all(conn)
    .await?)
}

/// Earlier ones of the same characteristic that broke a rule of it on the same side, and were answered.
async fn alike(conn: &mut PgConnection, id: Uuid) -> Result<Vec<EpisodeBefore>, StoreError> {
    let rows = sqlx::query!(
        "select o.id, o.from_number, o.to_number
         from episode e join episode o on o.characteristic_id = e.characteristic_id and o.aspect = e.aspect
              and o.side is not distinct from e.side and o.raised_at < e.raised_at and o.id <> e.id
         where e.id = $1 and exists (
             select from signal a join signal b on b.rule = a.rule and b.panel = a.panel
             where a.episode_id = o.id and b.episode_id = e.id and exists (
                 select from answer_of n where n.signal_id = a.id))
         order by o.raised_at desc, o.id limit $2",
        id,
        ALIKE
    );
    let mut alike = Vec::new();
    for row in rows.fetch_all(&mut *conn).await? {
        alike.push(before(&mut *conn, row.id, (row.from_number, row.to_number)).await?);
    }
    Ok(alike)
}

/// An earlier one with its last answer.
async fn before(
    conn: &mut PgConnection,
    id: Uuid,
    (from_number, to_number): (i64, i64),
) -> Result<EpisodeBefore, StoreError> {
    let answer = answers(conn, id).await?.pop();
    Ok(EpisodeBefore { id, from_number, to_number, answer })
}

/// Others of the same characteristic whose answers name the cause of its last answer; nothing where it names none.
async fn same_cause(conn: &mut PgConnection, characteristic: Uuid, id: Uuid) -> Result<Option<SameCause>, StoreError> {
    let Some(cause) = answers(&mut *conn, id).await?.pop().and_then(|answer| answer.cause) else { return Ok(None) };
    let rows = sqlx::query!(
        r#"select o.id, o.from_number, o.to_number, count(*) over () as "all!" from episode o
           where o.characteristic_id = $1 and o.id <> $2 and exists (
               select from signal g join answer_of n on n.signal_id = g.id join answer a on a.id = n.answer_id
               left join cause k on k.id = a.cause_id
               where g.episode_id = o.id and lower(coalesce(k.name, a.cause_text)) = lower($3))
           order by o.raised_at desc, o.id limit $4"#,
        characteristic,
        id,
        cause,
        ALIKE
    );
    let rows = rows.fetch_all(&mut *conn).await?;
    let episodes = rows.first().map_or(0, |row| row.all);
    let mut latest = Vec::new();
    for row in rows {
        latest.push(before(&mut *conn, row.id, (row.from_number, row.to_number)).await?);
    }
    Ok(Some(SameCause { cause, episodes, latest }))
}
