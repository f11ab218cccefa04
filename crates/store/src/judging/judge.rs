//! Judging one sample in its surroundings.

use chrono::{DateTime, Utc};
use quality::judging::{Change, StandingSignal, reconcile};
use quality::place::Place;
use sqlx::PgConnection;
use uuid::Uuid;

use super::again::{AT_ONCE, Judged};
use super::waiting::{Pending, put_off};
use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::news::News;
use crate::phases::{Phase, holding};
use crate::series::{SeriesPoint, Stretch, Window, around, fill_trial};
use crate::signals::{self, Basis, Because, Stands};
use crate::{StoreError, sums};

/// A sample that is new, or that something was said of.
pub(crate) struct Changed {
    pub sample: Uuid,
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    /// What is on the chart there now.
    pub place: Place,
    pub because: Because,
    /// Who did it.
    pub person: Uuid,
    /// It was saved before and is changed now, so what is found is found late.
    pub changed: bool,
}

/// What judging brought about.
#[derive(Debug, Default)]
pub(crate) struct Outcome {
    pub raised: Vec<Uuid>,
    pub grown: Vec<Uuid>,
    pub withdrawn: Vec<Uuid>,
}

/// Judges a sample against the limits that hold at its time, with the points whose rule windows
/// hold it.
pub(crate) async fn judge(
    act: &mut Act,
    setup: &CharacteristicView,
    mut phases: Vec<Phase>,
    it: Changed,
) -> Result<Outcome, StoreError> {
    let held = holding(&phases, it.taken_at);
    fill_trial(act.conn(), setup, &mut phases, held).await?;
    let Some(phase) = phases.get(held) else { return Ok(Outcome::default()) };
    let schemes = setup.schemes();
    let stretch = Stretch::of_phase(setup, &schemes, &phases, held);
    let scheme = schemes.holding(it.taken_at);
    let place = Place { scheme, ..it.place };
    let point = SeriesPoint { sample: Some(it.sample), taken_at: it.taken_at, number: it.number, place };
    let from = point.rank();
    let window = around(act.conn(), &stretch, phase.hold(), vec![point], AT_ONCE).await?;
    if schemes.get(scheme).keeps_sums() && window.points.len() - window.changed > AT_ONCE {
        // Too many points go on from its sums to judge them while somebody waits.
        let pending = Pending::<()>::Behind { taken_at: from.0, number: from.1, because: it.because };
        put_off(act, setup.id, &pending, (it.person, it.because.at), window.points.len()).await?;
    }
    let late = it.changed || window.is_late();
    let mut window = window;
    let (standing, changes) = reconciled(act.conn(), setup, &mut window).await?;
    write(act, setup, &Judged { phase: phase.clone(), window, standing, changes }, it.because, late).await
}

/// The signals that stand in a judged window, and what changes about them.
pub(super) async fn reconciled(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    window: &mut Window,
) -> Result<(Vec<Stands>, Vec<Change>), StoreError> {
    window.chart.signals.retain(|signal| setup.shows(signal.panel));
    let standing = signals::standing(conn, setup.id, window).await?;
    let as_seen: Vec<StandingSignal> = standing.iter().map(|stands| stands.as_seen).collect();
    let changes = reconcile(&window.judgement(&window.places()), &as_seen);
    Ok((standing, changes))
}

/// Writes what a judged window changes.
pub(crate) async fn write(
    act: &mut Act,
    setup: &CharacteristicView,
    judged: &Judged,
    because: Because,
    late: bool,
) -> Result<Outcome, StoreError> {
    let mut outcome = Outcome::default();
    let Judged { phase, window, standing, changes } = judged;
    let schemes = setup.schemes();
    let basis =
        Basis { characteristic: setup.id, limits: phase.limits, hold: phase.hold(), schemes: &schemes, late, because };
    for change in changes {
        let (signal, deed) = signals::apply(act.conn(), &basis, (window, standing), *change).await?;
        match change {
            Change::Raise { .. } | Change::TakeUp { .. } => outcome.raised.push(signal),
            Change::Grow { .. } => outcome.grown.push(signal),
            Change::Withdraw { .. } => outcome.withdrawn.push(signal),
            Change::Reshape { .. } => {}
        }
        act.did(setup.id, deed, News::Sample { characteristic: setup.id });
    }
    if schemes.get(window.points[window.changed].place.scheme).keeps_sums() {
        sums::keep(act.conn(), window).await?;
    }
    Ok(outcome)
}
