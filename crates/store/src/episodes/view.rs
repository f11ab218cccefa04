//! One episode with all that was found, said and decided.

use chrono::{DateTime, Utc};
use quality::episode::{Aspect, EpisodeSteps, Found, Pattern, patterns};
use quality::object::ObjectKind;
use quality::signal::{Broken, SignalState, WithdrawnReason};
use serde::{Deserialize, Serialize};
use spc::chart::Statistic;
use spc::rules::Side;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::answered::{AnswerView, ReviewView, answers, unanswered_reviews};
use super::stage::{joined, stage};
use crate::once::compiled_once;
use crate::{StoreError, word};

/// An episode.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EpisodeView {
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
    /// Unit of the readings.
    pub unit: String,
    /// Decimals of the unit.
    pub decimals: i16,
    /// What of the process it speaks of.
    pub aspect: Aspect,
    /// High or low; nothing where no signal says so.
    pub side: Option<Side>,
    /// Number of its first sample.
    pub from_number: i64,
    /// Number of its last sample.
    pub to_number: i64,
    /// The last sample.
    pub to_sample: Uuid,
    /// When the first of its samples was taken.
    pub since: DateTime<Utc>,
    /// When the last of its samples was taken.
    pub until: DateTime<Utc>,
    /// When its first signal was raised.
    pub raised_at: DateTime<Utc>,
    /// When it was raised to the supervisors, since nobody answered.
    pub escalated_at: Option<DateTime<Utc>>,
    /// Against trial limits alone.
    pub trial: bool,
    /// Nothing of it holds any more.
    pub gone: bool,
    /// That of its least settled signal.
    pub state: SignalState,
    /// What whoever asks may do with it.
    pub steps: EpisodeSteps,
    /// Counts its changes.
    pub version: i32,
    /// The rules that were broken, the most telling first.
    pub patterns: Vec<Pattern>,
    /// What was found, in the order of the points.
    pub signals: Vec<EpisodeSignal>,
    /// Answers, oldest first.
    pub answers: Vec<AnswerView>,
    /// Reviews without an answer: what somebody made go away, or what was found late.
    pub reviews: Vec<ReviewView>,
    /// The reviewed one that its pattern goes on from.
    pub follows: Option<EpisodeBefore>,
    /// The steps to take.
    pub reaction_plan: Vec<String>,
}

/// A run of the laboratory that an episode is of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct EpisodeRun {
    pub id: Uuid,
    /// Its number on the bench.
    pub number: i64,
}

impl EpisodeRun {
    pub(crate) fn of(id: Option<Uuid>, number: Option<i64>) -> Option<Self> {
        id.zip(number).map(|(id, number)| Self { id, number })
    }
}

/// A signal of an episode.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EpisodeSignal {
    pub id: Uuid,
    /// The characteristic it was found on.
    pub characteristic: Uuid,
    /// The level, in the laboratory.
    pub level: Option<String>,
    /// The panel it was found in.
    pub panel: Statistic,
    /// The rule that was broken.
    pub rule: Broken,
    pub side: Option<Side>,
    /// Tested points of the pattern.
    pub points: usize,
    /// Number of the first sample of the pattern.
    pub from_number: i64,
    /// Number of the last one.
    pub to_number: i64,
    /// The last one.
    pub to_sample: Uuid,
    pub raised_at: DateTime<Utc>,
    /// Centre it was raised against.
    pub center: f64,
    /// Within sigma of single values it was raised against; counts have none of their own.
    pub sigma: Option<f64>,
    /// Multiplier of sigma of those limits.
    pub k: f64,
    /// Found among later samples.
    pub late: bool,
    pub state: SignalState,
    /// When it was withdrawn: the finding no longer holds.
    pub withdrawn_at: Option<DateTime<Utc>>,
    /// Why.
    pub withdrawn_reason: Option<WithdrawnReason>,
    /// Who made it go away, which somebody else reviews.
    pub cleared_by: Option<String>,
}

/// An earlier episode of the same pattern.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EpisodeBefore {
    pub id: Uuid,
    pub from_number: i64,
    pub to_number: i64,
    /// Its last answer.
    pub answer: Option<AnswerView>,
}

/// The episode with this id, or the one it was joined to, as `viewer` may go on with it.
#[compiled_once]
pub async fn find(pool: &PgPool, viewer: Uuid, id: Uuid) -> Result<EpisodeView, StoreError> {
    let mut conn = pool.acquire().await?;
    let id = joined(&mut conn, id).await?;
    let row = sqlx::query!(
        r#"select e.*, coalesce(an.name, c.name) as "name!", rn.number as "run_number?", c.unit, c.decimals, c.reaction_plan, st.name as station, p.name as product,
                  t.id as to_sample, b.from_number as "before_from?", b.to_number as "before_to?"
           from episode e
           join characteristic c on c.id = e.characteristic_id
           join station st on st.id = c.station_id
           join product p on p.id = c.product_id
           join sample t on t.characteristic_id = e.characteristic_id and t.number = e.to_number
           left join episode b on b.id = e.follows
           left join analyte an on an.id = e.analyte_id
           left join run rn on rn.id = e.run_id
           where e.id = $1"#,
        id
    )
    .fetch_optional(&mut *conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Episode))?;
    let signals = signals(&mut conn, id).await?;
    let holding = |signal: &&EpisodeSignal| signal.withdrawn_at.is_none() || row.gone;
    let found = |s: &EpisodeSignal| Found { rule: s.rule, panel: s.panel, side: s.side, points: s.points };
    let found: Vec<Found> = signals.iter().filter(holding).map(found).collect();
    let follows = match (row.follows, row.before_from.zip(row.before_to)) {
        (Some(before), Some((from_number, to_number))) => {
            let answer = answers(&mut conn, before).await?.pop();
            Some(EpisodeBefore { id: before, from_number, to_number, answer })
        }
        _ => None,
    };
    Ok(EpisodeView {
        id: row.id,
        characteristic: row.characteristic_id,
        name: row.name,
        run: EpisodeRun::of(row.run_id, row.run_number),
        station: row.station,
        product: row.product,
        unit: row.unit,
        decimals: row.decimals,
        aspect: word::value(row.aspect)?,
        side: row.side.map(word::value).transpose()?,
        from_number: row.from_number,
        to_number: row.to_number,
        to_sample: row.to_sample,
        since: row.from_taken_at,
        until: row.to_taken_at,
        raised_at: row.raised_at,
        escalated_at: row.escalated_at,
        trial: row.trial,
        gone: row.gone,
        state: word::value(row.state)?,
        steps: stage(&mut conn, id).await?.steps(viewer),
        version: row.version,
        patterns: patterns(&found),
        signals,
        answers: answers(&mut conn, id).await?,
        reviews: unanswered_reviews(&mut conn, id).await?,
        follows,
        reaction_plan: row.reaction_plan,
    })
}

async fn signals(conn: &mut PgConnection, episode: Uuid) -> Result<Vec<EpisodeSignal>, StoreError> {
    sqlx::query!(
        r#"select g.id, g.characteristic_id, v.name as "level?", g.panel, g.rule as "rule: Json<Broken>", g.side, g.to_sample, f.number as from_number, t.number as to_number,
                  g.raised_at, g.center, g.sigma, g.k, g.late, g.state, g.withdrawn_at, g.withdrawn_reason,
                  cl.name as "cleared_by?",
                  (select count(*) from sample s where s.characteristic_id = g.characteristic_id
                       and (s.taken_at, s.number) >= (f.taken_at, f.number)
                       and (s.taken_at, s.number) <= (t.taken_at, t.number) and not s.gap and not s.aside) as "points!"
           from signal g
           join sample f on f.id = g.from_sample join sample t on t.id = g.to_sample
           left join person cl on cl.id = g.cleared_by
           left join level v on v.characteristic_id = g.characteristic_id
           -- What went away before anybody answered asks nothing of anybody.
           where g.episode_id = $1 and (g.withdrawn_at is null or g.state in ('answered', 'reviewed')
                  or not exists (select from signal o where o.episode_id = $1 and o.withdrawn_at is null))
           order by f.taken_at, f.number, t.taken_at, t.number, g.raised_at, g.id"#,
        episode
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        Ok(EpisodeSignal {
            id: row.id,
            characteristic: row.characteristic_id,
            level: row.level,
            panel: word::value(row.panel)?,
            rule: row.rule.0,
            side: row.side.map(word::value).transpose()?,
            points: row.points.try_into().unwrap_or(usize::MAX),
            from_number: row.from_number,
            to_number: row.to_number,
            to_sample: row.to_sample,
            raised_at: row.raised_at,
            center: row.center,
            sigma: row.sigma,
            k: row.k,
            late: row.late,
            state: word::value(row.state)?,
            withdrawn_at: row.withdrawn_at,
            withdrawn_reason: row.withdrawn_reason.map(word::value).transpose()?,
            cleared_by: row.cleared_by,
        })
    })
    .collect()
}
