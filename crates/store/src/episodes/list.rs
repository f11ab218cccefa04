//! Episodes in lists.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::episode::{Aspect, Found, Pattern, patterns};
use quality::signal::SignalState;
use serde::{Deserialize, Serialize};
use spc::rules::Side;
use sqlx::PgPool;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use super::filter::EpisodeFilter;
use super::view::EpisodeRun;
use crate::once::compiled_once;
use crate::{StoreError, word};

/// An episode as a line of a list.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EpisodeRow {
    pub id: Uuid,
    /// The characteristic it was found on; of a run the first of its levels.
    pub characteristic: Uuid,
    /// Its name, or that of the analyte.
    pub name: String,
    /// The run of the laboratory that it is of.
    pub run: Option<EpisodeRun>,
    pub station: String,
    /// On what.
    pub product: String,
    /// What of the process it speaks of.
    pub aspect: Aspect,
    /// High or low; nothing where no signal says so.
    pub side: Option<Side>,
    /// Number of its first sample.
    pub from_number: i64,
    /// Number of its last sample.
    pub to_number: i64,
    /// When the first of its samples was taken.
    pub since: DateTime<Utc>,
    /// When the last of its samples was taken.
    pub until: DateTime<Utc>,
    /// When its first signal was raised.
    pub raised_at: DateTime<Utc>,
    /// Where it stands.
    pub state: SignalState,
    /// Counts its changes; a review names the one that was seen.
    pub version: i32,
    /// Against trial limits alone.
    pub trial: bool,
    /// Nothing of it holds any more.
    pub gone: bool,
    /// Some of what it tells of was sent back once.
    pub sent_back: bool,
    /// When it was raised to the supervisors, since nobody answered.
    pub escalated_at: Option<DateTime<Utc>>,
    /// The rules that were broken, the most telling first.
    pub patterns: Vec<Pattern>,
    /// The last answer, in a word: its cause, or nothing where nothing was found.
    pub cause: Option<String>,
    /// Who gave it.
    pub answered_by: Option<String>,
}

/// At most `most` episodes in the order that is asked for. What went away before anybody answered asks nothing of
/// anybody, and is not listed.
#[compiled_once]
pub async fn list(pool: &PgPool, filter: &EpisodeFilter, most: i64) -> Result<Vec<EpisodeRow>, StoreError> {
    // The page is found first; what its lines say is looked up for them alone.
    rows(pool, &filter.page(pool, most).await?).await
}

/// Episodes as lines, in the order in which they are named.
pub(crate) async fn rows(pool: &PgPool, page: &[Uuid]) -> Result<Vec<EpisodeRow>, StoreError> {
    sqlx::query!(
        r#"select e.id, e.characteristic_id, coalesce(an.name, c.name) as "name!", e.run_id,
                  rn.number as "run_number?", st.name as station, p.name as product, e.aspect, e.side,
                  e.from_number, e.to_number, e.from_taken_at, e.to_taken_at, e.raised_at, e.state, e.version,
                  e.trial, e.gone, e.sent_back, e.escalated_at,
                  found.signals as "signals!: Json<Vec<Found>>", last.cause as "cause?", last.person as "answered_by?"
           from unnest($1::uuid[]) with ordinality page (id, place)
           join episode e on e.id = page.id
           join characteristic c on c.id = e.characteristic_id
           join station st on st.id = c.station_id
           join product p on p.id = c.product_id
           left join analyte an on an.id = e.analyte_id
           left join run rn on rn.id = e.run_id
           cross join lateral (
               select coalesce(jsonb_agg(jsonb_build_object('rule', g.rule, 'panel', g.panel, 'side', g.side, 'points',
                   (select count(*) from sample s where s.characteristic_id = g.characteristic_id
                        and (s.taken_at, s.number) >= (f.taken_at, f.number)
                        and (s.taken_at, s.number) <= (t.taken_at, t.number) and not s.gap and not s.aside))
                   order by f.taken_at, f.number, g.id), '[]') as signals
               from signal g join sample f on f.id = g.from_sample join sample t on t.id = g.to_sample
               where g.episode_id = e.id and (g.withdrawn_at is null or e.gone)) found
           left join lateral (
               select coalesce(k.name, a.cause_text) as cause, ap.name as person
               from signal g join answer_of o on o.signal_id = g.id join answer a on a.id = o.answer_id
               join person ap on ap.id = a.person_id left join cause k on k.id = a.cause_id
               where g.episode_id = e.id order by a.at desc limit 1) last on true
           order by page.place"#,
        page
    )
    .fetch_all(pool)
    .await?
    .into_iter()
    .map(|row| {
        Ok(EpisodeRow {
            id: row.id,
            characteristic: row.characteristic_id,
            name: row.name,
            run: EpisodeRun::of(row.run_id, row.run_number),
            station: row.station,
            product: row.product,
            aspect: word::value(row.aspect)?,
            side: row.side.map(word::value).transpose()?,
            from_number: row.from_number,
            to_number: row.to_number,
            since: row.from_taken_at,
            until: row.to_taken_at,
            raised_at: row.raised_at,
            state: word::value(row.state)?,
            version: row.version,
            trial: row.trial,
            gone: row.gone,
            sent_back: row.sent_back,
            escalated_at: row.escalated_at,
            patterns: patterns(&row.signals.0),
            cause: row.cause,
            answered_by: row.answered_by,
        })
    })
    .collect()
}

/// Episodes of a characteristic that ask a technician.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct WaitingEpisodes {
    pub characteristic: Uuid,
    /// Where it is sampled.
    pub station: Uuid,
    /// How many wait.
    pub count: i64,
    /// The one that has waited longest.
    pub first: Uuid,
}

/// How many episodes wait for an answer, by characteristic; those without any are left out.
#[compiled_once]
pub async fn waiting(pool: &PgPool) -> Result<Vec<WaitingEpisodes>, StoreError> {
    Ok(sqlx::query_as!(
        WaitingEpisodes,
        r#"select e.characteristic_id as characteristic, c.station_id as station, count(*) as "count!",
                  (array_agg(e.id order by e.raised_at, e.id))[1] as "first!"
           from episode e join characteristic c on c.id = e.characteristic_id
           where e.state in ('open', 'sent_back') and not e.gone
           group by e.characteristic_id, c.station_id"#
    )
    .fetch_all(pool)
    .await?)
}

/// How many those are: of fifty thousand counted in a third of the time that it takes to find the first ones too. Whoever
/// needs the count beside something else of each characteristic takes it from here: counted one by one, the database may
/// look through all that wait for each of them.
#[compiled_once]
pub(crate) async fn how_many_wait(pool: &PgPool) -> Result<HashMap<Uuid, i64>, StoreError> {
    let counts = sqlx::query!(
        r#"select characteristic_id, count(*) as "count!" from episode
           where state in ('open', 'sent_back') and not gone group by characteristic_id"#
    );
    Ok(counts.fetch_all(pool).await?.into_iter().map(|row| (row.characteristic_id, row.count)).collect())
}
