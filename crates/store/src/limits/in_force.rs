//! Putting limits in force.

use chrono::{DateTime, Utc};
use quality::limits::{Figures, LimitsRefusal, TRIAL_POINTS_AT_LEAST};
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use super::trial::fill_trial;
use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::phases::phases;

/// Puts limits of a phase in force: as its trial limits are now, or as they are given.
///
/// # Errors
/// When there is no such phase, its limits are in force already, or too few points make trial limits.
pub async fn put_in_force(
    pool: &PgPool,
    characteristic: Uuid,
    phase: Uuid,
    given: Option<Figures>,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    let setup = act.take(characteristic).await?;
    let mut phases = phases(act.conn(), characteristic).await?;
    let place = phases.iter().position(|p| p.id == phase).ok_or(StoreError::Missing(ObjectKind::Phase))?;
    if given.is_none() {
        fill_trial(act.conn(), (characteristic, &setup.characteristic), &mut phases, place).await?;
    }
    let held = &phases[place];
    let few = LimitsRefusal::TooFewPoints { needed: TRIAL_POINTS_AT_LEAST };
    let figures = given.or_else(|| held.figures()).ok_or(few)?;
    let used = held.used.filter(|_| given.is_none());
    let frozen = sqlx::query!(
        "update limits set state = 'in_force', center = $2, sigma = $3, k = $4, used = $5, put_in_force_at = $6,
             put_in_force_by = $7
         where id = $1 and state = 'trial'",
        held.limits,
        figures.center,
        figures.sigma,
        figures.k,
        used.and_then(|used| i32::try_from(used).ok()),
        at,
        person
    )
    .execute(act.conn())
    .await?;
    if frozen.rows_affected() == 0 {
        return Err(LimitsRefusal::NotOnTrial.into());
    }
    let detail = json!({"phase": held.name, "center": figures.center, "sigma": figures.sigma, "k": figures.k,
                        "used": used});
    let deed = Deed::new(at, Some(person), Action::LimitsPutInForce, held.limits, &detail);
    act.did(characteristic, deed, News::Limits { characteristic });
    act.commit().await
}
