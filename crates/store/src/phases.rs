//! Phases and the limits that hold in them.

use chrono::{DateTime, Utc};
use quality::limits::{Figures, LimitsState, SigmaSource};
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{StoreError, word};

/// A phase with the limits that now hold in it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Phase {
    /// Identity of the phase.
    pub id: Uuid,
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
    pub sigma_method: SigmaSource,
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

/// All phases of a characteristic in order; those on trial have no figures until [`crate::limits::fill_trial`].
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
            sigma_method: word::value(row.sigma_method)?,
            used: row.used.and_then(|used| used.try_into().ok()),
            put_in_force_at: row.put_in_force_at,
            put_in_force_by: row.put_in_force_by,
        })
    })
    .collect()
}

/// Place of the phase that holds at `taken_at`.
pub(crate) fn holding(phases: &[Phase], taken_at: DateTime<Utc>) -> usize {
    quality::limits::holding(phases.iter().map(|phase| phase.starts_at), taken_at)
}
