//! Means and standard deviations of levels, and since when each holds.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::analyte::Assigned;
use quality::limits::holding;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// Since when, and what; nothing where a phase has no figures.
type Since = (DateTime<Utc>, Option<Assigned>);

/// What was assigned to each level, in the order of time.
pub(super) struct Assignments(HashMap<Uuid, Vec<Since>>);

impl Assignments {
    /// Those of some levels.
    #[compiled_once]
    pub async fn of(conn: &mut PgConnection, levels: &[Uuid]) -> Result<Self, StoreError> {
        let rows = sqlx::query!(
            "select p.characteristic_id, p.starts_at, l.center, l.sigma
             from phase p join limits l on l.phase_id = p.id and l.state <> 'retired'
             where p.characteristic_id = any($1) and p.merged_at is null order by p.starts_at",
            levels
        )
        .fetch_all(conn)
        .await?;
        let mut all: HashMap<Uuid, Vec<Since>> = HashMap::new();
        for row in rows {
            let assigned = row.center.zip(row.sigma).map(|(mean, sd)| Assigned { mean, sd });
            all.entry(row.characteristic_id).or_default().push((row.starts_at, assigned));
        }
        Ok(Self(all))
    }

    /// What holds for a result of `level` at `at`.
    pub fn at(&self, level: Uuid, at: DateTime<Utc>) -> Option<Assigned> {
        let phases = self.0.get(&level)?;
        phases.get(holding(phases.iter().map(|(start, _)| *start), at))?.1
    }
}
