//! Judging runs by the multirule.

use quality::object::ObjectKind;
use std::collections::BTreeMap;

use chrono::{DateTime, Utc};
use quality::analyte::Assigned;
use quality::run::{Judgement, Outcome, RUNS_LOOKED_AT, judge};
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::json;
use spc::multirule::Verdict;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::analytes::{Analyte, Level, analytes};
use super::assigned::Assignments;
use crate::act::Act;
use crate::episodes::gathered_in_runs;
use crate::news::News;
use crate::once::compiled_once;
use crate::signals::{Because, RunFindings, RunPlace, reconcile_run};
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// What the rules say about one analyte of a run, and what they said it about.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct AnalyteJudgement {
    pub analyte: Uuid,
    pub name: String,
    /// Verdict and findings.
    #[serde(flatten)]
    pub judgement: Judgement,
    /// By its verdict and what is missing.
    #[serde(default)]
    #[schema(required)]
    pub outcome: Outcome,
    /// The results that were judged.
    pub results: Vec<JudgedResult>,
    /// Levels that the run did not measure.
    #[serde(default)]
    #[schema(required)]
    pub missing: Vec<String>,
}

impl AnalyteJudgement {
    /// With its outcomes, which older ones were stored without.
    pub(crate) fn summed_up(mut self) -> Self {
        let Self { judgement, results, .. } = &mut self;
        for result in results {
            let broken = judgement.findings.iter().filter(|finding| finding.levels.contains(&result.level));
            let worst = broken.map(|finding| finding.rule.verdict()).max();
            result.outcome = worst.map_or(Outcome::Accepted, |verdict| Outcome::of(verdict, false));
        }
        self.outcome = Outcome::of(self.judgement.verdict, !self.missing.is_empty());
        self
    }
}

/// A result as it was judged.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct JudgedResult {
    /// The level's characteristic.
    pub characteristic: Uuid,
    /// The level's name.
    pub level: String,
    /// The result.
    pub value: f64,
    /// (result − mean)/sd; nothing while the level has neither.
    pub z: Option<f64>,
    /// By the sharpest rule that it breaks.
    #[serde(default)]
    #[schema(required)]
    pub outcome: Outcome,
}

/// Results of one run by level.
type Results = BTreeMap<Uuid, JudgedResult>;

/// Results of the latest runs that measured an analyte, up to and including one at `(at, number)`,
/// oldest first.
async fn results(
    conn: &mut PgConnection,
    station: Uuid,
    analyte: &Analyte,
    (at, number): (DateTime<Utc>, i64),
    most: usize,
) -> Result<Vec<Results>, StoreError> {
    let levels: Vec<Uuid> = analyte.judged().map(|level| level.characteristic).collect();
    let assigned = Assignments::of(conn, &levels).await?;
    let rows = sqlx::query!(
        r#"select r.id as run, s.characteristic_id, s.taken_at, v.name, s.readings[1] as "value!"
           from (select id, taken_at, number from run
                 where station_id = $1 and (taken_at, number) <= ($2, $3)
                   and exists (select from sample s join level v on v.characteristic_id = s.characteristic_id
                               where s.run_id = run.id and v.analyte_id = $4 and v.beside is null)
                 order by taken_at desc, number desc limit $5) r
           join sample s on s.run_id = r.id and not s.gap
           join level v on v.characteristic_id = s.characteristic_id and v.analyte_id = $4 and v.beside is null
           order by r.taken_at, r.number, v.place"#,
        station,
        at,
        number,
        analyte.id,
        most as i64
    )
    .fetch_all(conn)
    .await?;
    let mut runs: Vec<Results> = Vec::new();
    let mut of = None;
    for row in rows {
        if of.replace(row.run) != Some(row.run) {
            runs.push(Results::new());
        }
        let outcome = Outcome::default();
        let z = assigned.at(row.characteristic_id, row.taken_at).map(|assigned| assigned.z(row.value));
        let judged =
            JudgedResult { characteristic: row.characteristic_id, level: row.name, value: row.value, z, outcome };
        if let Some(run) = runs.last_mut() {
            run.insert(judged.characteristic, judged);
        }
    }
    Ok(runs)
}

/// Judges the last of some runs.
fn judged(analyte: &Analyte, runs: &[Results]) -> Result<AnalyteJudgement, StoreError> {
    let levels: Vec<String> = analyte.judged().map(|level| level.name.clone()).collect();
    let z = |run: &Results| analyte.judged().map(|l| run.get(&l.characteristic)?.z).collect();
    let judgement = judge(&levels, &analyte.rules, &runs.iter().map(z).collect::<Vec<_>>())?;
    let of_run = |run: &Results| analyte.judged().filter_map(|l| run.get(&l.characteristic).cloned()).collect();
    let results: Vec<JudgedResult> = runs.last().map(of_run).unwrap_or_default();
    let measured = |level: &&Level| results.iter().any(|r| r.characteristic == level.characteristic);
    let missing = analyte.judged().filter(|level| !measured(level)).map(|level| level.name.clone()).collect();
    let outcome = Outcome::default();
    let judged =
        AnalyteJudgement { analyte: analyte.id, name: analyte.name.clone(), judgement, outcome, results, missing };
    Ok(judged.summed_up())
}

/// What a run at `at` with these results would be judged; nothing is stored.
#[compiled_once]
pub async fn foresee(
    pool: &PgPool,
    station: Uuid,
    at: DateTime<Utc>,
    values: &BTreeMap<Uuid, f64>,
) -> Result<Vec<AnalyteJudgement>, StoreError> {
    let mut conn = pool.acquire().await?;
    let mut judgements = Vec::new();
    for analyte in analytes(&mut conn, station).await? {
        let typed: Results = analyte
            .judged()
            .filter_map(|level| {
                let value = *values.get(&level.characteristic)?;
                let outcome = Outcome::default();
                let z = level.mean.zip(level.sd).map(|(mean, sd)| Assigned { mean, sd }.z(value));
                let judged =
                    JudgedResult { characteristic: level.characteristic, level: level.name.clone(), value, z, outcome };
                Some((level.characteristic, judged))
            })
            .collect();
        if typed.is_empty() {
            continue;
        }
        let mut runs = results(&mut conn, station, &analyte, (at, i64::MAX), RUNS_LOOKED_AT - 1).await?;
        runs.push(typed);
        judgements.push(judged(&analyte, &runs)?);
    }
    Ok(judgements)
}

/// Where the results of the last of some runs are, and which of the runs measured each level.
fn places(judged: &AnalyteJudgement, runs: &[Results]) -> Vec<RunPlace> {
    let place = |result: &JudgedResult| RunPlace {
        level: result.level.clone(),
        characteristic: result.characteristic,
        z: result.z,
        measured: runs.iter().rev().map(|run| run.contains_key(&result.characteristic)).collect(),
    };
    judged.results.iter().map(place).collect()
}

/// The worst of some verdicts.
fn worst(judgements: &[AnalyteJudgement]) -> Verdict {
    judgements.iter().map(|j| j.judgement.verdict).max().unwrap_or(Verdict::Accepted)
}

/// Judges an analyte in the runs from one on that its rules can reach; a run that was released keeps
/// its verdict, and what it would be now stands beside it.
pub(crate) async fn judge_again(
    act: &mut Act,
    station: Uuid,
    analyte: Uuid,
    from: (DateTime<Utc>, i64),
    because: Because,
) -> Result<(), StoreError> {
    let all = analytes(act.conn(), station).await?;
    let analyte = all.into_iter().find(|a| a.id == analyte).ok_or(StoreError::Missing(ObjectKind::Analyte))?;
    let runs = sqlx::query!(
        r#"select id, taken_at, number, verdict, verdict_since, judgements as "judgements: Json<Vec<AnalyteJudgement>>",
                  released_at is not null as "released!"
           from run
           where station_id = $1 and (taken_at, number) >= ($2, $3)
             and exists (select from sample s join level v on v.characteristic_id = s.characteristic_id
                         where s.run_id = run.id and v.analyte_id = $4 and v.beside is null)
           order by taken_at, number limit $5 for no key update"#,
        station,
        from.0,
        from.1,
        analyte.id,
        RUNS_LOOKED_AT as i64
    )
    .fetch_all(act.conn())
    .await?;
    let among_others = runs.len() > 1;
    for run in runs {
        let looked_at = results(act.conn(), station, &analyte, (run.taken_at, run.number), RUNS_LOOKED_AT).await?;
        let mut judgements = run.judgements.0;
        let now = judged(&analyte, &looked_at)?;
        if !run.released {
            let (analyte, judgement) = (analyte.id, &now.judgement);
            let findings = RunFindings { run: run.id, analyte, judgement, late: among_others, because };
            let changed = reconcile_run(act, &findings, &places(&now, &looked_at)).await?;
            gathered_in_runs(act, &changed, because.at).await?;
        }
        match judgements.iter_mut().find(|j| j.analyte == analyte.id) {
            Some(before) => *before = now,
            None => judgements.push(now),
        }
        let verdict = word::word(worst(&judgements))?;
        if run.released {
            let since = (verdict != run.verdict).then_some(verdict);
            if since != run.verdict_since {
                sqlx::query!("update run set verdict_since = $2, version = version + 1 where id = $1", run.id, since)
                    .execute(act.conn())
                    .await?;
            }
            continue;
        }
        sqlx::query!(
            "update run set verdict = $2, judgements = $3, version = version + 1 where id = $1",
            run.id,
            verdict,
            serde_json::to_value(&judgements)?
        )
        .execute(act.conn())
        .await?;
        // The run that is just being saved says its verdict itself.
        if verdict != run.verdict && (run.taken_at, run.number) != from {
            let detail = json!({"number": run.number, "old": run.verdict, "new": verdict});
            let deed = Deed::new(because.at, None, Action::RunJudgedAgain, run.id, &detail);
            act.did(SITE_CHAIN, deed, News::Run { station });
        }
    }
    Ok(())
}
