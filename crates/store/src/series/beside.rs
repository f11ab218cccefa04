//! What lies on both sides of some points, or of a sample that is being saved.

use chrono::{DateTime, Utc};
use quality::limits::TRIAL_POINTS_AT_MOST;
use uuid::Uuid;

use super::rows::{Row, SeriesPoint, Stretch, Way};
use crate::phases::Hold;

/// What lies on both sides of some points.
pub(crate) struct Beside {
    pub(super) before: Vec<SeriesPoint>,
    pub(super) after: Vec<SeriesPoint>,
    /// When the last signal of the characteristic ends, long ago where there is none; nothing where that is not known.
    pub(super) last_signal: Option<DateTime<Utc>>,
}

/// A row of the database's `beside`; nothing where nothing lies there.
pub(crate) struct BesideRow {
    /// The number of the sample that was saved between them, where one was.
    pub saved_as: Option<i64>,
    /// And whether rules start afresh with it.
    pub begins_afresh: Option<bool>,
    pub is_later: Option<bool>,
    pub id: Option<Uuid>,
    pub number: Option<i64>,
    pub taken_at: Option<DateTime<Utc>>,
    pub readings: Option<Vec<Option<f64>>>,
    pub count: Option<i32>,
    pub inspected: Option<i32>,
    pub distance: Option<f64>,
    pub part: Option<String>,
    pub aside: Option<bool>,
    pub restart: Option<bool>,
    pub sums: Option<Vec<f64>>,
    pub gap: Option<bool>,
    pub last_signal: Option<DateTime<Utc>>,
}

impl Beside {
    pub fn of(stretch: &Stretch<'_>, rows: Vec<BesideRow>) -> Self {
        let (mut earlier, mut later, mut last_signal) = (vec![], vec![], None);
        for row in rows {
            let Some(((id, number), taken_at)) = row.id.zip(row.number).zip(row.taken_at) else { continue };
            last_signal = Some(row.last_signal.unwrap_or(DateTime::<Utc>::MIN_UTC));
            let side = if row.is_later == Some(true) { &mut later } else { &mut earlier };
            side.push(Row {
                id,
                number,
                taken_at,
                readings: row.readings,
                count: row.count,
                inspected: row.inspected,
                distance: row.distance,
                part: row.part,
                aside: row.aside == Some(true),
                restart: row.restart == Some(true),
                sums: row.sums,
                empty: false,
                gap: row.gap,
            });
        }
        earlier.reverse();
        let mut before = stretch.points(earlier, Way::Back);
        before.reverse();
        Self { before, after: stretch.points(later, Way::Ahead), last_signal }
    }
}

impl Stretch<'_> {
    /// How many points on each side are read first of all to judge one under this scheme: before it, and behind it, where
    /// at most so many are looked at.
    pub fn usually_beside(&self, scheme: usize, hold: Hold, ahead_at_most: usize) -> (usize, usize) {
        match self.schemes.get(scheme).keeps_sums() {
            true => (if hold.trial { TRIAL_POINTS_AT_MOST } else { 1 }, ahead_at_most),
            false => (self.schemes.usual_reach(), self.schemes.usual_reach()),
        }
    }
}
