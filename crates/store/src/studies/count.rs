//! What was counted of each kind, in a selection and in parts of it.

use std::collections::BTreeMap;

use chrono::{DateTime, DurationRound, TimeDelta, Utc};
use quality::sample::Defects;
use quality::shift::Calendar;
use quality::study::{Counted, Period, Selection, Span, Split, StudyRefusal};
use sqlx::PgConnection;
use sqlx::types::Json;

use super::pick::{Within, asked_tags, within};
use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::phases::{Phase, holding, phases};
use crate::sites;

/// What the sums are kept by.
const QUARTER: TimeDelta = TimeDelta::minutes(15);

/// Sums by part; without parts under nothing.
type Parts = BTreeMap<Option<String>, Counted>;

/// Counts a selection, and each part of it in its order.
///
/// # Errors
/// A phase of something else; more samples than are looked at where the sums that are kept do not say enough.
pub(super) async fn count(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    selection: &Selection,
    split: Option<&Split>,
) -> Result<(Counted, Vec<(String, Counted)>), StoreError> {
    let phases = phases(&mut *conn, setup.id).await?;
    let calendar = sites::calendar(&mut *conn).await?;
    let counting = Counting { setup, selection, phases: &phases, calendar: &calendar };
    let parts = match split {
        Some(Split::Phase) => counting.by_phase(conn).await?,
        _ => counting.parts(conn, within(selection, &phases)?, split).await?.into_iter().collect(),
    };
    // Every sample is in one part or in none that has a name.
    let whole = parts.iter().fold(Counted::default(), |whole, (_, part)| whole.and(part));
    let named = parts.into_iter().filter_map(|(name, part)| Some((name?, part)));
    Ok((whole, named.filter(|(_, part)| part.samples > 0).collect()))
}

struct Counting<'a> {
    setup: &'a CharacteristicView,
    selection: &'a Selection,
    phases: &'a [Phase],
    calendar: &'a Calendar,
}

impl Counting<'_> {
    /// Each phase by itself: one that begins within a quarter of an hour is told apart there.
    async fn by_phase(&self, conn: &mut PgConnection) -> Result<Vec<(Option<String>, Counted)>, StoreError> {
        let mut parts = vec![];
        let asked = |phase: &&Phase| self.selection.phase.is_none_or(|asked| asked == phase.id);
        for phase in self.phases.iter().filter(asked) {
            let narrowed = Selection { phase: Some(phase.id), ..self.selection.clone() };
            let of = Counting { selection: &narrowed, ..*self };
            let found = of.parts(conn, within(&narrowed, self.phases)?, None).await?;
            parts.extend(found.into_values().map(|part| (Some(phase.name.clone()), part)));
        }
        Ok(parts)
    }

    /// From the sums that are kept, where they say enough; the ends of the time from the samples themselves.
    async fn parts(&self, conn: &mut PgConnection, within: Within, split: Option<&Split>) -> Result<Parts, StoreError> {
        let mut parts = Parts::new();
        let by_time = split.is_none_or(|split| split.span().is_some());
        if !by_time || self.selection.last.is_some() || !self.selection.tags.is_empty() {
            for row in rows(conn, self.setup, self.selection, within, split).await? {
                let part = part(&row, split, self.phases, self.calendar);
                self.add(&mut parts, part, &row);
            }
            return Ok(parts);
        }
        let whole = |at: DateTime<Utc>| at.duration_trunc(QUARTER).unwrap_or(at);
        let since = within.since.map(|at| if whole(at) == at { at } else { whole(at) + QUARTER });
        let until = within.until.map(whole);
        if since.zip(until).is_none_or(|(since, until)| since < until) {
            self.kept(conn, Within { since, until }, split, &mut parts).await?;
        }
        let edges = match (within.since, within.until) {
            // Within one quarter of an hour.
            (Some(first), Some(last)) if since >= until => vec![(first, last)],
            (first, last) => {
                let head = first.zip(since).filter(|(first, since)| first < since);
                let tail = until.zip(last).filter(|(until, last)| until < last);
                head.into_iter().chain(tail).collect()
            }
        };
        for (since, until) in edges {
            let edge = Within { since: Some(since), until: Some(until) };
            for row in rows(conn, self.setup, self.selection, edge, split).await? {
                let part = part(&row, split, self.phases, self.calendar);
                self.add(&mut parts, part, &row);
            }
        }
        Ok(parts)
    }

    async fn kept(
        &self,
        conn: &mut PgConnection,
        Within { since, until }: Within,
        split: Option<&Split>,
        parts: &mut Parts,
    ) -> Result<(), StoreError> {
        let periods = match split.and_then(Split::span) {
            Some(span) => self.periods(&mut *conn, span, Within { since, until }).await?,
            None => vec![],
        };
        let begins: Vec<DateTime<Utc>> = periods.iter().map(|period| period.began).collect();
        let name = |bucket: i32| {
            let nth = usize::try_from(bucket).ok()?.checked_sub(1)?;
            Some(periods.get(nth)?.name.clone())
        };
        // Where each period begins is found once: asking each row for its clock and its calendar took half a second.
        let sums = sqlx::query!(
            r#"select case when cardinality($4::timestamptz[]) = 0 then 0 else width_bucket(quarter, $4) end as "period!", aside,
                      sum(samples)::bigint as "samples!", sum(inspected)::bigint as "inspected!", sum(count)::bigint as "count!"
               from counted
               where characteristic_id = $1 and quarter >= coalesce($2, '-infinity'::timestamptz)
                 and quarter < coalesce($3, 'infinity'::timestamptz)
               group by 1, 2 having sum(samples) <> 0"#,
            self.setup.id,
            since,
            until,
            &begins
        )
        .fetch_all(&mut *conn)
        .await?;
        for sum in sums {
            let counted = parts.entry(name(sum.period)).or_default();
            self.take(counted, sum.aside, (sum.samples, sum.inspected, sum.count));
        }
        let kinds = sqlx::query!(
            r#"select case when cardinality($4::timestamptz[]) = 0 then 0 else width_bucket(quarter, $4) end as "period!", kind, sum(count)::bigint as "count!"
               from counted_kind
               where characteristic_id = $1 and quarter >= coalesce($2, '-infinity'::timestamptz)
                 and quarter < coalesce($3, 'infinity'::timestamptz) and (not aside or $5)
               group by 1, 2 having sum(count) <> 0"#,
            self.setup.id,
            since,
            until,
            &begins,
            self.selection.set_aside
        )
        .fetch_all(conn)
        .await?;
        for kind in kinds {
            let counted = parts.entry(name(kind.period)).or_default();
            *counted.kinds.entry(self.setup.characteristic.kind_named(&kind.kind)).or_default() +=
                kind.count.unsigned_abs();
        }
        Ok(())
    }

    /// Every period from the first sum to the last.
    async fn periods(
        &self,
        conn: &mut PgConnection,
        span: Span,
        Within { since, until }: Within,
    ) -> Result<Vec<Period>, StoreError> {
        let ends = sqlx::query!(
            "select min(quarter) as first, max(quarter) as last from counted
             where characteristic_id = $1 and quarter >= coalesce($2, '-infinity'::timestamptz)
               and quarter < coalesce($3, 'infinity'::timestamptz)",
            self.setup.id,
            since,
            until
        )
        .fetch_one(conn)
        .await?;
        let Some((first, last)) = ends.first.zip(ends.last) else { return Ok(vec![]) };
        let from = span.holding(first, self.calendar);
        let next = |period: &Period| {
            let next = span.holding(period.ends, self.calendar)?;
            (period.ends <= last && next.began > period.began).then_some(next)
        };
        Ok(std::iter::successors(from, next).collect())
    }

    fn take(&self, counted: &mut Counted, aside: bool, (samples, inspected, count): (i64, i64, i64)) {
        if aside && !self.selection.set_aside {
            counted.set_aside += samples.unsigned_abs();
            return;
        }
        counted.samples += samples.unsigned_abs();
        counted.inspected += inspected.unsigned_abs();
        counted.count += count.unsigned_abs();
    }

    fn add(&self, parts: &mut Parts, part: Option<String>, row: &CountedRow) {
        let counted = parts.entry(part).or_default();
        self.take(counted, row.aside, (1, row.inspected.into(), row.count.into()));
        if row.aside && !self.selection.set_aside {
            return;
        }
        for (name, count) in row.kinds(self.setup) {
            *counted.kinds.entry(name).or_default() += count;
        }
    }
}

/// The part that a sample belongs to.
pub(super) fn part(row: &CountedRow, split: Option<&Split>, phases: &[Phase], calendar: &Calendar) -> Option<String> {
    match split? {
        Split::Phase => phases.get(holding(phases, row.taken_at)).map(|phase| phase.name.clone()),
        Split::Tag { .. } => row.tag.clone(),
        split => split.part(row.taken_at, calendar),
    }
}

/// A sample with what was counted in it.
pub(super) struct CountedRow {
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    pub aside: bool,
    pub inspected: i32,
    pub count: i32,
    defects: Json<Vec<Defects>>,
    tag: Option<String>,
}

impl CountedRow {
    /// How many of each kind, by its name.
    pub fn kinds(&self, setup: &CharacteristicView) -> impl Iterator<Item = (String, u64)> {
        self.defects.iter().map(|defects| (defects.name(&setup.characteristic), u64::from(defects.count)))
    }
}

/// The samples of a selection that hold a count, in their order.
pub(super) async fn rows(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    selection: &Selection,
    Within { since, until }: Within,
    split: Option<&Split>,
) -> Result<Vec<CountedRow>, StoreError> {
    let by_tag = if let Some(Split::Tag { name }) = split { Some(name.as_str()) } else { None };
    let rows = sqlx::query_as!(
        CountedRow,
        r#"select number, taken_at, aside, inspected as "inspected!", count as "count!",
                  defects as "defects: Json<Vec<Defects>>", tags->>$6 as tag
           from sample
           where characteristic_id = $1 and count is not null and not gap
             and taken_at >= coalesce($2, '-infinity'::timestamptz) and taken_at < coalesce($3, 'infinity'::timestamptz)
             and ($4::jsonb is null or not exists (
                  select from jsonb_each($4) asked where not coalesce(asked.value ? (tags->>asked.key), false)))
           order by taken_at desc, number desc limit $5"#,
        setup.id,
        since,
        until,
        asked_tags(selection)?,
        i64::from(selection.last.unwrap_or(Selection::SAMPLES_AT_MOST + 1)),
        by_tag
    );
    let mut rows = rows.fetch_all(conn).await?;
    if rows.len() > Selection::SAMPLES_AT_MOST as usize {
        return Err(StudyRefusal::TooMany { most: Selection::SAMPLES_AT_MOST }.into());
    }
    rows.reverse();
    Ok(rows)
}
