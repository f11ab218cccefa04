//! Phases and the limits that hold in them.

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use quality::limits::{Figures, LimitsState, TRIAL_POINTS_AT_MOST, sigma_method, trial};
use quality::sample::points;
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::news::{News, tell};
use crate::window::Stretch;
use crate::{StoreError, characteristics, trail, word};

/// Multiplier of sigma for new limits.
const K: f64 = 3.0;

/// A phase with the limits that now hold in it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Phase {
    /// Identity of the phase.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// From which sample time it holds.
    pub starts_at: DateTime<Utc>,
    /// Identity of the limits.
    pub limits: Uuid,
    /// Trial or in force.
    pub state: LimitsState,
    /// Multiplier of sigma.
    pub k: f64,
    /// Centre of the location panel, or p̄, c̄, ū; nothing while there are too few points.
    pub center: Option<f64>,
    /// Within sigma of single values; σ_z of p′ and u′; other counts have none of their own.
    pub sigma: Option<f64>,
    /// How sigma was estimated.
    pub sigma_method: String,
    /// Points the estimate used.
    pub used: Option<u32>,
    /// Since when the limits are in force.
    pub put_in_force_at: Option<DateTime<Utc>>,
    /// Who put them in force.
    pub put_in_force_by: Option<String>,
}

impl Phase {
    /// The figures to judge by; `None` while trial limits have too few points.
    pub fn figures(&self) -> Option<Figures> {
        Some(Figures { center: self.center?, sigma: self.sigma, k: self.k })
    }
}

/// Starts a phase on trial limits.
pub async fn start_phase(
    conn: &mut PgConnection,
    characteristic: Uuid,
    name: &str,
    starts_at: DateTime<Utc>,
) -> Result<Uuid, StoreError> {
    let chart = sqlx::query_scalar!("select chart from characteristic where id = $1", characteristic)
        .fetch_optional(&mut *conn)
        .await?
        .ok_or(StoreError::Missing("characteristic"))?;
    let phase = insert_phase(&mut *conn, characteristic, name, starts_at).await?;
    sqlx::query!(
        "insert into limits (id, phase_id, state, k, sigma_method) values ($1, $2, 'trial', $3, $4)",
        Uuid::new_v4(),
        phase,
        K,
        sigma_method(word::value(chart)?)
    )
    .execute(conn)
    .await?;
    Ok(phase)
}

/// Starts a phase on limits that are given, in force at once; gives the limits.
pub(crate) async fn start_given(
    conn: &mut PgConnection,
    characteristic: Uuid,
    name: &str,
    starts_at: DateTime<Utc>,
    (center, sigma, method): (f64, f64, &str),
    person: Uuid,
) -> Result<Uuid, StoreError> {
    let limits = Uuid::new_v4();
    let phase = insert_phase(conn, characteristic, name, starts_at).await?;
    sqlx::query!(
        "insert into limits (id, phase_id, state, k, center, sigma, sigma_method, put_in_force_at, put_in_force_by)
         values ($1, $2, 'in_force', $3, $4, $5, $6, $7, $8)",
        limits,
        phase,
        K,
        center,
        sigma,
        method,
        starts_at,
        person
    )
    .execute(conn)
    .await?;
    Ok(limits)
}

async fn insert_phase(
    conn: &mut PgConnection,
    characteristic: Uuid,
    name: &str,
    starts_at: DateTime<Utc>,
) -> Result<Uuid, StoreError> {
    let phase = Uuid::new_v4();
    sqlx::query!(
        "insert into phase (id, characteristic_id, name, starts_at) values ($1, $2, $3, $4)",
        phase,
        characteristic,
        name,
        starts_at
    )
    .execute(conn)
    .await?;
    Ok(phase)
}

/// All phases of a characteristic in order; those on trial have no figures until [`fill_trial`].
pub async fn phases(conn: &mut PgConnection, characteristic: Uuid) -> Result<Vec<Phase>, StoreError> {
    sqlx::query!(
        r#"select p.id, p.name, p.starts_at, l.id as limits, l.state, l.k, l.center, l.sigma, l.sigma_method, l.used,
                  l.put_in_force_at, by.name as "put_in_force_by?"
           from phase p
           join limits l on l.phase_id = p.id and l.state <> 'retired'
           left join person by on by.id = l.put_in_force_by
           where p.characteristic_id = $1
           order by p.starts_at"#,
        characteristic
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        Ok(Phase {
            id: row.id,
            name: row.name,
            starts_at: row.starts_at,
            limits: row.limits,
            state: word::value(row.state)?,
            k: row.k,
            center: row.center,
            sigma: row.sigma,
            sigma_method: row.sigma_method,
            used: row.used.and_then(|used| used.try_into().ok()),
            put_in_force_at: row.put_in_force_at,
            put_in_force_by: row.put_in_force_by,
        })
    })
    .collect()
}

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

/// Place of the phase that holds at `taken_at`.
pub fn holding(phases: &[Phase], taken_at: DateTime<Utc>) -> usize {
    phases.iter().rposition(|phase| phase.starts_at <= taken_at).unwrap_or(0)
}

/// Freezes the trial limits of a phase as they are now.
pub async fn put_in_force(
    pool: &PgPool,
    characteristic: Uuid,
    phase: Uuid,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let setup = characteristics::lock(&mut tx, characteristic).await?;
    let mut phases = phases(&mut tx, characteristic).await?;
    let place = phases.iter().position(|p| p.id == phase).ok_or(StoreError::Missing("phase"))?;
    fill_trial(&mut tx, (characteristic, &setup.characteristic), &mut phases, place).await?;
    let held = &phases[place];
    let figures = held.figures().ok_or(StoreError::Missing("trial limits with enough points"))?;
    let frozen = sqlx::query!(
        "update limits set state = 'in_force', center = $2, sigma = $3, used = $4, put_in_force_at = $5,
             put_in_force_by = $6
         where id = $1 and state = 'trial'",
        held.limits,
        figures.center,
        figures.sigma,
        held.used.and_then(|used| i32::try_from(used).ok()),
        at,
        person
    )
    .execute(&mut *tx)
    .await?;
    if frozen.rows_affected() == 0 {
        return Err(StoreError::Missing("trial limits"));
    }
    let detail = json!({"phase": held.name, "center": figures.center, "sigma": figures.sigma, "k": figures.k,
                        "used": held.used});
    let deed = Deed::new(at, Some(person), Action::LimitsPutInForce, held.limits, &detail);
    trail::append(&mut tx, characteristic, &[deed]).await?;
    tell(&mut tx, News::Limits { characteristic }).await?;
    tx.commit().await?;
    Ok(())
}
