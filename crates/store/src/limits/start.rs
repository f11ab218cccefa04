//! Starting a phase.

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use quality::limits::SigmaSource;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use crate::act::Act;
use crate::news::News;
use crate::{StoreError, word};

/// Multiplier of sigma for new limits.
const K: f64 = 3.0;

/// A phase to start.
#[derive(Debug, Clone, Copy)]
pub(crate) struct NewPhase<'a> {
    pub characteristic: Uuid,
    pub name: &'a str,
    /// From which sample time it holds.
    pub starts_at: DateTime<Utc>,
}

/// Starts a phase on trial limits.
///
/// # Errors
/// When there is no such characteristic.
pub async fn start_phase(
    pool: &PgPool,
    characteristic: Uuid,
    name: &str,
    starts_at: DateTime<Utc>,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Uuid, StoreError> {
    let mut act = Act::begin(pool).await?;
    let setup = act.take(characteristic).await?;
    let new = NewPhase { characteristic, name, starts_at };
    let phase = start_on_trial(&mut act, &setup.characteristic, new, person, at).await?;
    act.commit().await?;
    Ok(phase)
}

/// Starts a phase on trial limits, within an act.
pub(crate) async fn start_on_trial(
    act: &mut Act,
    characteristic: &Characteristic,
    new: NewPhase<'_>,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Uuid, StoreError> {
    let phase = insert_phase(act.conn(), new).await?;
    sqlx::query!(
        "insert into limits (id, phase_id, state, k, sigma_method) values ($1, $2, 'trial', $3, $4)",
        Uuid::new_v4(),
        phase,
        K,
        word::word(SigmaSource::of(characteristic.chart))?
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"name": new.name, "starts_at": new.starts_at});
    let deed = Deed::new(at, Some(person), Action::PhaseStarted, phase, &detail);
    act.did(new.characteristic, deed, News::Limits { characteristic: new.characteristic });
    Ok(phase)
}

/// Starts a phase on limits that are given, in force at once, within an act that says so; gives the limits.
pub(crate) async fn start_given(
    conn: &mut PgConnection,
    new: NewPhase<'_>,
    (center, sigma, source): (f64, f64, SigmaSource),
    person: Uuid,
) -> Result<Uuid, StoreError> {
    let limits = Uuid::new_v4();
    let phase = insert_phase(conn, new).await?;
    sqlx::query!(
        "insert into limits (id, phase_id, state, k, center, sigma, sigma_method, put_in_force_at, put_in_force_by)
         values ($1, $2, 'in_force', $3, $4, $5, $6, $7, $8)",
        limits,
        phase,
        K,
        center,
        sigma,
        word::word(source)?,
        new.starts_at,
        person
    )
    .execute(conn)
    .await?;
    Ok(limits)
}

async fn insert_phase(conn: &mut PgConnection, new: NewPhase<'_>) -> Result<Uuid, StoreError> {
    let phase = Uuid::new_v4();
    sqlx::query!(
        "insert into phase (id, characteristic_id, name, starts_at) values ($1, $2, $3, $4)",
        phase,
        new.characteristic,
        new.name,
        new.starts_at
    )
    .execute(conn)
    .await?;
    Ok(phase)
}
