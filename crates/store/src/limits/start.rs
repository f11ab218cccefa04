//! Starting a phase where a characteristic begins, or another chart.

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use quality::limits::{Basis, SigmaSource};
use quality::trail::{Action, Deed};
use serde_json::json;
use spc::chart::Figures;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::act::Act;
use crate::news::News;
use crate::{StoreError, word};

/// A phase to start.
#[derive(Debug, Clone, Copy)]
pub(crate) struct NewPhase<'a> {
    pub characteristic: Uuid,
    pub name: &'a str,
    /// From which sample time it holds.
    pub starts_at: DateTime<Utc>,
}

/// Starts a phase on trial limits, within an act; gives the limits.
pub(crate) async fn begin_phase(
    act: &mut Act,
    characteristic: &Characteristic,
    new: NewPhase<'_>,
    (person, at): (Option<Uuid>, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let (limits, phase) = (Uuid::new_v4(), insert_phase(act.conn(), new).await?);
    sqlx::query!(
        "insert into limits (id, phase_id, state, sigma_method, basis) values ($1, $2, 'trial', $3, $4)",
        limits,
        phase,
        word::word(SigmaSource::of(&characteristic.scheme(), characteristic.subgroup_size))?,
        serde_json::to_value(Basis::Phase)?
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"name": new.name, "starts_at": new.starts_at});
    let deed = Deed::new(at, person, Action::PhaseStarted, phase, &detail);
    act.did(new.characteristic, deed, News::Limits { characteristic: new.characteristic });
    Ok(limits)
}

/// Starts a phase on a centre and sigma that were assigned, in force at once, within an act that says so; gives the
/// limits.
pub(crate) async fn start_given(
    conn: &mut PgConnection,
    new: NewPhase<'_>,
    (center, sigma): (f64, f64),
    source: &str,
    person: Uuid,
) -> Result<Uuid, StoreError> {
    let limits = Uuid::new_v4();
    let phase = insert_phase(conn, new).await?;
    let basis = Basis::Given { figures: Figures::new(center, sigma), source: source.to_owned() };
    sqlx::query!(
        "insert into limits (id, phase_id, state, center, sigma, sigma_method, basis, name, put_in_force_at,
             put_in_force_by)
         values ($1, $2, 'in_force', $3, $4, $5, $6, $7, $8, $9)",
        limits,
        phase,
        center,
        sigma,
        word::word(SigmaSource::Assigned)?,
        serde_json::to_value(basis)?,
        new.name,
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
