//! The laboratory as it is looked at.

use chrono::{DateTime, Utc};
use quality::object::ObjectKind;
use quality::run::{Outcome, RunSteps, Stage};
use serde::{Deserialize, Serialize};
use spc::multirule::Verdict;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::bench::{Analyte, AnalyteJudgement, analytes};
use crate::once::compiled_once;
use crate::{StoreError, word};

/// Runs that a bench shows, the newest first.
const RUNS_SHOWN: i64 = 30;

/// A station of the laboratory.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Bench {
    pub station: Uuid,
    pub name: String,
    /// What is determined there, in order.
    pub analytes: Vec<Analyte>,
    /// Its latest runs, newest first.
    pub runs: Vec<RunView>,
}

/// A run.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct RunView {
    pub id: Uuid,
    /// The bench.
    pub station: Uuid,
    /// Its number at the bench.
    pub number: i64,
    /// When it was measured.
    pub taken_at: DateTime<Utc>,
    /// When it reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Who entered it.
    pub person: String,
    /// Identity of who entered it.
    pub person_id: Uuid,
    /// Analytes and their levels that it did not measure: it is not accepted by itself then.
    pub missing: Vec<String>,
    /// By the rules.
    pub verdict: Verdict,
    /// By the rules and what is missing.
    pub outcome: Outcome,
    /// What whoever asks may do with it.
    pub steps: RunSteps,
    /// By analyte.
    pub judgements: Vec<AnalyteJudgement>,
    /// What a correction after the release makes of the verdict.
    pub verdict_since: Option<Verdict>,
    /// The run that it repeats.
    pub repeats: Option<RunRef>,
    /// The run that repeats it.
    pub repeated_by: Option<RunRef>,
    /// Its rejection was overridden.
    pub overridden: Option<RunDeed>,
    /// It was released.
    pub released: Option<RunDeed>,
    /// It was marked as reviewed, as it is now.
    pub reviewed: Option<RunDeed>,
    /// What was done about its results, oldest first.
    pub actions: Vec<RunActionView>,
    /// Counts its changes.
    pub version: i32,
}

/// Another run.
#[derive(Debug, Clone, Copy, Serialize, Deserialize, ToSchema)]
pub struct RunRef {
    pub id: Uuid,
    /// Its number at the bench.
    pub number: i64,
}

/// What a person did with a run.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct RunDeed {
    pub at: DateTime<Utc>,
    pub person: String,
    pub because: Option<String>,
}

/// What was done about a result, or about a run.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct RunActionView {
    /// The level it is about; the whole run where there is none.
    pub characteristic: Option<Uuid>,
    pub person: String,
    pub at: DateTime<Utc>,
    pub text: String,
}

/// Which runs to list; what is left out does not narrow them.
#[derive(Debug, Clone, Copy, Default)]
pub struct RunFilter {
    /// Only of this bench.
    pub station: Option<Uuid>,
    /// Only this one.
    pub id: Option<Uuid>,
    /// Only those that wait for a review, or only those that were reviewed.
    pub reviewed: Option<bool>,
    /// Only those behind this one: its time, number and id.
    pub behind: Option<(DateTime<Utc>, i64, Uuid)>,
}

/// Every bench with its analytes and latest runs, as `viewer` may go on with them.
#[compiled_once]
pub async fn benches(pool: &PgPool, viewer: Uuid) -> Result<Vec<Bench>, StoreError> {
    let mut conn = pool.acquire().await?;
    let stations = sqlx::query!(
        "select id, name from station s where exists (select from analyte where station_id = s.id) order by place, name"
    )
    .fetch_all(&mut *conn)
    .await?;
    let mut benches = Vec::with_capacity(stations.len());
    for station in stations {
        let analytes = analytes(&mut conn, station.id).await?;
        let filter = RunFilter { station: Some(station.id), ..RunFilter::default() };
        let runs = runs(&mut conn, viewer, filter, RUNS_SHOWN).await?;
        benches.push(Bench { station: station.id, name: station.name, analytes, runs });
    }
    Ok(benches)
}

/// The run with this id, as `viewer` may go on with it.
#[compiled_once]
pub async fn find(pool: &PgPool, viewer: Uuid, id: Uuid) -> Result<RunView, StoreError> {
    let mut conn = pool.acquire().await?;
    let filter = RunFilter { id: Some(id), ..RunFilter::default() };
    runs(&mut conn, viewer, filter, 1).await?.pop().ok_or(StoreError::Missing(ObjectKind::Run))
}

/// What a run did not measure, in words.
fn missing(judgements: &[AnalyteJudgement]) -> Vec<String> {
    judgements.iter().flat_map(|of| of.missing.iter().map(|level| format!("{}, {level}", of.name))).collect()
}

/// Runs, newest first, at most `most`, as `viewer` may go on with them.
#[compiled_once]
pub async fn list(pool: &PgPool, viewer: Uuid, filter: RunFilter, most: i64) -> Result<Vec<RunView>, StoreError> {
    runs(&mut *pool.acquire().await?, viewer, filter, most).await
}

async fn runs(conn: &mut PgConnection, viewer: Uuid, filter: RunFilter, most: i64) -> Result<Vec<RunView>, StoreError> {
    let (behind_at, behind_number, behind_id) =
        filter.behind.map_or((None, None, None), |(at, number, id)| (Some(at), Some(number), Some(id)));
    let act = |at: Option<DateTime<Utc>>, person: Option<String>, because| {
        at.zip(person).map(|(at, person)| RunDeed { at, person, because })
    };
    let other = |id: Option<Uuid>, number: Option<i64>| id.zip(number).map(|(id, number)| RunRef { id, number });
    sqlx::query!(
        r#"select r.id, r.station_id, r.number, r.taken_at, r.arrived_at, p.name as person, r.person_id, r.verdict, r.verdict_since,
                  r.judgements as "judgements: Json<Vec<AnalyteJudgement>>", r.version,
                  first.id as "first?", first.number as "first_number?", again.id as "again?",
                  again.number as "again_number?",
                  r.overridden_at, o.name as "overridden_by?", r.overridden_because, r.released_at,
                  e.name as "released_by?", v.at as "reviewed_at?", v.name as "reviewed_by?", v.remark as "review_remark?",
                  (select coalesce(jsonb_agg(jsonb_build_object('characteristic', a.characteristic_id, 'person', w.name,
                       'at', a.at, 'text', a.text) order by a.at, a.id), '[]')
                   from run_action a join person w on w.id = a.person_id where a.run_id = r.id)
                      as "actions!: Json<Vec<RunActionView>>"
           from run r
           join person p on p.id = r.person_id
           left join person o on o.id = r.overridden_by
           left join person e on e.id = r.released_by
           left join run first on first.id = r.repeats
           left join run again on again.repeats = r.id
           left join lateral (
               select x.at, w.name, x.remark from run_review x join person w on w.id = x.person_id
               where x.run_id = r.id and x.version = r.version) v on true
           where ($1::uuid is null or r.station_id = $1) and ($2::uuid is null or r.id = $2)
             and ($3::bool is null or (v.at is not null) = $3)
             and ($4::timestamptz is null or (r.taken_at, r.number, r.id) < ($4, $5, $6))
           order by r.taken_at desc, r.number desc, r.id desc limit $7"#,
        filter.station,
        filter.id,
        filter.reviewed,
        behind_at,
        behind_number,
        behind_id,
        most
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        let judgements: Vec<AnalyteJudgement> = row.judgements.0.into_iter().map(AnalyteJudgement::summed_up).collect();
        let (missing, verdict) = (missing(&judgements), word::value(row.verdict)?);
        let stage = Stage {
            verdict,
            incomplete: !missing.is_empty(),
            ran_by: row.person_id,
            overridden: row.overridden_at.is_some(),
            released: row.released_at.is_some(),
            repeated: row.again.is_some(),
        };
        Ok(RunView {
            id: row.id,
            station: row.station_id,
            number: row.number,
            taken_at: row.taken_at,
            arrived_at: row.arrived_at,
            person: row.person,
            person_id: row.person_id,
            outcome: Outcome::of(verdict, !missing.is_empty()),
            steps: stage.steps(viewer),
            missing,
            verdict,
            judgements,
            verdict_since: row.verdict_since.map(word::value).transpose()?,
            repeats: other(row.first, row.first_number),
            repeated_by: other(row.again, row.again_number),
            overridden: act(row.overridden_at, row.overridden_by, row.overridden_because),
            released: act(row.released_at, row.released_by, None),
            reviewed: act(row.reviewed_at, row.reviewed_by, row.review_remark),
            actions: row.actions.0,
            version: row.version,
        })
    })
    .collect()
}
