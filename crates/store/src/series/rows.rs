//! Samples read as places of a chart.

use chrono::{DateTime, Utc};
use quality::characteristic::Kind;
use quality::part::Part;
use quality::place::Place;
use quality::sample::Plotted;
use quality::scheme::Schemes;
use spc::points::Count;
use uuid::Uuid;

use crate::characteristics::CharacteristicView;
use crate::phases::Phase;

/// A sample's rank among those of its characteristic: its time, then its number.
pub(crate) type Rank = (DateTime<Utc>, i64);

/// A point of the series.
#[derive(Debug, Clone)]
pub(crate) struct SeriesPoint {
    /// The sample; `None` for one that is only typed so far, and for gaps.
    pub sample: Option<Uuid>,
    pub taken_at: DateTime<Utc>,
    pub number: i64,
    pub place: Place,
}

impl SeriesPoint {
    pub fn rank(&self) -> Rank {
        (self.taken_at, self.number)
    }
}

/// What of the series is looked at.
pub(crate) struct Stretch<'a> {
    pub(super) characteristic: Uuid,
    pub(super) kind: Kind,
    pub(super) parts: &'a [Part],
    pub(super) schemes: &'a Schemes,
    /// The phase begins here; nothing where what was sampled before counts to it too.
    pub(crate) starts_at: Option<DateTime<Utc>>,
    /// The next phase begins here.
    pub(crate) ends_before: Option<DateTime<Utc>>,
}

/// A row of the table.
pub(super) struct Row {
    pub id: Uuid,
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    pub readings: Option<Vec<Option<f64>>>,
    pub count: Option<i32>,
    pub inspected: Option<i32>,
    pub distance: Option<f64>,
    /// The part of a short run.
    pub part: Option<String>,
    pub aside: bool,
    pub restart: bool,
    pub sums: Option<Vec<f64>>,
    /// It is a gap itself.
    pub empty: bool,
    /// Between this point and the one read before it there is a gap, which may bear a restart.
    pub gap: Option<bool>,
}

/// Which way to read.
#[derive(Clone, Copy, PartialEq)]
pub(super) enum Way {
    Back,
    Ahead,
}

impl<'a> Stretch<'a> {
    /// All samples.
    pub fn all(setup: &'a CharacteristicView, schemes: &'a Schemes) -> Self {
        let (kind, parts) = (setup.characteristic.kind, &setup.characteristic.parts);
        Self { characteristic: setup.id, kind, parts, schemes, starts_at: None, ends_before: None }
    }

    /// Those of a phase.
    pub fn of_phase(setup: &'a CharacteristicView, schemes: &'a Schemes, phases: &[Phase], held: usize) -> Self {
        let start = |i: usize| phases.get(i).map(|phase| phase.starts_at);
        // What was sampled before the first phase counts to it.
        let starts_at = if held > 0 { start(held) } else { None };
        Self { starts_at, ends_before: start(held + 1), ..Self::all(setup, schemes) }
    }

    pub fn schemes(&self) -> &'a Schemes {
        self.schemes
    }

    /// Rows as points, each gap before the point that was read after it.
    pub(super) fn points(&self, rows: Vec<Row>, way: Way) -> Vec<SeriesPoint> {
        let mut points = Vec::with_capacity(rows.len() + 1);
        for row in rows {
            if let Some(restart) = row.gap {
                let scheme = self.schemes.holding(row.taken_at);
                let place = Place { restart, scheme, ..Place::gap(self.kind) };
                // Behind the point where one reads back, before it where one reads ahead.
                let number = if way == Way::Back { row.number } else { row.number - 1 };
                points.push(SeriesPoint { sample: None, taken_at: row.taken_at, number, place });
            }
            points.push(self.point(row));
        }
        points
    }

    pub(super) fn point(&self, row: Row) -> SeriesPoint {
        let place = Place {
            plotted: self.plotted(&row),
            aside: row.aside,
            restart: row.restart,
            scheme: self.schemes.holding(row.taken_at),
            sums: row.sums.and_then(|sums| sums.try_into().ok()),
        };
        let sample = (!row.empty).then_some(row.id);
        SeriesPoint { sample, taken_at: row.taken_at, number: row.number, place }
    }

    /// What is plotted of a stored sample.
    fn plotted(&self, row: &Row) -> Plotted {
        let part = row.part.as_ref().and_then(|name| self.parts.iter().find(|part| part.name == *name));
        match (&row.readings, row.count.zip(row.inspected)) {
            _ if row.empty => Plotted::gap(self.kind),
            (Some(readings), _) => Plotted::readings(readings.iter().copied(), part),
            (None, Some((n, size))) => Plotted::Count(Some(Count { count: f64::from(n), size: f64::from(size) })),
            (None, None) if self.kind == Kind::RareEvent => Plotted::Between(row.distance),
            (None, None) => Plotted::gap(self.kind),
        }
    }
}
