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

use super::answer::{Panel, PanelPoint, Phase, Statistic};
use super::lines::{Estimate, dispersion_point, location_point, usable};
use super::request::ChartRequest;
use crate::constants::{c4, median_error, range_constants};
use crate::subgroup::Subgroup;

/// What stands for the location of a subgroup.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Location {
    /// x̄
    Mean,
    /// The middle value, or the mean of the middle two.
    Median,
}

/// What stands for the spread of a subgroup.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Dispersion {
    /// max − min
    Range,
    /// s, divisor n − 1.
    Sd,
}

impl Location {
    fn of(self, subgroup: &Subgroup) -> f64 {
        match self {
            Location::Mean => subgroup.mean,
            Location::Median => subgroup.median,
        }
    }

    /// Standard error of the location of n values, in within sigma.
    fn error(self, n: usize) -> Option<f64> {
        let root = (n as f64).sqrt();
        match self {
            Location::Mean => Some(1.0 / root),
            Location::Median => median_error(n).map(|e| e / root),
        }
    }

    fn statistic(self) -> Statistic {
        match self {
            Location::Mean => Statistic::Mean,
            Location::Median => Statistic::Median,
        }
    }
}

impl Dispersion {
    fn of(self, subgroup: &Subgroup) -> Option<f64> {
        match self {
            Dispersion::Range => subgroup.range,
            Dispersion::Sd => subgroup.sd,
        }
    }

    /// Mean and standard deviation of the statistic of n standard normal values.
    fn constants(self, n: usize) -> Option<(f64, f64)> {
        match self {
            Dispersion::Range => range_constants(n).map(|c| (c.d2, c.d3)),
            Dispersion::Sd => c4(n).map(|c| (c, (1.0 - c * c).sqrt())),
        }
    }

    fn statistic(self) -> Statistic {
        match self {
            Dispersion::Range => Statistic::Range,
            Dispersion::Sd => Statistic::Sd,
        }
    }
}

/// Estimates centre and within sigma from subgroups. Without any subgroup of two values or more
/// there is a centre but no sigma.
pub fn estimate<'a>(
    location: Location,
    dispersion: Dispersion,
    subgroups: impl Iterator<Item = &'a Subgroup>,
) -> Estimate {
    let (mut sum, mut values, mut used) = (0.0, 0usize, 0);
    let (mut weighted, mut weights) = (0.0, 0.0);
    for subgroup in subgroups {
        sum += subgroup.n as f64 * location.of(subgroup);
        values += subgroup.n;
        used += 1;
        if let (Some(spread), Some((mean, sd))) = (dispersion.of(subgroup), dispersion.constants(subgroup.n)) {
            let weight = (mean / sd).powi(2);
            weighted += weight * spread / mean;
            weights += weight;
        }
    }
    Estimate {
        center: (values > 0).then(|| sum / values as f64),
        sigma: (weights > 0.0).then(|| weighted / weights),
        used,
    }
}

/// The phases and the two panels, not yet judged.
pub(super) fn panels(request: &ChartRequest, location: Location, dispersion: Dispersion) -> (Vec<Phase>, Vec<Panel>) {
    let subgroups: Vec<Option<Subgroup>> = request.points.iter().map(|values| Subgroup::of(values)).collect();
    let usable = usable(request);
    let mut locations = Vec::with_capacity(subgroups.len());
    let mut spreads = Vec::with_capacity(subgroups.len());
    let mut phases = Vec::new();
    for (number, limits) in request.limits.iter().enumerate() {
        let (start, end) = request.phase_bounds(number);
        let found = Estimate::of(limits, || {
            estimate(location, dispersion, (start..=end).filter(|&i| usable[i]).filter_map(|i| subgroups[i].as_ref()))
        });
        let mut dispersion_center = None;
        let mut steps = false;
        for subgroup in &subgroups[start..=end] {
            let error = subgroup.and_then(|s| location.error(s.n)).zip(found.sigma).map(|(error, sigma)| error * sigma);
            locations.push(location_point(subgroup.map(|s| location.of(&s)), found.center, error, limits));
            let spread = subgroup.and_then(|s| dispersion.of(&s));
            spreads.push(match (subgroup.and_then(|s| dispersion.constants(s.n)), found.sigma) {
                (Some((mean, sd)), Some(sigma)) => {
                    let center = mean * sigma;
                    steps |= dispersion_center.is_some_and(|before| before != center);
                    dispersion_center = Some(center);
                    dispersion_point(spread, Some(center), Some(sd * sigma), limits.k)
                }
                _ => PanelPoint { value: spread, ..PanelPoint::default() },
            });
        }
        phases.push(Phase {
            start,
            end,
            center: found.center,
            sigma: found.sigma,
            used: found.used,
            dispersion_center: dispersion_center.filter(|_| !steps),
        });
    }
    let panels = vec![
        Panel { statistic: location.statistic(), points: locations },
        Panel { statistic: dispersion.statistic(), points: spreads },
    ];
    (phases, panels)
}
