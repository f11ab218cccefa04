//! Moving ranges: max − min of the w values that end at a point. One needs w consecutive points
//! with a value, never spans a phase boundary or a gap, and one that touches a set-aside point is
//! itself set aside.

use crate::constants::{range_constants, range_median};
use crate::subgroup::median;

/// Longest span.
pub(super) const MOST: usize = 10;

/// The values that the next moving range looks back on.
#[derive(Debug, Clone, Copy)]
pub(super) enum MovingRange {
    /// Span 2, which nearly everybody uses: the value before (NaN for none) and whether it is set aside.
    OfTwo { before: f64, aside: bool },
    /// Longer spans.
    Of(Longer),
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

impl MovingRange {
    /// At a phase start: nothing to look back on.
    pub fn new(span: usize) -> Self {
        match span {
            2 => Self::OfTwo { before: f64::NAN, aside: false },
            _ => Self::Of(Longer { span, values: [f64::NAN; MOST], place: 0, run: 0, touched: 0 }),
        }
    }

    /// The moving range that ends at `x`, NaN where there is none (`x` itself is NaN in a gap), and
    /// whether a point it touches is set aside.
    #[inline]
    pub fn push(&mut self, x: f64, now_aside: bool) -> (f64, bool) {
        match self {
            Self::OfTwo { before, aside } => {
                let found = ((x - *before).abs(), now_aside || *aside);
                (*before, *aside) = (x, now_aside);
                found
            }
            Self::Of(longer) => longer.push(x, now_aside),
        }
    }
}

impl Longer {
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

/// σ̂ = mean MR / d2(w) over the moving ranges whose points are all used; `values` holds each point's
/// value (NaN in a gap) and whether it is used.
pub(crate) fn sigma_from_mean(values: impl Iterator<Item = (f64, bool)>, span: usize) -> Option<f64> {
    let mut moving = MovingRange::new(span);
    let (mut sum, mut count) = (0.0, 0usize);
    for (x, used) in values {
        let (range, touched) = moving.push(x, !used);
        let counts = !touched && !range.is_nan();
        sum += if counts { range } else { 0.0 };
        count += usize::from(counts);
    }
    (count > 0).then(|| sum / count as f64).zip(range_constants(span)).map(|(mean, c)| mean / c.d2)
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
