//! Signals that the judgement of a laboratory run raises: each rule that rejects it, on each level that breaks it.

use quality::object::ObjectKind;
use quality::run::{Judgement, RunSignal};
use quality::signal::{Broken, FoundBy, SignalState};
use quality::trail::{Action, Deed};
use serde_json::json;
use spc::rules::Side;
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use super::basis::{Because, End};
use super::raise::{take_up, withdraw};
use crate::act::Act;
use crate::news::News;
use crate::phases::{holding, phases};
use crate::{StoreError, characteristics, sites, word};

/// A run as it was judged for an analyte.
pub(crate) struct RunFindings<'a> {
    pub run: Uuid,
    pub analyte: Uuid,
    pub judgement: &'a Judgement,
    /// It had its place among later runs, or was judged again.
    pub late: bool,
    pub because: Because,
}

/// A result of the run: the level it is of, and where.
pub(crate) struct RunPlace {
    pub level: String,
    pub characteristic: Uuid,
    /// (result − mean)/sd.
    pub z: Option<f64>,
    /// Whether each run measured it, this one and those before it, the newest first.
    pub measured: Vec<bool>,
}

struct Standing {
    id: Uuid,
    characteristic: Uuid,
    rule: Broken,
    withdrawn: bool,
    state: SignalState,
}

/// Brings the signals of a run in line with what it was judged; gives those that changed. What was reviewed stays as
/// it was seen.
pub(crate) async fn reconcile_run(
    act: &mut Act,
    findings: &RunFindings<'_>,
    places: &[RunPlace],
) -> Result<Vec<(Uuid, Uuid)>, StoreError> {
    let because = findings.because;
    let standing = standing(act.conn(), findings).await?;
    let mut kept: Vec<Uuid> = Vec::new();
    let mut changed: Vec<(Uuid, Uuid)> = Vec::new();
    let mut done = Vec::new();
    for signal in findings.judgement.signals() {
        let Some(place) = places.iter().find(|place| place.level == signal.level) else { continue };
        let at = sample_of(act.conn(), findings.run, place.characteristic).await?;
        let before = standing
            .iter()
            .find(|before| (before.characteristic, before.rule) == (place.characteristic, signal.rule.into()));
        match before {
            Some(before) => {
                kept.push(before.id);
                if before.withdrawn && before.state != SignalState::Reviewed {
                    let from = begins(act.conn(), place, at, signal.reach).await?;
                    let deed = take_up(act.conn(), before.id, (from, at, at), because).await?;
                    done.push((place.characteristic, before.id, deed));
                }
            }
            None => {
                let (id, deed) = raise(act, findings, place, (&signal, at)).await?;
                done.push((place.characteristic, id, deed));
            }
        }
    }
    for gone in &standing {
        if !gone.withdrawn && gone.state != SignalState::Reviewed && !kept.contains(&gone.id) {
            done.push((gone.characteristic, gone.id, withdraw(act.conn(), gone.id, None, None, because).await?));
        }
    }
    for (characteristic, id, deed) in done {
        act.did(characteristic, deed, News::Sample { characteristic, added: None });
        changed.push((characteristic, id));
    }
    Ok(changed)
}

/// Those that its judgement has raised so far.
async fn standing(conn: &mut PgConnection, findings: &RunFindings<'_>) -> Result<Vec<Standing>, StoreError> {
    sqlx::query!(
        r#"select g.id, g.characteristic_id, g.rule as "rule: Json<Broken>", g.withdrawn_at is not null as "withdrawn!",
                  g.state
           from signal g join level v on v.characteristic_id = g.characteristic_id
           where g.run_id = $1 and v.analyte_id = $2 order by g.raised_at, g.id"#,
        findings.run,
        findings.analyte
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        let (id, characteristic, withdrawn) = (row.id, row.characteristic_id, row.withdrawn);
        Ok(Standing { id, characteristic, rule: row.rule.0, withdrawn, state: word::value(row.state)? })
    })
    .collect()
}

/// The result of a level in a run.
async fn sample_of(conn: &mut PgConnection, run: Uuid, characteristic: Uuid) -> Result<End, StoreError> {
    let found = sqlx::query_as!(
        End,
        "select id as sample, taken_at from sample where run_id = $1 and characteristic_id = $2 and not gap",
        run,
        characteristic
    );
    found.fetch_optional(conn).await?.ok_or(StoreError::Missing(ObjectKind::Sample))
}

/// The first result of a pattern that ends `at`.
async fn begins(conn: &mut PgConnection, place: &RunPlace, at: End, reach: usize) -> Result<Uuid, StoreError> {
    let results = place.measured.iter().take(reach + 1).filter(|measured| **measured).count();
    let first = sqlx::query_scalar!(
        "select id from sample where characteristic_id = $1 and not gap and taken_at <= $2
         order by taken_at desc, number desc limit 1 offset $3",
        place.characteristic,
        at.taken_at,
        results.saturating_sub(1) as i64
    );
    Ok(first.fetch_optional(conn).await?.unwrap_or(at.sample))
}

fn without_figures() -> StoreError {
    StoreError::Corrupt("a run that was judged without figures".into())
}

async fn raise(
    act: &mut Act,
    findings: &RunFindings<'_>,
    place: &RunPlace,
    (signal, at): (&RunSignal<'_>, End),
) -> Result<(Uuid, Deed), StoreError> {
    let because = findings.because;
    let characteristic = place.characteristic;
    let phases = phases(act.conn(), characteristic).await?;
    let phase = phases.get(holding(&phases, at.taken_at)).ok_or_else(without_figures)?;
    let hold = phase.hold();
    let figures = hold.figures.ok_or_else(without_figures)?;
    let center = figures.center.ok_or_else(without_figures)?;
    let k = characteristics::find(act.conn(), characteristic).await?.characteristic.k;
    let from = begins(act.conn(), place, at, signal.reach).await?;
    let shift_began = sites::calendar(act.conn()).await?.at(because.at).map(|turn| turn.began);
    let state = SignalState::of_new(FoundBy::Sample, at.taken_at, shift_began);
    let side = place.z.map(|z| if z < 0.0 { Side::Below } else { Side::Above });
    let rule = Broken::from(signal.rule);
    let panel = spc::chart::Statistic::Individual;
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into signal (id, characteristic_id, panel, rule, side, from_sample, at_sample, to_sample, at_taken_at,
             to_taken_at, raised_at, limits_id, center, sigma, k, trial, late, state, found_late, run_id)
         values ($1, $2, $3, $4, $5, $6, $7, $7, $8, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18)",
        id,
        characteristic,
        word::word(panel)?,
        serde_json::to_value(rule)?,
        side.map(word::word).transpose()?,
        from,
        at.sample,
        at.taken_at,
        because.at,
        phase.limits,
        center,
        figures.sigma,
        k,
        hold.trial,
        findings.late,
        word::word(state)?,
        state == SignalState::FoundLate,
        findings.run
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"panel": panel, "rule": rule, "side": side, "sample": because.sample, "run": findings.run,
                        "center": center, "sigma": figures.sigma, "trial": hold.trial,
                        "late": findings.late, "state": state});
    Ok((id, Deed::new(because.at, None, Action::SignalRaised, id, &detail)))
}
