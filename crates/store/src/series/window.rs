//! The points around some that changed, as far as their judgement can depend on them.

use chrono::{DateTime, Utc};
use quality::judging::{Ground, Judgement, Lies, judge_window, reach};
use quality::limits::TRIAL_POINTS_AT_MOST;
use quality::place::Place;
use spc::chart::{Statistic, Sums, Watched};
use sqlx::PgConnection;

use super::beside::Beside;
use super::rows::{Rank, SeriesPoint, Stretch};
use crate::StoreError;
use crate::phases::Hold;

/// Points that changed in their surroundings, within their phase.
#[derive(Debug)]
pub(crate) struct Window {
    pub points: Vec<SeriesPoint>,
    /// Where the first point that changed stands.
    pub changed: usize,
    /// The phase ends with the last point.
    pub ends_here: bool,
    /// The phase begins with the first point.
    pub begins_here: bool,
    /// What the points look like under the figures that hold.
    pub chart: Watched,
    /// When the last signal of the characteristic ends, as far as that is known.
    last_signal: Option<DateTime<Utc>>,
}

impl Window {
    pub fn places(&self) -> Vec<&Place> {
        self.points.iter().map(|point| &point.place).collect()
    }

    /// As signals are held against it.
    pub fn judgement<'a>(&'a self, places: &'a [&'a Place]) -> Judgement<'a> {
        Judgement { window: &self.chart, places, changed: self.changed, ends_here: self.ends_here }
    }

    /// Where a sample lies, as the first point of something or the last.
    pub fn lies(&self, at: Rank, first: bool) -> Lies {
        let before = self.points.partition_point(|point| point.rank() < at);
        let found =
            self.points[before..].iter().take_while(|point| point.rank() == at).position(|p| p.sample.is_some());
        match found {
            Some(i) => Lies::At(before + i),
            None if before == 0 => Lies::Before,
            None if before == self.points.len() => Lies::After,
            None if first => Lies::At(before),
            None => Lies::At(before - 1),
        }
    }

    /// The centre line of a panel at one of the points.
    pub fn center_at(&self, panel: Statistic, i: usize) -> Option<f64> {
        self.chart.panels.iter().find(|(statistic, _)| *statistic == panel)?.1.get(i)?.center.get()
    }

    /// Whether signals may lie in it.
    pub fn may_hold_signals(&self) -> bool {
        let first = self.points.first().map(|point| point.taken_at);
        self.last_signal.zip(first).is_none_or(|(last, first)| last >= first)
    }

    /// Whether the points that changed are not the latest of their phase.
    pub fn is_late(&self) -> bool {
        self.changed + 1 < self.points.len()
    }
}

/// A window is widened at most to so many times what it usually holds. Who has taken single samples
/// among gaps for so long has no moving ranges to judge, and saving must not read the whole history.
const WIDEST: usize = 64;

/// Loads the surroundings of some points that follow one another (or of one that is not saved yet, which comes
/// after all of its time) and judges them. At most `ahead_at_most` points behind them are looked at. What usually lies
/// beside them need not be read where it is `known`.
pub(crate) async fn around(
    conn: &mut PgConnection,
    stretch: &Stretch<'_>,
    hold: Hold,
    middle: Vec<SeriesPoint>,
    ahead_at_most: usize,
    known: Option<Beside>,
) -> Result<Window, StoreError> {
    let schemes = stretch.schemes();
    let ground = Ground { figures: hold.figures, schemes };
    let (Some(first), Some(last)) = (middle.first(), middle.last()) else {
        return Err(StoreError::Corrupt("nothing to judge".into()));
    };
    let (first, last) = (first.rank(), last.rank());
    let scheme = middle[0].place.scheme;
    let usual = stretch.usually_beside(scheme, hold, ahead_at_most);
    let beside = match known {
        Some(known) => known,
        None => stretch.beside(&mut *conn, (Some(first), Some(last)), usual).await?,
    };
    if schemes.get(scheme).keeps_sums() {
        return remembering((&ground, hold.trial), middle, beside, usual);
    }
    let ((mut back, mut ahead), usual) = (usual, schemes.usual_reach());
    let Beside { mut before, mut after, last_signal } = beside;
    loop {
        let changed = before.len();
        let places: Vec<&Place> = before.iter().chain(&middle).chain(&after).map(|point| &point.place).collect();
        let chart = judge_window(&ground, &places, None)?;
        let reach = reach(schemes, &places, &chart, changed, changed + middle.len() - 1);
        // Fewer than were asked for: there are no more.
        let (more_before, more_after) = (found(&before) == back, found(&after) == ahead);
        let wanting_back = !reach.back && more_before && back < usual * WIDEST;
        let wanting_ahead = !reach.ahead && more_after && ahead < usual * WIDEST;
        if wanting_back {
            back *= 4;
            before = stretch.before(&mut *conn, Some(first), back).await?;
        }
        if wanting_ahead {
            ahead *= 4;
            after = stretch.after(&mut *conn, last, ahead).await?;
        }
        if !wanting_back && !wanting_ahead {
            let points = before.into_iter().chain(middle).chain(after).collect();
            let (ends_here, begins_here) = (!more_after, !more_before);
            return Ok(Window { points, changed, ends_here, begins_here, chart, last_signal });
        }
    }
}

/// The sums beside the last point, which the next one goes on from; none where it starts afresh behind that point, at
/// a gap or with another scheme.
fn last_sums(before: &[SeriesPoint], scheme: usize) -> Option<Sums> {
    let last = before.iter().rposition(|point| point.sample.is_some())?;
    let goes_on = before[last].place.scheme == scheme && !before[last + 1..].iter().any(|gap| gap.place.restart);
    before[last].place.sums.filter(|_| goes_on)
}

/// What comes before some points, so that their statistics are right: places that moving ranges and averages reach
/// over, or the sums that they go on from.
pub(crate) async fn lead_in(
    conn: &mut PgConnection,
    stretch: &Stretch<'_>,
    trial: bool,
    first: (Rank, usize),
) -> Result<(Vec<SeriesPoint>, Option<Sums>), StoreError> {
    let (rank, scheme) = (first.0, stretch.schemes().get(first.1));
    if scheme.keeps_sums() {
        let back = if trial { TRIAL_POINTS_AT_MOST } else { 1 };
        let before = stretch.before(conn, Some(rank), back).await?;
        return Ok(if trial { (before, None) } else { (vec![], last_sums(&before, first.1)) });
    }
    let mut back = scheme.lead();
    loop {
        let before = stretch.before(&mut *conn, Some(rank), back).await?;
        let used = before.iter().filter(|point| point.place.counts()).count();
        if used >= scheme.lead() || found(&before) < back || back > scheme.lead() * WIDEST {
            return Ok((before, None));
        }
        back *= 4;
    }
}

fn found(points: &[SeriesPoint]) -> usize {
    points.iter().filter(|point| point.sample.is_some()).count()
}

/// A chart that remembers everything before goes on from the sums beside the point before; what changes in it
/// changes all points up to the next restart. On trial, where the centre moves, it begins afresh with the points
/// that the limits rest on.
fn remembering(
    (ground, trial): (&Ground<'_>, bool),
    middle: Vec<SeriesPoint>,
    Beside { mut before, mut after, last_signal }: Beside,
    (back, ahead): (usize, usize),
) -> Result<Window, StoreError> {
    let begins_here = found(&before) < back;
    let afresh = |point: &SeriesPoint| point.place.restart || point.place.scheme != middle[0].place.scheme;
    let mut sums: Option<Sums> = None;
    if !trial {
        sums = last_sums(&before, middle[0].place.scheme);
        before.clear();
    }
    let ends_here = found(&after) < ahead;
    after.truncate(after.iter().position(afresh).unwrap_or(after.len()));
    let changed = before.len();
    let points: Vec<SeriesPoint> = before.into_iter().chain(middle).chain(after).collect();
    let chart = judge_window(ground, &points.iter().map(|point| &point.place).collect::<Vec<_>>(), sums)?;
    Ok(Window { points, changed, ends_here, begins_here, chart, last_signal })
}
