//! The points around a sample that its judgement can depend on.

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::limits::Phase;

/// A point of the window.
#[derive(Debug, Clone)]
pub(crate) struct WindowPoint {
    /// The sample; `None` for one that is only typed so far.
    pub sample: Option<Uuid>,
    pub taken_at: DateTime<Utc>,
    pub readings: Vec<f64>,
}

/// A sample in its surroundings within its phase.
#[derive(Debug)]
pub(crate) struct Window {
    pub points: Vec<WindowPoint>,
    /// Place of the sample.
    pub changed: usize,
}

impl Window {
    pub fn readings(&self) -> impl Iterator<Item = &[f64]> {
        self.points.iter().map(|point| point.readings.as_slice())
    }

    /// Whether the sample is not the latest of its phase.
    pub fn is_late(&self) -> bool {
        self.changed + 1 < self.points.len()
    }
}

/// Loads the surroundings of a sample with `number` (or of one that is not saved yet, which comes
/// after all of its time). Reads as many rows as the rules need, however long the history.
pub(crate) async fn around(
    conn: &mut PgConnection,
    characteristic: &Characteristic,
    phases: &[Phase],
    held: usize,
    point: WindowPoint,
    number: i64,
) -> Result<Window, StoreError> {
    let starts_at = (held > 0).then(|| phases[held].starts_at);
    let ends_before = phases.get(held + 1).map(|next| next.starts_at);
    let before = sqlx::query!(
        r#"select id, taken_at, readings from sample
           where characteristic_id = $1 and (taken_at, number) < ($2, $3)
             and ($4::timestamptz is null or taken_at >= $4)
           order by taken_at desc, number desc
           limit $5"#,
        characteristic.id,
        point.taken_at,
        number,
        starts_at,
        characteristic.look_back() as i64
    )
    .fetch_all(&mut *conn)
    .await?;
    let after = sqlx::query!(
        r#"select id, taken_at, readings from sample
           where characteristic_id = $1 and (taken_at, number) > ($2, $3)
             and ($4::timestamptz is null or taken_at < $4)
           order by taken_at, number
           limit $5"#,
        characteristic.id,
        point.taken_at,
        number,
        ends_before,
        characteristic.look_ahead() as i64
    )
    .fetch_all(conn)
    .await?;
    let changed = before.len();
    let earlier = before.into_iter().rev().map(|row| WindowPoint {
        sample: Some(row.id),
        taken_at: row.taken_at,
        readings: row.readings,
    });
    let later = after.into_iter().map(|row| WindowPoint {
        sample: Some(row.id),
        taken_at: row.taken_at,
        readings: row.readings,
    });
    Ok(Window { points: earlier.chain([point]).chain(later).collect(), changed })
}
