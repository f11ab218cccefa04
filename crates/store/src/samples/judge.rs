//! Judging a sample in its surroundings, within the transaction that saves or changes it.

use chrono::{DateTime, Utc};
use quality::judging::{Change, StandingSignal, reconcile};
use quality::limits::LimitsState;
use quality::sample::Plotted;
use uuid::Uuid;

use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::limits::fill_trial;
use crate::news::News;
use crate::phases::{Phase, holding};
use crate::window::{Stretch, WindowPoint, around};
use crate::{StoreError, signals};

/// A sample that is new, corrected or withdrawn.
pub(super) struct Changed {
    pub sample: Uuid,
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    /// What is plotted of it now.
    pub plotted: Plotted,
    /// What happened to it, as withdrawn signals say.
    pub because: &'static str,
    /// It was saved before and is changed now, so what is found is found late.
    pub changed: bool,
    /// Now.
    pub at: DateTime<Utc>,
}

/// What judging brought about.
#[derive(Default)]
pub(super) struct Outcome {
    pub raised: Vec<Uuid>,
    pub grown: Vec<Uuid>,
    pub withdrawn: Vec<Uuid>,
}

/// Judges a sample against the limits that hold at its time, with the points whose rule windows
/// hold it.
pub(super) async fn judge(
    act: &mut Act,
    setup: &CharacteristicView,
    mut phases: Vec<Phase>,
    it: Changed,
) -> Result<Outcome, StoreError> {
    let characteristic = &setup.characteristic;
    let held = holding(&phases, it.taken_at);
    fill_trial(act.conn(), (setup.id, characteristic), &mut phases, held).await?;
    let mut outcome = Outcome::default();
    let Some(phase) = phases.get(held) else { return Ok(outcome) };
    let figures = phase.figures();
    let stretch = Stretch::of_phase(setup.id, characteristic.kind, &phases, held);
    let point = WindowPoint { sample: Some(it.sample), taken_at: it.taken_at, number: it.number, plotted: it.plotted };
    let mut window = around(act.conn(), characteristic, &stretch, figures.as_ref(), point).await?;
    window.chart.signals.retain(|signal| setup.shows(signal.panel));
    let standing = signals::standing(act.conn(), setup.id, &window).await?;
    let basis = signals::Basis {
        characteristic: setup.id,
        limits: phase.limits,
        figures,
        trial: phase.state == LimitsState::Trial,
        late: it.changed || window.is_late(),
        because: it.because,
        at: it.at,
    };
    let as_seen: Vec<StandingSignal> = standing.iter().map(|stands| stands.as_seen).collect();
    for change in reconcile(&window.chart, window.changed, &as_seen) {
        let (signal, deed) = signals::apply(act.conn(), &basis, (&window, &standing), it.sample, change).await?;
        match change {
            Change::Raise { .. } => outcome.raised.push(signal),
            Change::Grow { .. } => outcome.grown.push(signal),
            Change::Withdraw { .. } => outcome.withdrawn.push(signal),
            Change::Reshape { .. } => {}
        }
        act.did(setup.id, deed, News::Sample { characteristic: setup.id });
    }
    Ok(outcome)
}
