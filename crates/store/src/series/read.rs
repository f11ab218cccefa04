//! Stretches of the series read from the database.

use chrono::{DateTime, Utc};
use sqlx::PgConnection;
use uuid::Uuid;

use super::beside::{Beside, BesideRow};
use super::rows::{Rank, Row, SeriesPoint, Stretch};
use crate::StoreError;
use crate::once::compiled_once;

impl Stretch<'_> {
    /// The `most` latest points before a rank (of all the stretch, where none is named), and one gap
    /// wherever any were between two of them.
    pub async fn before(
        &self,
        conn: &mut PgConnection,
        rank: Option<Rank>,
        most: usize,
    ) -> Result<Vec<SeriesPoint>, StoreError> {
        Ok(self.beside(conn, (rank, None), (most, 0)).await?.before)
    }

    /// The `most` first points after a rank, and one gap wherever any were.
    pub async fn after(
        &self,
        conn: &mut PgConnection,
        rank: Rank,
        most: usize,
    ) -> Result<Vec<SeriesPoint>, StoreError> {
        Ok(self.beside(conn, (None, Some(rank)), (0, most)).await?.after)
    }

    /// The latest points before one rank and the first after another, so many of each at most, and one gap wherever any
    /// were between two of them.
    pub(super) async fn beside(
        &self,
        conn: &mut PgConnection,
        (before, after): (Option<Rank>, Option<Rank>),
        (most_before, most_after): (usize, usize),
    ) -> Result<Beside, StoreError> {
        let rows = sqlx::query_as!(
            BesideRow,
            r#"select null::bigint as saved_as, null::boolean as begins_afresh, is_later, id, number, taken_at,
                      readings as "readings: Vec<Option<f64>>", count, inspected, distance, part, aside, restart, sums, gap,
                      last_signal
               from beside($1, $2, $3, $4, $5, $6, $7, $8, $9) order by is_later, taken_at, number"#,
            self.characteristic,
            before.map(|rank| rank.0),
            before.map_or(i64::MAX, |rank| rank.1),
            after.map(|rank| rank.0),
            after.map_or(i64::MAX, |rank| rank.1),
            self.starts_at,
            self.ends_before,
            most_before as i64,
            most_after as i64
        );
        Ok(Beside::of(self, rows.fetch_all(conn).await?))
    }

    /// The `most` first places from a rank on (or the first), up to a sample time (or the end), gaps among them.
    #[compiled_once]
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

    /// The `most` latest places from a rank on (or the first) up to one (or the last), the latest last, gaps among
    /// them.
    #[compiled_once]
    pub async fn latest(
        &self,
        conn: &mut PgConnection,
        (from, to): (Option<Rank>, Option<Rank>),
        most: usize,
    ) -> Result<Vec<SeriesPoint>, StoreError> {
        let rows = sqlx::query_as!(
            Row,
            r#"select id, number, taken_at, readings as "readings: Vec<Option<f64>>", count, inspected, distance,
                      tags->>'part' as part, aside, restart, sums, gap as "empty!", null::boolean as gap
               from sample
               where characteristic_id = $1 and (taken_at, number) >= (coalesce($2, '-infinity'::timestamptz), $3)
                 and (taken_at, number) <= (coalesce($4, 'infinity'::timestamptz), $5)
                 and taken_at < coalesce($6, 'infinity'::timestamptz)
                 and taken_at >= coalesce($7, '-infinity'::timestamptz)
               order by taken_at desc, number desc limit $8"#,
            self.characteristic,
            from.map(|rank| rank.0),
            from.map_or(0, |rank| rank.1),
            to.map(|rank| rank.0),
            to.map_or(i64::MAX, |rank| rank.1),
            self.ends_before,
            self.starts_at,
            most as i64
        )
        .fetch_all(conn)
        .await?;
        Ok(rows.into_iter().rev().map(|row| self.point(row)).collect())
    }

    /// All places in order, gaps among them.
    #[compiled_once]
    pub async fn whole(&self, conn: &mut PgConnection) -> Result<Vec<SeriesPoint>, StoreError> {
        self.between(conn, None, None, usize::MAX >> 1).await
    }

    /// How many points limits could rest on: measured, and not set aside.
    #[compiled_once]
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
    #[compiled_once]
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
    #[compiled_once]
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
}
