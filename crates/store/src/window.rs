//! The points around a sample that its judgement can depend on.

use chrono::{DateTime, Utc};
use quality::characteristic::{Characteristic, Kind};
use quality::sample::Plotted;
use spc::points::Count;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::limits::Phase;

/// A place of the window.
#[derive(Debug, Clone)]
pub(crate) struct WindowPoint {
    /// The sample; `None` for one that is only typed so far.
    pub sample: Option<Uuid>,
    pub taken_at: DateTime<Utc>,
    pub plotted: Plotted,
}

/// A sample in its surroundings within its phase.
#[derive(Debug)]
pub(crate) struct Window {
    pub points: Vec<WindowPoint>,
    /// Place of the sample.
    pub changed: usize,
}

impl Window {
    pub fn plotted(&self) -> impl Iterator<Item = &Plotted> {
        self.points.iter().map(|point| &point.plotted)
    }

    /// Whether the sample is not the latest of its phase.
    pub fn is_late(&self) -> bool {
        self.changed + 1 < self.points.len()
    }
}

/// What is plotted of a stored sample.
pub(crate) fn plotted(
    kind: Kind,
    readings: Option<Vec<Option<f64>>>,
    count: Option<i32>,
    inspected: Option<i32>,
    gap: bool,
) -> Plotted {
    match (readings, count.zip(inspected)) {
        _ if gap => Plotted::gap(kind),
        (Some(readings), _) => Plotted::Values(readings.into_iter().flatten().collect()),
        (None, Some((count, size))) => Plotted::Count(Some(Count { count: f64::from(count), size: f64::from(size) })),
        (None, None) => Plotted::gap(kind),
    }
}

/// Loads the surroundings of a sample with `number` (or of one that is not saved yet, which comes
/// after all of its time). Reads as many samples as the rules need, however long the history, and the
/// gaps between them, which rules look past.
pub(crate) async fn around(
    conn: &mut PgConnection,
    (id, characteristic): (Uuid, &Characteristic),
    phases: &[Phase],
    held: usize,
    point: WindowPoint,
    number: i64,
) -> Result<Window, StoreError> {
    let starts_at = (held > 0).then(|| phases[held].starts_at);
    let ends_before = phases.get(held + 1).map(|next| next.starts_at);
    let mut before = sqlx::query!(
        r#"select id, taken_at, readings as "readings: Vec<Option<f64>>", count, inspected, gap as "gap!"
           from sample
           where characteristic_id = $1 and (taken_at, number) < ($2, $3)
             and ($4::timestamptz is null or taken_at >= $4)
             and taken_at >= coalesce(
                 (select taken_at from sample
                  where characteristic_id = $1 and (taken_at, number) < ($2, $3) and not gap
                  order by taken_at desc, number desc offset $5 limit 1), '-infinity')
           order by taken_at desc, number desc"#,
        id,
        point.taken_at,
        number,
        starts_at,
        characteristic.look_back() as i64 - 1
    )
    .fetch_all(&mut *conn)
    .await?;
    before.reverse();
    let after = sqlx::query!(
        r#"select id, taken_at, readings as "readings: Vec<Option<f64>>", count, inspected, gap as "gap!"
           from sample
           where characteristic_id = $1 and (taken_at, number) > ($2, $3)
             and ($4::timestamptz is null or taken_at < $4)
             and taken_at <= coalesce(
                 (select taken_at from sample
                  where characteristic_id = $1 and (taken_at, number) > ($2, $3) and not gap
                  order by taken_at, number offset $5 limit 1), 'infinity')
           order by taken_at, number"#,
        id,
        point.taken_at,
        number,
        ends_before,
        characteristic.look_ahead() as i64 - 1
    )
    .fetch_all(conn)
    .await?;
    let changed = before.len();
    let mut points: Vec<WindowPoint> = before
        .into_iter()
        .map(|row| WindowPoint {
            sample: Some(row.id),
            taken_at: row.taken_at,
            plotted: plotted(characteristic.kind, row.readings, row.count, row.inspected, row.gap),
        })
        .collect();
    points.push(point);
    points.extend(after.into_iter().map(|row| WindowPoint {
        sample: Some(row.id),
        taken_at: row.taken_at,
        plotted: plotted(characteristic.kind, row.readings, row.count, row.inspected, row.gap),
    }));
    Ok(Window { points, changed })
}
