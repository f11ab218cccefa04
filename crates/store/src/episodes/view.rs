//! One episode with all that was found, said and decided.

use chrono::{DateTime, Utc};
use quality::episode::{Aspect, Decision, EpisodeSteps, Found, Pattern, patterns};
use quality::object::ObjectKind;
use quality::signal::{SignalState, WithdrawnReason};
use serde::{Deserialize, Serialize};
use spc::chart::Statistic;
use spc::rules::{Rule, Side};
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::stage::{joined, stage};
use crate::files::FileView;
use crate::{StoreError, word};

/// An episode.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EpisodeView {
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

/// A signal of an episode.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EpisodeSignal {
    pub id: Uuid,
    /// The panel it was found in.
    pub panel: Statistic,
    /// The rule that was broken.
    pub rule: Rule,
    pub side: Option<Side>,
    /// Tested points of the pattern.
    pub points: usize,
    /// Number of the first sample of the pattern.
    pub from_number: i64,
    /// Number of the last one.
    pub to_number: i64,
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

/// An answer with its review.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct AnswerView {
    pub id: Uuid,
    /// Who answered.
    pub person: String,
    pub at: DateTime<Utc>,
    /// Entry of the catalogue of causes.
    pub cause_id: Option<Uuid>,
    /// The cause in words; nothing when nothing was found.
    pub cause: Option<String>,
    /// What was done.
    pub action: String,
    /// What else there was to say.
    pub comment: Option<String>,
    /// Steps of the reaction plan that were done.
    pub steps: Vec<String>,
    /// Whether what was made since the last clean sample was held.
    pub held: Option<bool>,
    /// The process was corrected, and rules start afresh.
    pub corrected: Option<CorrectedProcess>,
    /// Photos and documents.
    pub files: Vec<FileView>,
    /// What was added later, oldest first.
    pub additions: Vec<AdditionView>,
    /// Signals of this episode that it was given for.
    pub signals: Vec<Uuid>,
    /// What the supervisor decided.
    pub review: Option<ReviewView>,
}

/// A correction of the process.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct CorrectedProcess {
    /// Number of the sample that rules start afresh with; nothing while none was taken since.
    pub sample: Option<i64>,
    /// The restart went: the answer was overruled, or somebody undid it.
    pub dropped: bool,
}

/// What was added to an answer.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct AdditionView {
    /// Who added it.
    pub person: String,
    pub at: DateTime<Utc>,
    pub comment: String,
    /// Photos and documents.
    pub files: Vec<FileView>,
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
    /// The signature under it; nothing while nobody has signed it.
    pub signature: Option<Uuid>,
    /// When it was signed.
    pub signed_at: Option<DateTime<Utc>>,
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
pub async fn find(pool: &PgPool, viewer: Uuid, id: Uuid) -> Result<EpisodeView, StoreError> {
    let mut conn = pool.acquire().await?;
    let id = joined(&mut conn, id).await?;
    let row = sqlx::query!(
        r#"select e.*, c.name, c.unit, c.decimals, c.reaction_plan, st.name as station, p.name as product,
                  t.id as to_sample, b.from_number as "before_from?", b.to_number as "before_to?"
           from episode e
           join characteristic c on c.id = e.characteristic_id
           join station st on st.id = c.station_id
           join product p on p.id = c.product_id
           join sample t on t.characteristic_id = e.characteristic_id and t.number = e.to_number
           left join episode b on b.id = e.follows
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
        r#"select g.id, g.panel, g.rule as "rule: Json<Rule>", g.side, f.number as from_number, t.number as to_number,
                  g.raised_at, g.center, g.sigma, g.k, g.late, g.state, g.withdrawn_at, g.withdrawn_reason,
                  cl.name as "cleared_by?",
                  (select count(*) from sample s where s.characteristic_id = g.characteristic_id
                       and (s.taken_at, s.number) >= (f.taken_at, f.number)
                       and (s.taken_at, s.number) <= (t.taken_at, t.number) and not s.gap and not s.aside) as "points!"
           from signal g
           join sample f on f.id = g.from_sample join sample t on t.id = g.to_sample
           left join person cl on cl.id = g.cleared_by
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
            panel: word::value(row.panel)?,
            rule: row.rule.0,
            side: row.side.map(word::value).transpose()?,
            points: row.points.try_into().unwrap_or(usize::MAX),
            from_number: row.from_number,
            to_number: row.to_number,
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

pub(super) async fn answers(conn: &mut PgConnection, episode: Uuid) -> Result<Vec<AnswerView>, StoreError> {
    sqlx::query!(
        r#"select a.id, ap.name as person, a.at, a.cause_id, coalesce(k.name, a.cause_text) as cause, a.action,
                  a.comment, a.steps, a.held, array_agg(o.signal_id) as "signals!", r.review as "review?: Json<ReviewView>",
                  (select jsonb_build_object('dropped', n.dropped, 'sample',
                       (select s.number from sample s where s.characteristic_id = n.characteristic_id
                            and s.taken_at = n.starts_at order by s.number limit 1))
                   from planned_restart n where n.answer_id = a.id) as "corrected?: Json<CorrectedProcess>",
                  (select jsonb_agg(jsonb_build_object('id', f.id, 'name', f.name, 'kind', f.kind,
                       'bytes', length(f.content)) order by f.at, f.id)
                   from file f where f.answer_id = a.id) as "files?: Json<Vec<FileView>>",
                  (select jsonb_agg(jsonb_build_object('person', dp.name, 'at', d.at, 'comment', d.comment, 'files',
                       (select coalesce(jsonb_agg(jsonb_build_object('id', f.id, 'name', f.name, 'kind', f.kind,
                            'bytes', length(f.content)) order by f.at, f.id), '[]')
                        from file f where f.addition_id = d.id)) order by d.at)
                   from addition d join person dp on dp.id = d.person_id where d.answer_id = a.id)
                      as "additions?: Json<Vec<AdditionView>>"
           from signal g
           join answer_of o on o.signal_id = g.id
           join answer a on a.id = o.answer_id
           join person ap on ap.id = a.person_id
           left join cause k on k.id = a.cause_id
           left join lateral (
               select jsonb_build_object('person', rp.name, 'at', r.at, 'decision', r.decision, 'remark', r.remark,
                          'signature', sg.id, 'signed_at', sg.at) as review
               from review_of ro join review r on r.id = ro.review_id join person rp on rp.id = r.person_id
               left join signed d on d.review_id = r.id left join signature sg on sg.id = d.signature_id
               join signal rg on rg.id = ro.signal_id and rg.episode_id = $1
               where ro.answer_id = a.id order by r.at desc limit 1) r on true
           where g.episode_id = $1
           group by a.id, ap.name, a.at, a.cause_id, k.name, a.cause_text, a.action, a.comment, a.steps, a.held, r.review
           order by a.at"#,
        episode
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        Ok(AnswerView {
            id: row.id,
            person: row.person,
            at: row.at,
            cause_id: row.cause_id,
            cause: row.cause,
            action: row.action,
            comment: row.comment,
            steps: row.steps,
            held: row.held,
            corrected: row.corrected.map(|corrected| corrected.0),
            files: row.files.map(|files| files.0).unwrap_or_default(),
            additions: row.additions.map(|additions| additions.0).unwrap_or_default(),
            signals: row.signals,
            review: row.review.map(|review| review.0),
        })
    })
    .collect()
}

async fn unanswered_reviews(conn: &mut PgConnection, episode: Uuid) -> Result<Vec<ReviewView>, StoreError> {
    sqlx::query!(
        r#"select distinct r.at, rp.name as person, r.decision, r.remark, sg.id as "signature?", sg.at as "signed_at?"
           from signal g join review_of o on o.signal_id = g.id join review r on r.id = o.review_id
           join person rp on rp.id = r.person_id
           left join signed d on d.review_id = r.id left join signature sg on sg.id = d.signature_id
           where g.episode_id = $1 and o.answer_id is null order by r.at"#,
        episode
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        let decision = word::value(row.decision)?;
        let (remark, signature, signed_at) = (row.remark, row.signature, row.signed_at);
        Ok(ReviewView { person: row.person, at: row.at, decision, remark, signature, signed_at })
    })
    .collect()
}
