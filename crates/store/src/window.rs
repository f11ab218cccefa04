//! The points around a sample that its judgement can depend on.

use chrono::{DateTime, Utc};
use quality::characteristic::{Characteristic, Kind};
use quality::judging::{self, judge_window, reach};
use quality::limits::Figures;
use quality::sample::Plotted;
use spc::chart::Watched;
use spc::points::Count;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::phases::Phase;

/// A place of the window.
#[derive(Debug, Clone)]
pub(crate) struct WindowPoint {
    /// The sample; `None` for one that is only typed so far, and for gaps.
    pub sample: Option<Uuid>,
    pub taken_at: DateTime<Utc>,
    pub number: i64,
    pub plotted: Plotted,
}

/// A sample in its surroundings within its phase.
#[derive(Debug)]
pub(crate) struct Window {
    pub points: Vec<WindowPoint>,
    /// Place of the sample.
    pub changed: usize,
    /// What the points look like under the figures that hold.
    pub chart: Watched,
}

impl Window {
    pub fn plotted(&self) -> impl Iterator<Item = &Plotted> {
        self.points.iter().map(|point| &point.plotted)
    }

    /// Where a sample lies, as the first point of something or the last.
    pub fn place(&self, at: Place, first: bool) -> judging::Place {
        let key = |point: &WindowPoint| (point.taken_at, point.number);
        let before = self.points.partition_point(|point| key(point) < at);
        let found = self.points[before..].iter().position(|point| key(point) == at && point.sample.is_some());
        match found {
            Some(i) => judging::Place::At(before + i),
            None if before == 0 => judging::Place::Before,
            None if before == self.points.len() => judging::Place::After,
            None if first => judging::Place::At(before),
            None => judging::Place::At(before - 1),
        }
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

/// A sample's place among those of its characteristic: its time, then its number.
pub(crate) type Place = (DateTime<Utc>, i64);

/// What of the history is looked at.
pub(crate) struct Stretch<'a> {
    pub characteristic: Uuid,
    pub kind: Kind,
    /// The phase begins here; nothing where what was sampled before counts to it too.
    pub starts_at: Option<&'a DateTime<Utc>>,
    /// The next phase begins here.
    pub ends_before: Option<&'a DateTime<Utc>>,
}

impl<'a> Stretch<'a> {
    pub fn of_phase(characteristic: Uuid, kind: Kind, phases: &'a [Phase], held: usize) -> Self {
        let start = |i: usize| phases.get(i).map(|phase| &phase.starts_at);
        // What was sampled before the first phase counts to it.
        let starts_at = if held > 0 { start(held) } else { None };
        Self { characteristic, kind, starts_at, ends_before: start(held + 1) }
    }

    /// The `most` latest points before a place (of all the stretch, where none is named), and one gap
    /// wherever any were between two of them.
    pub async fn before(
        &self,
        conn: &mut PgConnection,
        place: Option<Place>,
        most: usize,
    ) -> Result<Vec<WindowPoint>, StoreError> {
        let rows = sqlx::query!(
            r#"with points as (
                   select s.id, s.number, s.taken_at, s.readings, s.count, s.inspected
                   from sample s
                   where s.characteristic_id = $1 and not s.gap
                     and (s.taken_at, s.number) < (coalesce($2, 'infinity'::timestamptz), $3)
                     and s.taken_at < coalesce($4, 'infinity'::timestamptz)
                     and s.taken_at >= coalesce($5, '-infinity'::timestamptz)
                   order by s.taken_at desc, s.number desc limit $6),
               neighbours as (
                   select *, lag(taken_at, 1, coalesce($2, 'infinity'::timestamptz)) over later as next_at,
                          lag(number, 1, $3) over later as next_number
                   from points window later as (order by taken_at desc, number desc))
               select id as "id!", number as "number!", taken_at as "taken_at!",
                      readings as "readings: Vec<Option<f64>>", count, inspected,
                      exists (select from sample g where g.characteristic_id = $1 and g.gap
                              and (g.taken_at, g.number) > (n.taken_at, n.number)
                              and (g.taken_at, g.number) < (n.next_at, n.next_number)) as "gap!"
               from neighbours n order by taken_at desc, number desc"#,
            self.characteristic,
            place.map(|place| place.0),
            place.map_or(i64::MAX, |place| place.1),
            self.ends_before,
            self.starts_at,
            most as i64
        )
        .fetch_all(conn)
        .await?;
        let mut points = Vec::with_capacity(rows.len() + 1);
        for row in rows {
            if row.gap {
                points.push(self.gap(row.taken_at, row.number));
            }
            let plotted = plotted(self.kind, row.readings, row.count, row.inspected, false);
            points.push(WindowPoint { sample: Some(row.id), taken_at: row.taken_at, number: row.number, plotted });
        }
        points.reverse();
        Ok(points)
    }

    /// The `most` first points after a place, and one gap wherever any were.
    async fn after(&self, conn: &mut PgConnection, place: Place, most: usize) -> Result<Vec<WindowPoint>, StoreError> {
        let rows = sqlx::query!(
            r#"with points as (
                   select s.id, s.number, s.taken_at, s.readings, s.count, s.inspected
                   from sample s
                   where s.characteristic_id = $1 and not s.gap and (s.taken_at, s.number) > ($2, $3)
                     and s.taken_at < coalesce($4, 'infinity'::timestamptz)
                   order by s.taken_at, s.number limit $5),
               neighbours as (
                   select *, lag(taken_at, 1, $2) over earlier as last_at, lag(number, 1, $3) over earlier as last_number
                   from points window earlier as (order by taken_at, number))
               select id as "id!", number as "number!", taken_at as "taken_at!", last_at as "last_at!",
                      last_number as "last_number!", readings as "readings: Vec<Option<f64>>", count, inspected,
                      exists (select from sample g where g.characteristic_id = $1 and g.gap
                              and (g.taken_at, g.number) < (n.taken_at, n.number)
                              and (g.taken_at, g.number) > (n.last_at, n.last_number)) as "gap!"
               from neighbours n order by taken_at, number"#,
            self.characteristic,
            place.0,
            place.1,
            self.ends_before,
            most as i64
        )
        .fetch_all(conn)
        .await?;
        let mut points = Vec::with_capacity(rows.len() + 1);
        for row in rows {
            if row.gap {
                points.push(self.gap(row.last_at, row.last_number));
            }
            let plotted = plotted(self.kind, row.readings, row.count, row.inspected, false);
            points.push(WindowPoint { sample: Some(row.id), taken_at: row.taken_at, number: row.number, plotted });
        }
        Ok(points)
    }

    /// Gaps behind a place.
    fn gap(&self, taken_at: DateTime<Utc>, number: i64) -> WindowPoint {
        WindowPoint { sample: None, taken_at, number, plotted: Plotted::gap(self.kind) }
    }
}

/// A window is widened at most to so many times what it usually holds. Who has taken single samples
/// among gaps for so long has no moving ranges to judge, and saving must not read the whole history.
const WIDEST: usize = 64;

/// Loads the surroundings of a sample (or of one that is not saved yet, which comes after all of its
/// time) and judges them; without figures nothing is flagged.
pub(crate) async fn around(
    conn: &mut PgConnection,
    characteristic: &Characteristic,
    stretch: &Stretch<'_>,
    figures: Option<&Figures>,
    point: WindowPoint,
) -> Result<Window, StoreError> {
    let place = (point.taken_at, point.number);
    let usual = characteristic.usual_reach();
    let (mut back, mut ahead) = (usual, usual);
    let mut before = stretch.before(&mut *conn, Some(place), back).await?;
    let mut after = stretch.after(&mut *conn, place, ahead).await?;
    loop {
        let changed = before.len();
        let points: Vec<&WindowPoint> = before.iter().chain([&point]).chain(&after).collect();
        let chart = judge_window(characteristic, figures, points.iter().map(|point| point.plotted.point()))?;
        let reach = reach(characteristic, &chart, changed);
        // Fewer than were asked for: there are no more.
        let wanting = |points: &[WindowPoint], asked: usize| {
            asked < usual * WIDEST && points.iter().filter(|p| p.sample.is_some()).count() == asked
        };
        let (more_back, more_ahead) = (!reach.back && wanting(&before, back), !reach.ahead && wanting(&after, ahead));
        if more_back {
            back *= 4;
            before = stretch.before(&mut *conn, Some(place), back).await?;
        }
        if more_ahead {
            ahead *= 4;
            after = stretch.after(&mut *conn, place, ahead).await?;
        }
        if !more_back && !more_ahead {
            let points = before.into_iter().chain([point]).chain(after).collect();
            return Ok(Window { points, changed, chart });
        }
    }
}
