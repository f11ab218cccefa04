//! Samples read as places of a chart.

use chrono::{DateTime, Utc};
use quality::characteristic::Kind;
use quality::part::Part;
use quality::place::Place;
use quality::sample::Plotted;
use quality::scheme::Schemes;
use spc::points::Count;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
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
    characteristic: Uuid,
    kind: Kind,
    parts: &'a [Part],
    schemes: &'a Schemes,
    /// The phase begins here; nothing where what was sampled before counts to it too.
    starts_at: Option<DateTime<Utc>>,
    /// The next phase begins here.
    ends_before: Option<DateTime<Utc>>,
}

/// A row of the table.
struct Row {
    id: Uuid,
    number: i64,
    taken_at: DateTime<Utc>,
    readings: Option<Vec<Option<f64>>>,
    count: Option<i32>,
    inspected: Option<i32>,
    distance: Option<f64>,
    /// The part of a short run.
    part: Option<String>,
    aside: bool,
    restart: bool,
    sums: Option<Vec<f64>>,
    /// It is a gap itself.
    empty: bool,
    /// Between this point and the one read before it there is a gap, which may bear a restart.
    gap: Option<bool>,
}

/// Which way to read.
#[derive(Clone, Copy, PartialEq)]
enum Way {
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

    /// The `most` latest points before a rank (of all the stretch, where none is named), and one gap
    /// wherever any were between two of them.
    pub async fn before(
        &self,
        conn: &mut PgConnection,
        rank: Option<Rank>,
        most: usize,
    ) -> Result<Vec<SeriesPoint>, StoreError> {
        let rows = sqlx::query_as!(
            Row,
            r#"with points as (
                   select s.id, s.number, s.taken_at, s.readings, s.count, s.inspected, s.distance,
                          s.tags->>'part' as part, s.aside, s.restart, s.sums
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
                      readings as "readings: Vec<Option<f64>>", count, inspected, distance, part,
                      aside as "aside!", restart as "restart!", sums, false as "empty!",
                      (select bool_or(g.restart) from sample g where g.characteristic_id = $1 and g.gap
                              and (g.taken_at, g.number) > (n.taken_at, n.number)
                              and (g.taken_at, g.number) < (n.next_at, n.next_number)) as gap
               from neighbours n order by taken_at desc, number desc"#,
            self.characteristic,
            rank.map(|rank| rank.0),
            rank.map_or(i64::MAX, |rank| rank.1),
            self.ends_before,
            self.starts_at,
            most as i64
        )
        .fetch_all(conn)
        .await?;
        let mut points = self.points(rows, Way::Back);
        points.reverse();
        Ok(points)
    }

    /// The `most` first points after a rank, and one gap wherever any were.
    pub async fn after(
        &self,
        conn: &mut PgConnection,
        rank: Rank,
        most: usize,
    ) -> Result<Vec<SeriesPoint>, StoreError> {
        let rows = sqlx::query_as!(
            Row,
            r#"with points as (
                   select s.id, s.number, s.taken_at, s.readings, s.count, s.inspected, s.distance,
                          s.tags->>'part' as part, s.aside, s.restart, s.sums
                   from sample s
                   where s.characteristic_id = $1 and not s.gap and (s.taken_at, s.number) > ($2, $3)
                     and s.taken_at < coalesce($4, 'infinity'::timestamptz)
                     and s.taken_at >= coalesce($5, '-infinity'::timestamptz)
                   order by s.taken_at, s.number limit $6),
               neighbours as (
                   select *, lag(taken_at, 1, $2) over earlier as last_at, lag(number, 1, $3) over earlier as last_number
                   from points window earlier as (order by taken_at, number))
               select id as "id!", number as "number!", taken_at as "taken_at!",
                      readings as "readings: Vec<Option<f64>>", count, inspected, distance, part,
                      aside as "aside!", restart as "restart!", sums, false as "empty!",
                      (select bool_or(g.restart) from sample g where g.characteristic_id = $1 and g.gap
                              and (g.taken_at, g.number) < (n.taken_at, n.number)
                              and (g.taken_at, g.number) > (n.last_at, n.last_number)) as gap
               from neighbours n order by taken_at, number"#,
            self.characteristic,
            rank.0,
            rank.1,
            self.ends_before,
            self.starts_at,
            most as i64
        )
        .fetch_all(conn)
        .await?;
        Ok(self.points(rows, Way::Ahead))
    }

    /// The `most` first places from a rank on (or the first), up to a sample time (or the end), gaps among them.
    pub async fn between(
        &self,
        conn: &mut PgConnection,
        from: Option<Rank>,
        before: Option<DateTime<Utc>>,
        most: usize,
    ) -> Result<Vec<SeriesPoint>, StoreError> {
        let rows = sqlx::query_as!(
            Row,
            r#"select id, number, taken_at, readings as "readings: Vec<Option<f64>>", count, inspected, distance,
                      tags->>'part' as part, aside, restart, sums, gap as "empty!", null::boolean as gap
               from sample
               where characteristic_id = $1 and (taken_at, number) >= (coalesce($2, '-infinity'::timestamptz), $3)
                 and taken_at < coalesce($4, 'infinity'::timestamptz)
                 and taken_at < coalesce($5, 'infinity'::timestamptz)
                 and taken_at >= coalesce($6, '-infinity'::timestamptz)
               order by taken_at, number limit $7"#,
            self.characteristic,
            from.map(|rank| rank.0),
            from.map_or(0, |rank| rank.1),
            before,
            self.ends_before,
            self.starts_at,
            most as i64
        )
        .fetch_all(conn)
        .await?;
        Ok(rows.into_iter().map(|row| self.point(row)).collect())
    }

    /// All places in order, gaps among them.
    pub async fn whole(&self, conn: &mut PgConnection) -> Result<Vec<SeriesPoint>, StoreError> {
        self.between(conn, None, None, usize::MAX >> 1).await
    }

    /// How many points limits could rest on: measured, and not set aside.
    pub async fn used(&self, conn: &mut PgConnection) -> Result<i64, StoreError> {
        Ok(sqlx::query_scalar!(
            r#"select count(*) as "count!" from sample
               where characteristic_id = $1 and not gap and not aside
                 and taken_at < coalesce($2, 'infinity'::timestamptz)
                 and taken_at >= coalesce($3, '-infinity'::timestamptz)"#,
            self.characteristic,
            self.ends_before,
            self.starts_at
        )
        .fetch_one(conn)
        .await?)
    }

    /// Samples saved after one of this number, as they came, gaps among them.
    pub async fn since(&self, conn: &mut PgConnection, number: i64) -> Result<Vec<(Uuid, SeriesPoint)>, StoreError> {
        let rows = sqlx::query_as!(
            Row,
            r#"select id, number, taken_at, readings as "readings: Vec<Option<f64>>", count, inspected, distance,
                      tags->>'part' as part, aside, restart, sums, gap as "empty!", null::boolean as gap
               from sample where characteristic_id = $1 and number > $2 order by number"#,
            self.characteristic,
            number
        )
        .fetch_all(conn)
        .await?;
        Ok(rows.into_iter().map(|row| (row.id, self.point(row))).collect())
    }

    /// How many points there are from a rank on (or the first), up to a sample time (or the end).
    pub async fn count(
        &self,
        conn: &mut PgConnection,
        from: Option<Rank>,
        before: Option<DateTime<Utc>>,
    ) -> Result<i64, StoreError> {
        Ok(sqlx::query_scalar!(
            r#"select count(*) as "count!" from sample
               where characteristic_id = $1 and (taken_at, number) >= (coalesce($2, '-infinity'::timestamptz), $3)
                 and taken_at < coalesce($4, 'infinity'::timestamptz)
                 and taken_at < coalesce($5, 'infinity'::timestamptz)
                 and taken_at >= coalesce($6, '-infinity'::timestamptz)"#,
            self.characteristic,
            from.map(|rank| rank.0),
            from.map_or(0, |rank| rank.1),
            before,
            self.ends_before,
            self.starts_at
        )
        .fetch_one(conn)
        .await?)
    }

    /// Rows as points, each gap before the point that was read after it.
    fn points(&self, rows: Vec<Row>, way: Way) -> Vec<SeriesPoint> {
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

    fn point(&self, row: Row) -> SeriesPoint {
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
