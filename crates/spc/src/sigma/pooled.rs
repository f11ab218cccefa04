//! Within sigma of subgroups, from their ranges or standard deviations.
//!
//! From ranges σ̂ = Σ fᵢRᵢ/d2(nᵢ) / Σ fᵢ with fᵢ = d2²/d3² at nᵢ; from standard deviations
//! σ̂ = Σ hᵢsᵢ/c4(nᵢ) / Σ hᵢ with hᵢ = c4²/(1−c4²). These are the weights of least variance; with equal n they are
//! R̄/d2 and s̄/c4. A point with one value counts for the centre and gives no range or s.
//! Source: ISO 7870-2; Burr (1967) for unequal n.

use super::stretch::Stretch;
use crate::constants::{c4, median_error, range_constants};
use crate::figure::raw;
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
    pub fn error(self, n: usize) -> f64 {
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
}

/// Centre and within sigma of some points.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Pooled {
    /// The mean of their locations, weighted with n.
    pub center: Option<f64>,
    /// Nothing without any subgroup of two values or more.
    pub sigma: Option<f64>,
    /// Points that the centre used.
    pub used: usize,
}

/// Centre and within sigma of the points used. Without any subgroup of two values or more there is a
/// centre but no sigma.
pub(crate) fn pooled(stretch: Stretch, location: Location, dispersion: Dispersion) -> Pooled {
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
    Pooled {
        center: first.map(|first| first + sum / values as f64),
        sigma: (weights > 0.0).then(|| weighted / weights),
        used,
    }
}

/// Largest subgroup whose range still holds nearly all that its s would say.
const RANGES_UP_TO: usize = 10;

/// Whether ranges serve: equal n of at most ten. Otherwise s does.
pub(crate) fn dispersion_for(mut sizes: impl Iterator<Item = usize>) -> Dispersion {
    let first = sizes.next().unwrap_or(0);
    if first <= RANGES_UP_TO && sizes.all(|n| n == first) { Dispersion::Range } else { Dispersion::Sd }
}
