//! Charts of subgroups: mean and range, mean and s, median and range.
//!
//! Centre: the mean of the subgroups' means (or medians), weighted with nᵢ. Within sigma from ranges:
//! σ̂ = Σ fᵢRᵢ/d2(nᵢ) / Σ fᵢ with fᵢ = d2²/d3² at nᵢ; from standard deviations:
//! σ̂ = Σ hᵢsᵢ/c4(nᵢ) / Σ hᵢ with hᵢ = c4²/(1−c4²). These are the weights of least variance; with equal
//! n they are R̄/d2 and s̄/c4. Limits of means X̿ ± kσ̂/√nᵢ, of medians ± k e(nᵢ)σ̂/√nᵢ; range panel
//! d2σ̂ ± k d3σ̂, s panel c4σ̂ ± kσ̂√(1−c4²), both floored at 0.
//! Source: ISO 7870-2; Burr (1967) for unequal n.
//!
//! A point with one value counts for the centre, gives no range or s, and its limits use n = 1.

use super::answer::Statistic;
use super::lines::{Estimate, Lines, Placed, Stretch, raw};
use super::plot::{Chart, Plot};
use super::request::{ChartOptions, Limits};
use crate::constants::{c4, median_error, range_constants};
use crate::points::Point;
use crate::subgroup::{mean, median, range, sd};

/// What stands for the location of a subgroup.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Location {
    /// x̄
    Mean,
    /// The middle value, or the mean of the middle two.
    Median,
}

/// What stands for the spread of a subgroup.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Dispersion {
    /// max − min
    Range,
    /// s, divisor n − 1.
    Sd,
}

impl Location {
    pub fn of(self, values: &[f64]) -> Option<f64> {
        match self {
            Location::Mean => mean(values),
            Location::Median => median(values),
        }
    }

    /// Standard error of the location of n values, in within sigma; NaN of none.
    fn error(self, n: usize) -> f64 {
        let root = (n as f64).sqrt();
        match self {
            Location::Mean => 1.0 / root,
            Location::Median => raw(median_error(n)) / root,
        }
    }
}

impl Dispersion {
    pub fn of(self, values: &[f64]) -> Option<f64> {
        match self {
            Dispersion::Range => range(values),
            Dispersion::Sd => sd(values),
        }
    }

    /// Mean and standard deviation of the statistic of n standard normal values.
    pub fn constants(self, n: usize) -> Option<(f64, f64)> {
        match self {
            Dispersion::Range => range_constants(n).map(|c| (c.d2, c.d3)),
            Dispersion::Sd => c4(n).map(|c| (c, (1.0 - c * c).sqrt())),
        }
    }

    /// Lines of the statistic of n values: its mean ± k standard deviations, floored at 0.
    pub(super) fn lines(self, n: usize, sigma: f64, k: f64) -> Lines {
        self.constants(n).map_or(Lines::NONE, |(mean, sd)| Lines::around(mean * sigma, sd * sigma, k).not_below(0.0))
    }
}

/// Centre and within sigma of the points used. Without any subgroup of two values or more there is a
/// centre but no sigma.
pub(crate) fn pooled(stretch: Stretch, location: Location, dispersion: Dispersion) -> Estimate {
    // From the first on, so that equal points have their own value as the centre, to the last bit.
    let (mut first, mut sum, mut values, mut used) = (None, 0.0, 0usize, 0);
    let (mut weighted, mut weights) = (0.0, 0.0);
    for point in stretch.used().map(Point::values) {
        let at = raw(location.of(point));
        sum += point.len() as f64 * (at - *first.get_or_insert(at));
        values += point.len();
        used += 1;
        if let (Some(spread), Some((mean, sd))) = (dispersion.of(point), dispersion.constants(point.len())) {
            let weight = (mean / sd).powi(2);
            weighted += weight * spread / mean;
            weights += weight;
        }
    }
    Estimate {
        center: first.map(|first| first + sum / values as f64),
        sigma: (weights > 0.0).then(|| weighted / weights),
        used,
        ..Estimate::default()
    }
}

/// A chart of subgroups.
pub(super) struct Subgroups {
    pub location: Location,
    pub dispersion: Dispersion,
}

impl Chart for Subgroups {
    type Plot = SubgroupsPlot;

    fn statistics(&self) -> &'static [Statistic] {
        match (self.location, self.dispersion) {
            (Location::Mean, Dispersion::Range) => &[Statistic::Mean, Statistic::Range],
            (Location::Mean, Dispersion::Sd) => &[Statistic::Mean, Statistic::Sd],
            (Location::Median, Dispersion::Range) => &[Statistic::Median, Statistic::Range],
            (Location::Median, Dispersion::Sd) => &[Statistic::Median, Statistic::Sd],
        }
    }

    fn estimate(&self, stretch: Stretch, _: &ChartOptions, _: &Limits) -> Estimate {
        pooled(stretch, self.location, self.dispersion)
    }

    fn plot(&self, estimate: &Estimate, limits: &Limits, _: &ChartOptions) -> SubgroupsPlot {
        let (location, dispersion) = (self.location, self.dispersion);
        SubgroupsPlot {
            location,
            dispersion,
            center: raw(estimate.center),
            sigma: raw(estimate.sigma),
            limits: *limits,
        }
    }
}

/// Each point's own n sets the width of its limits.
pub(super) struct SubgroupsPlot {
    location: Location,
    dispersion: Dispersion,
    center: f64,
    sigma: f64,
    limits: Limits,
}

impl Plot for SubgroupsPlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        let values = point.values();
        let (n, k) = (values.len(), self.limits.k);
        let error = if n == 0 { f64::NAN } else { self.sigma * self.location.error(n) };
        panels[0] =
            Lines::around(self.center, error, k).or_constants(&self.limits).place(raw(self.location.of(values)), aside);
        panels[1] = self.dispersion.lines(n, self.sigma, k).place(raw(self.dispersion.of(values)), aside);
    }
}
