//! Moving ranges: max − min of the w values that end at a point. One needs w consecutive points
//! with a value, never spans a phase boundary or a gap, and one that touches a set-aside point is
//! itself set aside.

use crate::constants::{range_constants, range_median};
use crate::subgroup::median;

/// Longest span.
pub(super) const MOST: usize = 10;

/// Looks back on the values before the next.
pub(super) trait LooksBack: Clone {
    /// The moving range that ends at `x`, NaN where there is none (`x` itself is NaN in a gap), and
    /// whether a point it touches is set aside.
    fn push(&mut self, x: f64, aside: bool) -> (f64, bool);
}

/// Span 2, which nearly everybody uses: the value before (NaN for none) and whether it is set aside.
#[derive(Debug, Clone, Copy)]
pub(super) struct OfTwo {
    before: f64,
    aside: bool,
}

impl Default for OfTwo {
    fn default() -> Self {
        Self { before: f64::NAN, aside: false }
    }
}

impl LooksBack for OfTwo {
    #[inline]
    fn push(&mut self, x: f64, aside: bool) -> (f64, bool) {
        let found = ((x - self.before).abs(), aside | self.aside);
        *self = Self { before: x, aside };
        found
    }
}

/// The last `span` values in a ring.
#[derive(Debug, Clone, Copy)]
pub(super) struct Longer {
    span: usize,
    values: [f64; MOST],
    place: usize,
    /// Consecutive points with a value, up to the newest.
    run: usize,
    /// Moving ranges to come that still touch a set-aside point.
    touched: usize,
}

impl Longer {
    fn new(span: usize) -> Self {
        Self { span, values: [f64::NAN; MOST], place: 0, run: 0, touched: 0 }
    }
}

impl LooksBack for Longer {
    fn push(&mut self, x: f64, aside: bool) -> (f64, bool) {
        self.touched = if aside { self.span } else { self.touched.saturating_sub(1) };
        self.run = if x.is_nan() { 0 } else { self.run + 1 };
        self.place = if self.place + 1 == self.span { 0 } else { self.place + 1 };
        self.values[self.place] = x;
        let of = &self.values[..self.span];
        let range = of.iter().fold(x, |a, &b| a.max(b)) - of.iter().fold(x, |a, &b| a.min(b));
        (if self.run < self.span { f64::NAN } else { range }, self.touched > 0)
    }
}

/// Moving ranges of any span.
#[derive(Debug, Clone, Copy)]
pub(super) enum MovingRange {
    Of2(OfTwo),
    OfMore(Longer),
}

impl MovingRange {
    /// At a phase start: nothing to look back on.
    pub fn new(span: usize) -> Self {
        if span == 2 { Self::Of2(OfTwo::default()) } else { Self::OfMore(Longer::new(span)) }
    }

    #[inline]
    pub fn push(&mut self, x: f64, aside: bool) -> (f64, bool) {
        match self {
            Self::Of2(two) => two.push(x, aside),
            Self::OfMore(longer) => longer.push(x, aside),
        }
    }
}

/// Sums of the used values and of the moving ranges whose points are all used, in one pass: a long
/// series does not fit a cache.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Totals {
    sum: f64,
    pub used: usize,
    sum_of_ranges: f64,
    ranges: usize,
}

impl Totals {
    /// Of each point's value (NaN in a gap) and whether it is used.
    pub fn of(values: impl Iterator<Item = (f64, bool)>, span: usize) -> Self {
        match MovingRange::new(span) {
            MovingRange::Of2(two) => Self::default().add(values, two),
            MovingRange::OfMore(longer) => Self::default().add(values, longer),
        }
    }

    /// One loop for each kind of looking back, so that what it remembers stays in registers.
    fn add(self, values: impl Iterator<Item = (f64, bool)>, mut moving: impl LooksBack) -> Self {
        values.fold(self, |totals, (x, used)| {
            let (range, touched) = moving.push(x, !used);
            let counts = !touched & !range.is_nan();
            Self {
                sum: totals.sum + if used { x } else { 0.0 },
                used: totals.used + usize::from(used),
                sum_of_ranges: totals.sum_of_ranges + if counts { range } else { 0.0 },
                ranges: totals.ranges + usize::from(counts),
            }
        })
    }

    pub fn mean(&self) -> Option<f64> {
        (self.used > 0).then(|| self.sum / self.used as f64)
    }

    /// σ̂ = mean MR / d2(w).
    pub fn sigma(&self, span: usize) -> Option<f64> {
        let mean = (self.ranges > 0).then(|| self.sum_of_ranges / self.ranges as f64);
        mean.zip(range_constants(span)).map(|(mean, c)| mean / c.d2)
    }
}

/// σ̂ = mean MR / d2(w) over the moving ranges whose points are all used.
pub(crate) fn sigma_from_mean(values: impl Iterator<Item = (f64, bool)>, span: usize) -> Option<f64> {
    Totals::of(values, span).sigma(span)
}

/// σ̂ = median MR / the median of the range of w normal values.
pub(super) fn sigma_from_median(values: impl Iterator<Item = (f64, bool)>, span: usize) -> Option<f64> {
    let mut moving = MovingRange::new(span);
    let ranges: Vec<f64> = values
        .map(|(x, used)| moving.push(x, !used))
        .filter(|(range, touched)| !touched && !range.is_nan())
        .map(|(range, _)| range)
        .collect();
    median(&ranges).zip(range_median(span)).map(|(mr, c)| mr / c)
}
