//! Trial limits, which move with every point.

use quality::characteristic::Characteristic;
use quality::limits::{LimitsState, TRIAL_POINTS_AT_MOST, trial};
use quality::sample::points;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::phases::Phase;
use crate::window::Stretch;

/// Computes the trial limits of one phase from its points as they are now; others are left alone.
pub async fn fill_trial(
    conn: &mut PgConnection,
    (id, characteristic): (Uuid, &Characteristic),
    phases: &mut [Phase],
    held: usize,
) -> Result<(), StoreError> {
    if phases.get(held).is_none_or(|phase| phase.state != LimitsState::Trial) {
        return Ok(());
    }
    let places =
        Stretch::of_phase(id, characteristic.kind, phases, held).before(conn, None, TRIAL_POINTS_AT_MOST).await?;
    let phase = &mut phases[held];
    let places = places.iter().map(|point| &point.plotted);
    if let Some((figures, used)) = trial(characteristic, points(characteristic.kind, places), phase.k) {
        phase.center = Some(figures.center);
        phase.sigma = figures.sigma;
        phase.used = used.try_into().ok();
    }
    Ok(())
}
