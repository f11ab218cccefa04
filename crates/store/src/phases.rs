//! Phases and the limits that hold in them.

use chrono::{DateTime, NaiveDate, Utc};
use quality::limits::{Baseline, Basis, LimitsState, SigmaSource};
use serde::{Deserialize, Serialize};
use spc::chart::Figures;
use sqlx::PgConnection;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::once::compiled_once;
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
    /// How far they have come.
    pub state: LimitsState,
    /// What they are made of; nothing while there are too few points.
    pub figures: Option<Figures>,
    /// How sigma was estimated.
    pub sigma_method: SigmaSource,
    /// What they were estimated from; nothing where figures were given.
    pub baseline: Option<Baseline>,
    /// Where they come from.
    pub basis: Basis,
    /// What they are called once in force.
    pub limits_name: Option<String>,
    pub remark: Option<String>,
    /// Why they were put in force although their ground was unfit.
    pub reason: Option<String>,
    /// When somebody shall look at them again.
    pub next_look: Option<NaiveDate>,
    /// Since when the limits are in force.
    pub put_in_force_at: Option<DateTime<Utc>>,
    /// Who put them in force.
    pub put_in_force_by: Option<String>,
}

impl Phase {
    /// The figures to judge by, and whether they move.
    pub(crate) fn hold(&self) -> Hold {
        Hold { figures: self.figures, trial: self.state == LimitsState::Trial }
    }
}

/// What limits are at hand.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Hold {
    /// Nothing while trial limits have too few points: nothing is flagged then.
    pub figures: Option<Figures>,
    pub trial: bool,
}

/// All phases of a characteristic in order; those on trial have no figures until [`crate::series::fill_trial`].
#[compiled_once]
pub async fn phases(conn: &mut PgConnection, characteristic: Uuid) -> Result<Vec<Phase>, StoreError> {
    let rows = sqlx::query!(
        r#"select p.id, p.name, p.starts_at, l.id as limits, l.state, l.center, l.sigma, l.sigma_between, l.mean_n,
                  l.shape, l.scale, l.lower, l.upper, l.sigma_method, l.baseline_points, l.baseline_size,
                  l.basis as "basis: Json<Basis>", l.name as limits_name, l.remark, l.reason, l.next_look,
                  l.put_in_force_at, by.name as "put_in_force_by?",
                  lead(p.starts_at) over (order by p.starts_at) as next_starts_at
           from phase p
           join limits l on l.phase_id = p.id and l.state <> 'retired'
           left join person by on by.id = l.put_in_force_by
           where p.characteristic_id = $1 and p.merged_at is null
           order by p.starts_at"#,
        characteristic
    )
    .fetch_all(conn)
    .await?;
    rows.into_iter()
        .map(|row| {
            let frozen = row.put_in_force_at.is_some();
            let figures = Figures {
                center: row.center,
                sigma: row.sigma,
                sigma_between: row.sigma_between,
                mean_n: row.mean_n,
                shape: row.shape,
                scale: row.scale,
                lower: row.lower,
                upper: row.upper,
            };
            let baseline = row.baseline_points.zip(row.baseline_size);
            Ok(Phase {
                id: row.id,
                name: row.name,
                starts_at: row.starts_at,
                limits: row.limits,
                state: LimitsState::of(frozen, row.next_starts_at.is_none()),
                figures: frozen.then_some(figures),
                sigma_method: word::value(row.sigma_method)?,
                baseline: baseline.map(|(points, size)| Baseline { points: points.unsigned_abs(), size }),
                basis: row.basis.0,
                limits_name: row.limits_name,
                remark: row.remark,
                reason: row.reason,
                next_look: row.next_look,
                put_in_force_at: row.put_in_force_at,
                put_in_force_by: row.put_in_force_by,
            })
        })
        .collect()
}

/// Points of a phase that were set aside since its limits were put in force: figures in force still rest on them.
pub(crate) async fn aside_since(
    conn: &mut PgConnection,
    characteristic: Uuid,
    phases: &[Phase],
    held: usize,
) -> Result<i64, StoreError> {
    let Some((phase, put)) = phases.get(held).and_then(|phase| Some((phase, phase.put_in_force_at?))) else {
        return Ok(0);
    };
    // What was sampled before the first phase counts to it.
    let starts_at = if held > 0 { Some(phase.starts_at) } else { None };
    let ends = phases.get(held + 1).map_or(put, |next| next.starts_at.min(put));
    Ok(sqlx::query_scalar!(
        r#"select count(*) as "count!" from set_aside a join sample s on s.id = a.sample_id
           where s.characteristic_id = $1 and s.aside and a.taken_back_at is null and a.at > $2
             and s.taken_at >= coalesce($3, '-infinity'::timestamptz) and s.taken_at <= $4"#,
        characteristic,
        put,
        starts_at,
        ends
    )
    .fetch_one(conn)
    .await?)
}

/// Place of the phase that holds at `taken_at`.
pub(crate) fn holding(phases: &[Phase], taken_at: DateTime<Utc>) -> usize {
    quality::limits::holding(phases.iter().map(|phase| phase.starts_at), taken_at)
}
