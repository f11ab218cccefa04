//! Moving ranges: max − min of the w values that end at a point. One needs w consecutive points
//! with a value, never spans a phase boundary or a gap, and one that touches a set-aside point is
//! itself set aside.

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

    /// The moving ranges that end at `values`, and whether they touch what is set aside. Those of 2
    /// need no ring but at the first.
    pub fn push_all(&mut self, values: &[f64], aside: &[bool]) -> (Vec<f64>, Vec<bool>) {
        if self.span > 2 || values.is_empty() {
            return values.iter().zip(aside).map(|(&x, &aside)| self.push(x, aside)).unzip();
        }
        let (first, touched) = self.push(values[0], aside[0]);
        let ranges = values.array_windows().map(|[before, x]: &[f64; 2]| (x - before).abs());
        let touches = aside.array_windows().map(|[before, aside]: &[bool; 2]| before | aside);
        let found = (std::iter::once(first).chain(ranges).collect(), std::iter::once(touched).chain(touches).collect());
        self.push(values[values.len() - 1], aside[values.len() - 1]);
        found
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
    let lengths = used.chunk_by(|a, b| a == b).map(|run| (run[0], run.len()));
    let mut rest = values;
    lengths.filter_map(move |(used, length)| {
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
                // Both sums in one pass: a long series does not fit a cache.
                totals.sum += run[0] - first;
                for &[before, x] in run.array_windows() {
                    totals.sum += x - first;
                    totals.sum_of_ranges += (x - before).abs();
                }
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

/// σ̂ = mean MR / d2(w) over the moving ranges whose points are all used.
pub(crate) fn sigma_from_mean(values: &[f64], used: &[bool], span: usize) -> Option<f64> {
    Totals::of(values, used, span).sigma(span)
}

/// σ̂ = median MR / the median of the range of w normal values.
pub(crate) fn sigma_from_median(values: &[f64], used: &[bool], span: usize) -> Option<f64> {
    let ranges: Vec<f64> = used_runs(values, used).flat_map(|run| run.windows(span).map(range)).collect();
    median(&ranges).zip(range_median(span)).map(|(mr, c)| mr / c)
}
