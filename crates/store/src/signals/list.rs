//! Signals as people look at them.

use chrono::{DateTime, Utc};
use quality::object::ObjectKind;
use quality::signal::{Decision, SignalState, SignalSteps, Stage, WithdrawnReason};
use serde::{Deserialize, Serialize};
use spc::chart::Statistic;
use spc::rules::{Rule, Side};
use sqlx::PgPool;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{StoreError, word};

/// A signal with its answers and reviews.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct SignalView {
    pub id: Uuid,
    /// The characteristic it was found on.
    pub characteristic: Uuid,
    pub name: String,
    pub station: String,
    /// On what.
    pub product: String,
    /// Unit of the readings.
    pub unit: String,
    /// Decimals of the unit.
    pub decimals: i16,
    /// The panel it was found in.
    pub panel: Statistic,
    /// The rule that was broken.
    pub rule: Rule,
    pub side: Option<Side>,
    /// Number of the first sample of the pattern.
    pub from_number: i64,
    /// Number of the last sample of the pattern.
    pub to_number: i64,
    /// The last sample of the pattern.
    pub to_sample: Uuid,
    /// When the first sample of the pattern was taken.
    pub since: DateTime<Utc>,
    /// When the last sample of the pattern was taken.
    pub until: DateTime<Utc>,
    /// When it was raised.
    pub raised_at: DateTime<Utc>,
    /// Centre it was raised against.
    pub center: f64,
    /// Within sigma of single values it was raised against; counts have none of their own.
    pub sigma: Option<f64>,
    /// Multiplier of sigma of those limits.
    pub k: f64,
    /// Raised against trial limits.
    pub trial: bool,
    /// Found after a sample that arrived late.
    pub late: bool,
    /// Where it stands.
    pub state: SignalState,
    /// What whoever asks may do with it.
    pub steps: SignalSteps,
    /// Counts its changes.
    pub version: i32,
    /// When it was withdrawn: the finding no longer holds.
    pub withdrawn_at: Option<DateTime<Utc>>,
    /// Why.
    pub withdrawn_reason: Option<WithdrawnReason>,
    /// Who made it go away, which somebody else reviews.
    pub cleared_by: Option<String>,
    /// The review of that, where nobody had answered.
    pub cleared_review: Option<ReviewView>,
    /// The steps to take.
    pub reaction_plan: Vec<String>,
    /// Answers, oldest first.
    pub answers: Vec<AnswerView>,
}

/// An answer with its review.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct AnswerView {
    /// Who answered.
    pub person: String,
    /// Identity of who answered.
    pub person_id: Uuid,
    pub at: DateTime<Utc>,
    /// The cause in words; nothing when nothing was found.
    pub cause: Option<String>,
    /// What was done.
    pub action: String,
    /// What the supervisor decided.
    pub review: Option<ReviewView>,
}

/// A review.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct ReviewView {
    /// Who reviewed.
    pub person: String,
    pub at: DateTime<Utc>,
    /// What was decided.
    pub decision: Decision,
    /// Reason or question.
    pub remark: Option<String>,
}

/// Which signals to list.
#[derive(Debug, Clone, Copy, Default)]
pub struct SignalFilter {
    /// Who asks, and may go on with them.
    pub viewer: Uuid,
    /// Only in this state.
    pub state: Option<SignalState>,
    /// Only of this characteristic.
    pub characteristic: Option<Uuid>,
    /// Only this one.
    pub id: Option<Uuid>,
    /// Only signals raised before.
    pub before: Option<DateTime<Utc>>,
}

/// At most `most` signals, the latest raised first.
pub async fn list(pool: &PgPool, filter: SignalFilter, most: i64) -> Result<Vec<SignalView>, StoreError> {
    let state = filter.state.map(word::word).transpose()?;
    sqlx::query!(
        r#"select g.*, g.rule as "typed_rule: Json<Rule>", c.name, c.unit, c.decimals, c.reaction_plan,
                  st.name as station, p.name as product, f.number as from_number, t.number as to_number,
                  f.taken_at as since, t.taken_at as until,
                  cl.name as "cleared_by_name?",
                  (select jsonb_build_object('person', rp.name, 'at', r.at, 'decision', r.decision, 'remark', r.remark)
                   from review r join person rp on rp.id = r.person_id
                   where r.signal_id = g.id and r.answer_id is null order by r.at desc limit 1)
                      as "cleared_review: Json<ReviewView>",
                  coalesce((
                      select jsonb_agg(jsonb_build_object(
                          'person', ap.name, 'person_id', a.person_id, 'at', a.at, 'action', a.action,
                          'cause', coalesce(k.name, a.cause_text),
                          'review', case when r.id is null then null else jsonb_build_object(
                              'person', rp.name, 'at', r.at, 'decision', r.decision, 'remark', r.remark) end
                      ) order by a.at)
                      from answer a
                      join person ap on ap.id = a.person_id
                      left join cause k on k.id = a.cause_id
                      left join lateral (select * from review where answer_id = a.id order by at desc limit 1) r on true
                      left join person rp on rp.id = r.person_id
                      where a.signal_id = g.id), '[]') as "answers!: Json<Vec<AnswerView>>"
           from signal g
           join characteristic c on c.id = g.characteristic_id
           join station st on st.id = c.station_id
           join product p on p.id = c.product_id
           left join person cl on cl.id = g.cleared_by
           join sample f on f.id = g.from_sample
           join sample t on t.id = g.to_sample
           where ($1::text is null or g.state = $1) and ($2::uuid is null or g.characteristic_id = $2)
             and ($3::uuid is null or g.id = $3) and ($4::timestamptz is null or g.raised_at < $4)
             -- What was withdrawn before anybody answered asks nothing of anybody.
             and (g.withdrawn_at is null or g.state <> 'open' or g.id = $3)
           order by g.raised_at desc, g.id
           limit $5"#,
        state,
        filter.characteristic,
        filter.id,
        filter.before,
        most
    )
    .fetch_all(pool)
    .await?
    .into_iter()
    .map(|row| {
        let (state, version) = (word::value(row.state)?, row.version);
        let stage = Stage { state, version, answered_by: row.answered_by, cleared_by: row.cleared_by };
        Ok(SignalView {
            id: row.id,
            characteristic: row.characteristic_id,
            name: row.name,
            station: row.station,
            product: row.product,
            unit: row.unit,
            decimals: row.decimals,
            panel: word::value(row.panel)?,
            rule: row.typed_rule.0,
            side: row.side.map(word::value).transpose()?,
            from_number: row.from_number,
            to_number: row.to_number,
            to_sample: row.to_sample,
            since: row.since,
            until: row.until,
            raised_at: row.raised_at,
            center: row.center,
            sigma: row.sigma,
            k: row.k,
            trial: row.trial,
            late: row.late,
            state,
            steps: stage.steps(filter.viewer),
            version,
            withdrawn_at: row.withdrawn_at,
            withdrawn_reason: row.withdrawn_reason.map(word::value).transpose()?,
            cleared_by: row.cleared_by_name,
            cleared_review: row.cleared_review.map(|review| review.0),
            reaction_plan: row.reaction_plan,
            answers: row.answers.0,
        })
    })
    .collect()
}

/// The signal with this id, as `viewer` may go on with it.
pub async fn find(pool: &PgPool, viewer: Uuid, id: Uuid) -> Result<SignalView, StoreError> {
    let filter = SignalFilter { viewer, id: Some(id), ..SignalFilter::default() };
    list(pool, filter, 1).await?.pop().ok_or(StoreError::Missing(ObjectKind::Signal))
}

/// Signals of a characteristic that wait for an answer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct WaitingSignals {
    pub characteristic: Uuid,
    /// How many wait.
    pub count: i64,
    /// The one that has waited longest.
    pub first: Uuid,
}

/// How many signals wait for an answer, by characteristic; those without any are left out.
pub async fn waiting(pool: &PgPool) -> Result<Vec<WaitingSignals>, StoreError> {
    Ok(sqlx::query_as!(
        WaitingSignals,
        r#"select characteristic_id as characteristic, count(*) as "count!",
                  (array_agg(id order by raised_at, id desc))[1] as "first!"
           from signal where state = 'open' and withdrawn_at is null
           group by characteristic_id"#
    )
    .fetch_all(pool)
    .await?)
}
