//! Moving ranges: max − min of the w values that end at a point. One needs w consecutive points
//! with a value, never spans a phase boundary or a gap, and one that touches a set-aside point is
//! itself set aside.

use std::borrow::Cow;

use fearless_simd::{Level, Simd, SimdBase, dispatch, f64x8};

use crate::constants::{range_constants, range_median};
use crate::subgroup::median;

/// Longest span.
const MOST: usize = 10;

/// What the next moving range looks back on.
#[derive(Debug, Clone, Copy)]
pub(crate) struct MovingRange {
    span: usize,
    /// The last `span` values in a ring, the newest at `place`.
    values: [f64; MOST],
    place: usize,
    /// Consecutive points with a value, up to the newest.
    run: usize,
    /// Moving ranges to come that still touch a set-aside point.
    touched: usize,
}

impl MovingRange {
    /// At a phase start: nothing to look back on.
    pub fn new(span: usize) -> Self {
        Self { span, values: [f64::NAN; MOST], place: 0, run: 0, touched: 0 }
    }

    /// The moving range that ends at `x`, NaN where there is none (`x` itself is NaN in a gap), and
    /// whether a point it touches is set aside.
    #[inline]
    pub fn push(&mut self, x: f64, aside: bool) -> (f64, bool) {
        self.touched = if aside { self.span } else { self.touched.saturating_sub(1) };
        self.run = if x.is_nan() { 0 } else { self.run + 1 };
        self.place = if self.place + 1 == self.span { 0 } else { self.place + 1 };
        self.values[self.place] = x;
        let range = range(&self.values[..self.span]);
        (if self.run < self.span { f64::NAN } else { range }, self.touched > 0)
    }

    /// Appends the moving ranges that end at `values`. Those of 2 need no ring but at the first.
    pub fn push_all(&mut self, values: &[f64], aside: &[bool], into: &mut Vec<f64>) {
        if self.span > 2 || values.is_empty() {
            into.extend(values.iter().zip(aside).map(|(&x, &aside)| self.push(x, aside).0));
            return;
        }
        into.push(self.push(values[0], aside[0]).0);
        into.extend(values.array_windows().map(|[before, x]: &[f64; 2]| (x - before).abs()));
        let last = values.len() - 1;
        if last > 0 {
            // What it looks back on is the last two; those in between were looked at.
            self.push(values[last - 1], aside[last - 1]);
            self.push(values[last], aside[last]);
        }
    }

    /// Whether the moving ranges that end at the next points touch what is set aside.
    pub fn touches<'a>(&self, aside: &'a [bool]) -> Cow<'a, [bool]> {
        if self.touched == 0 && !aside.iter().fold(false, |any, aside| any | aside) {
            return Cow::Borrowed(aside);
        }
        let mut touched = self.touched;
        let touch = |aside: &bool| {
            touched = if *aside { self.span } else { touched.saturating_sub(1) };
            touched > 0
        };
        aside.iter().map(touch).collect()
    }
}

/// max − min; of two values the distance, NaN where one is.
#[inline]
fn range(values: &[f64]) -> f64 {
    match values {
        [a, b] => (a - b).abs(),
        values => {
            values.iter().fold(f64::NEG_INFINITY, |a, &b| a.max(b))
                - values.iter().fold(f64::INFINITY, |a, &b| a.min(b))
        }
    }
}

/// Sums of the used values, from the first on, and of the moving ranges whose points are all used.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Totals {
    first: f64,
    sum: f64,
    pub used: usize,
    sum_of_ranges: f64,
    ranges: usize,
}

/// Runs of points that are all used, so that every window within one counts.
fn used_runs<'a>(values: &'a [f64], used: &'a [bool]) -> impl Iterator<Item = &'a [f64]> {
    // Mostly all of them are, which is found out many at a time.
    let all = used.iter().fold(true, |all, used| all & used);
    let whole = (all && !used.is_empty()).then_some((true, used.len()));
    let in_part = if all { &[] } else { used };
    let lengths = in_part.chunk_by(|a, b| a == b).map(|run| (run[0], run.len()));
    let mut rest = values;
    whole.into_iter().chain(lengths).filter_map(move |(used, length)| {
        let (run, left) = rest.split_at_checked(length)?;
        rest = left;
        used.then_some(run)
    })
}

impl Totals {
    /// Of each point's value (NaN in a gap) and whether it is used.
    pub fn of(values: &[f64], used: &[bool], span: usize) -> Self {
        let mut totals = Self::default();
        for run in used_runs(values, used) {
            if totals.used == 0 {
                totals.first = run[0];
            }
            let first = totals.first;
            totals.used += run.len();
            totals.ranges += (run.len() + 1).saturating_sub(span);
            if span == 2 {
                let (sum, ranges) = dispatch!(Level::new(), simd => sums(simd, run, first));
                totals.sum += sum;
                totals.sum_of_ranges += ranges;
            } else {
                totals.sum += run.iter().map(|x| x - first).sum::<f64>();
                totals.sum_of_ranges += run.windows(span).map(range).sum::<f64>();
            }
        }
        totals
    }

    pub fn mean(&self) -> Option<f64> {
        (self.used > 0).then(|| self.first + self.sum / self.used as f64)
    }

    /// σ̂ = mean MR / d2(w).
    pub fn sigma(&self, span: usize) -> Option<f64> {
        let mean = (self.ranges > 0).then(|| self.sum_of_ranges / self.ranges as f64);
        mean.zip(range_constants(span)).map(|(mean, c)| mean / c.d2)
    }
}

/// Sums of what lies between the first value of all and each of a run, and of the moving ranges of 2: both in one pass,
/// since a long series does not fit a cache, and eight at a time, since each addition waits for the one before.
#[inline(always)]
fn sums<S: Simd>(simd: S, run: &[f64], first: f64) -> (f64, f64) {
    let (mut sum, mut ranges) = (f64x8::splat(simd, 0.0), f64x8::splat(simd, 0.0));
    let origin = f64x8::splat(simd, first);
    let (eights, rest) = run[1..].as_chunks::<8>();
    for (before, now) in run.as_chunks::<8>().0.iter().zip(eights) {
        let (before, now) = (f64x8::from_slice(simd, before), f64x8::from_slice(simd, now));
        sum += now - origin;
        ranges += (now - before).abs();
    }
    let total = |lanes: f64x8<S>| <[f64; 8]>::from(lanes).iter().sum::<f64>();
    let last = &run[run.len() - 1 - rest.len()..];
    last.array_windows().fold((run[0] - first + total(sum), total(ranges)), |(sum, ranges), [before, x]: &[f64; 2]| {
        (sum + (x - first), ranges + (x - before).abs())
    })
}

/// σ̂ = mean MR / d2(w) over the moving ranges whose points are all used.
pub(crate) fn sigma_from_mean(values: &[f64], used: &[bool], span: usize) -> Option<f64> {
    Totals::of(values, used, span).sigma(span)
}

/// σ̂ = median MR / the median of the range of w normal values.
pub(crate) fn sigma_from_median(values: &[f64], used: &[bool], span: usize) -> Option<f64> {
    let ranges: Vec<f64> = used_runs(values, used).flat_map(|run| run.windows(span).map(range)).collect();
    median(&ranges).zip(range_median(span)).map(|(mr, c)| mr / c)
}
