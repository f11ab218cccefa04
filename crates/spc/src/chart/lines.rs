//! What the charts share: the points an estimate uses, its result, and the lines of one point.

use std::borrow::Cow;

use super::answer::PanelPoint;
use super::request::{ChartRequest, Limits, LimitsBasis};
use crate::figure::Figure;
use crate::points::{Point, Points};
use crate::subgroup::mean;

/// What a phase's limits are made of, estimated or given. Putting limits in force freezes these
/// figures, not the drawn lines: each point's own n still sets its width.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Estimate {
    /// Centre of the location panel; p̄, c̄ or ū of counts; the mean count of g. `None` when no point
    /// could be used.
    pub center: Option<f64>,
    /// Within sigma of single values; σ_z of p′ and u′; `None` when it cannot be estimated, and for
    /// charts that have none.
    pub sigma: Option<f64>,
    /// Sigma between subgroups, of between and within charts.
    pub sigma_between: Option<f64>,
    /// Sigma of the subgroups' means, of between and within charts.
    pub sigma_of_means: Option<f64>,
    /// Mean n of the points used, where straight limits or a between and within chart need it.
    pub mean_size: Option<f64>,
    /// Lower limit, centre and upper limit of a t chart, quantiles of its fit.
    pub quantiles: Option<[f64; 3]>,
    /// Points that the centre used; 0 when given.
    pub used: usize,
}

/// The points of one phase, and which of them an estimate may use.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Stretch<'a> {
    pub points: &'a Points,
    pub used: &'a [bool],
    pub start: usize,
    pub end: usize,
}

impl<'a> Stretch<'a> {
    /// All points of a series that are not set aside, as one phase.
    pub fn whole(points: &'a Points, used: &'a [bool]) -> Self {
        Self { points, used, start: 0, end: points.len().saturating_sub(1) }
    }

    /// No points at all, for figures that rest on none.
    pub fn none(points: &'a Points) -> Self {
        Self { points, used: &[], start: 1, end: 0 }
    }

    /// Mean n of the points that may be used.
    pub fn mean_size(self) -> Option<f64> {
        mean(&self.used().map(Point::size).collect::<Vec<_>>())
    }

    /// Mean n of all points of the phase.
    pub fn mean_size_of_all(self) -> Option<f64> {
        let sizes = self.iter().filter(|(point, _)| !point.is_gap()).map(|(point, _)| point.size());
        mean(&sizes.collect::<Vec<_>>())
    }

    /// Every point of the phase in order, with whether it may be used.
    #[inline]
    pub fn iter(self) -> impl Iterator<Item = (Point<'a>, bool)> + Clone {
        (self.start..=self.end).map(move |i| (self.points.get(i), self.used[i]))
    }

    /// Whether each point of the phase may be used.
    pub fn used_flags(self) -> &'a [bool] {
        &self.used[self.start..=self.end]
    }

    /// The only value of each point, NaN in a gap.
    pub fn singles(self) -> Cow<'a, [f64]> {
        match self.points {
            Points::Values(readings) if readings.equal_size() == Some(1) => {
                Cow::Borrowed(&readings.values()[self.start..=self.end])
            }
            points => (self.start..=self.end).map(|i| points.get(i).single()).collect(),
        }
    }

    /// The points that may be used.
    pub fn used(self) -> impl Iterator<Item = Point<'a>> {
        self.iter().filter(|(_, used)| *used).map(|(point, _)| point)
    }
}

/// Whether each point of the series is set aside.
pub(crate) fn set_aside(request: &ChartRequest) -> Vec<bool> {
    let mut aside = vec![false; request.points.len()];
    request.excluded.iter().for_each(|&i| aside[i] = true);
    aside
}

/// Whether each point of the series may be used for the estimate of its phase.
pub(crate) fn usable(request: &ChartRequest, aside: &[bool]) -> Vec<bool> {
    let mut usable: Vec<bool> = aside.iter().map(|aside| !aside).collect();
    if !request.points.has_no_gaps() {
        for (i, used) in usable.iter_mut().enumerate() {
            *used &= !request.points.get(i).is_gap();
        }
    }
    for (phase, limits) in request.limits.iter().enumerate() {
        let (start, end) = request.phase_bounds(phase);
        if let LimitsBasis::Estimated { from, to } = limits.basis
            && from.or(to).is_some()
        {
            let range = from.unwrap_or(start)..=to.unwrap_or(end);
            for (i, used) in usable.iter_mut().enumerate().take(end + 1).skip(start) {
                *used &= range.contains(&i);
            }
        }
    }
    usable
}

/// Absent as NaN, which stays absent through arithmetic.
#[inline]
pub(super) fn raw(x: Option<f64>) -> f64 {
    x.unwrap_or(f64::NAN)
}

/// The lines of one point before they become figures; NaN where there is none.
#[derive(Debug, Clone, Copy)]
pub(super) struct Lines {
    pub center: f64,
    pub sigma: f64,
    pub lower: f64,
    pub upper: f64,
}

impl Lines {
    pub const NONE: Self = Self { center: f64::NAN, sigma: f64::NAN, lower: f64::NAN, upper: f64::NAN };

    /// centre ± kσ.
    #[inline]
    pub fn around(center: f64, sigma: f64, k: f64) -> Self {
        Self { center, sigma, lower: center - k * sigma, upper: center + k * sigma }
    }

    /// No limit below `edge`; a limit that is absent stays absent.
    #[inline]
    pub fn not_below(self, edge: f64) -> Self {
        Self { lower: if self.lower < edge { edge } else { self.lower }, ..self }
    }

    /// No limit above `edge`.
    #[inline]
    pub fn not_above(self, edge: f64) -> Self {
        Self { upper: if self.upper > edge { edge } else { self.upper }, ..self }
    }

    /// Constants take the place of computed limits, side by side.
    #[inline]
    pub fn or_constants(self, limits: &Limits) -> Self {
        Self { lower: limits.lower.unwrap_or(self.lower), upper: limits.upper.unwrap_or(self.upper), ..self }
    }

    /// Whether all four are the same, or absent alike.
    #[inline]
    pub fn same(&self, other: &Self) -> bool {
        let bits = |lines: &Self| [lines.center, lines.sigma, lines.lower, lines.upper].map(f64::to_bits);
        bits(self) == bits(other)
    }

    /// A value among these lines. Without a value there is nothing to test, and neither without any line:
    /// a constant limit is one where the centre is missing too.
    #[inline]
    pub fn place(self, value: f64, aside: bool) -> Placed {
        let lined = self.center.is_finite() || self.lower.is_finite() || self.upper.is_finite();
        Placed { value, lines: self, tested: !aside && value.is_finite() && lined }
    }
}

/// A point placed in a panel; NaN where there is no value.
#[derive(Debug, Clone, Copy)]
pub(super) struct Placed {
    pub value: f64,
    pub lines: Lines,
    /// Rules may look at it.
    pub tested: bool,
}

impl Placed {
    pub const NOWHERE: Self = Self { value: f64::NAN, lines: Lines::NONE, tested: false };

    /// (value − centre)/sigma; not finite where there is no sigma above 0.
    #[inline]
    pub fn z(&self) -> f64 {
        (self.value - self.lines.center) / self.lines.sigma
    }
}

impl From<Placed> for PanelPoint {
    fn from(placed: Placed) -> Self {
        let Lines { center, sigma, lower, upper } = placed.lines;
        Self {
            value: Figure::new(placed.value),
            center: Figure::new(center),
            lower: Figure::new(lower),
            upper: Figure::new(upper),
            sigma: Figure::new(sigma),
            z: Figure::new(placed.z()),
            flagged: false,
            tested: placed.tested,
        }
    }
}

impl From<&PanelPoint> for Placed {
    fn from(point: &PanelPoint) -> Self {
        let [center, sigma, lower, upper] = [point.center, point.sigma, point.lower, point.upper].map(Figure::raw);
        Self { value: point.value.raw(), lines: Lines { center, sigma, lower, upper }, tested: point.tested }
    }
}
