//! What is usual of a reading, from the limits that hold or from what was recorded.

use quality::entry::{Recorded, Usual};
use quality::limits::{LimitsState, TRIAL_POINTS_AT_MOST};
use sqlx::{PgConnection, PgPool};

use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::once::compiled_once;
use crate::phases::{Phase, phases};

/// The readings that are usual of a characteristic. It looks no farther back than trial limits do.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn usual(pool: &PgPool, setup: &CharacteristicView) -> Result<Usual, StoreError> {
    let conn = &mut *pool.acquire().await?;
    let phases = phases(conn, setup.id).await?;
    usual_now(conn, setup, &phases).await
}

/// The same, where the phases are at hand.
pub(super) async fn usual_now(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    phases: &[Phase],
) -> Result<Usual, StoreError> {
    if let Some(set) = Usual::set(&setup.characteristic) {
        return Ok(set);
    }
    let in_force = phases.last().filter(|phase| phase.state == LimitsState::InForce);
    if let Some(usual) = in_force.and_then(|phase| phase.figures.as_ref()).and_then(Usual::by_limits) {
        return Ok(usual);
    }
    // Readings of different parts say nothing of one another.
    if !setup.characteristic.parts.is_empty() {
        return Ok(Usual::EVERYTHING);
    }
    let recorded = sqlx::query!(
        r#"select min(x) as least, max(x) as most, count(x) as "readings!"
           from (select readings from sample where characteristic_id = $1 and not gap
                 order by taken_at desc, number desc limit $2) s, unnest(s.readings) x"#,
        setup.id,
        TRIAL_POINTS_AT_MOST as i64
    )
    .fetch_one(conn)
    .await?;
    let readings = usize::try_from(recorded.readings).unwrap_or_default();
    let span = recorded.least.zip(recorded.most);
    Ok(Usual::by_recorded(span.map(|(least, most)| Recorded { least, most, readings })))
}
