//! Judging one sample in its surroundings.

use chrono::{DateTime, Utc};
use quality::place::Place;
use quality::signal::FoundBy;
use uuid::Uuid;

use super::judged::{How, Judged, Outcome, reconciled, write};
use super::waiting::{AT_ONCE, Pending, put_off};
use crate::StoreError;
use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::phases::{Phase, holding};
use crate::series::{Beside, SeriesPoint, Stretch, around, fill_trial};
use crate::signals::Because;

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
    /// What lies beside it, where that was read with it.
    pub beside: Option<Beside>,
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
    let window = around(act.conn(), &stretch, phase.hold(), vec![point], AT_ONCE, it.beside).await?;
    if schemes.get(scheme).keeps_sums() && window.points.len() - window.changed > AT_ONCE {
        // Too many points go on from its sums to judge them while somebody waits.
        let pending = Pending::<()>::Behind { taken_at: from.0, number: from.1, because: it.because };
        put_off(act, setup.id, &pending, (it.person, it.because.at), window.points.len()).await?;
    }
    let late = it.changed || window.is_late();
    let mut window = window;
    let (standing, changes) = reconciled(act.conn(), setup, &mut window).await?;
    let judged = Judged { phase: phase.clone(), held, window, standing, changes };
    write(act, setup, &phases, &judged, How { because: it.because, found: FoundBy::Sample, late }).await
}
