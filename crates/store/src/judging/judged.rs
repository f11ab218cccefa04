//! A stretch that was judged: what changes about its signals, and writing that.

use quality::judging::{Change, StandingSignal, reconcile};
use sqlx::PgConnection;
use uuid::Uuid;

use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::news::News;
use crate::phases::Phase;
use crate::series::Window;
use crate::signals::{self, Basis, Because, Stands};
use crate::{StoreError, sums};

/// A stretch that was judged.
pub(crate) struct Judged {
    pub phase: Phase,
    /// Its place among the phases.
    pub held: usize,
    pub window: Window,
    pub standing: Vec<Stands>,
    pub changes: Vec<Change>,
}

/// What judging brought about.
#[derive(Debug, Default)]
pub(crate) struct Outcome {
    pub raised: Vec<Uuid>,
    pub grown: Vec<Uuid>,
    pub withdrawn: Vec<Uuid>,
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
    let Judged { phase, window, standing, changes, .. } = judged;
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
