//! Trial limits, which move with every point.

use quality::limits::{LimitsState, TRIAL_POINTS_AT_MOST, trial};
use quality::place::Place;
use sqlx::PgConnection;

use super::rows::Stretch;
use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::once::compiled_once;
use crate::phases::Phase;

/// Computes the trial limits of one phase from its points as they are now; others are left alone.
#[compiled_once]
pub async fn fill_trial(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    phases: &mut [Phase],
    held: usize,
) -> Result<(), StoreError> {
    if phases.get(held).is_none_or(|phase| phase.state != LimitsState::Trial) {
        return Ok(());
    }
    let schemes = setup.schemes();
    let points = Stretch::of_phase(setup, &schemes, phases, held).before(conn, None, TRIAL_POINTS_AT_MOST).await?;
    let places: Vec<Place> = points.into_iter().map(|point| point.place).collect();
    let found = trial(&setup.characteristic, &places);
    phases[held].figures = found.map(|found| found.figures);
    phases[held].baseline = found.map(|found| found.baseline);
    Ok(())
}
