//! Can this chart be trusted?

use quality::place::Place;
use quality::trust::{TrustView, check};
use sqlx::PgPool;
use uuid::Uuid;

use super::types::POINTS_AT_MOST;
use crate::once::compiled_once;
use crate::phases::phases;
use crate::series::Stretch;
use crate::{StoreError, characteristics};

/// Checks the latest phase of a characteristic, at most its latest 2000 points; nothing while there is no point.
#[compiled_once]
pub async fn trust(pool: &PgPool, id: Uuid) -> Result<Option<TrustView>, StoreError> {
    let mut conn = pool.acquire().await?;
    let setup = characteristics::find(&mut *conn, id).await?;
    let phases = phases(&mut conn, id).await?;
    let Some(held) = phases.len().checked_sub(1) else { return Ok(None) };
    let schemes = setup.schemes();
    let stretch = Stretch::of_phase(&setup, &schemes, &phases, held);
    let points = stretch.before(&mut conn, None, POINTS_AT_MOST as usize).await?;
    let places: Vec<Place> = points.into_iter().map(|point| point.place).collect();
    if !places.iter().any(Place::counts) {
        return Ok(None);
    }
    Ok(Some(check(&setup.characteristic, &places, phases[held].figures)?))
}
