//! Charts of subgroups: mean and range, mean and s, median and range.
//!
//! Centre: the mean of the subgroups' means (or medians), weighted with nᵢ; within sigma as in
//! [`crate::sigma`]. Limits of means X̿ ± kσ̂/√nᵢ, of medians ± k e(nᵢ)σ̂/√nᵢ; range panel
//! d2σ̂ ± k d3σ̂, s panel c4σ̂ ± kσ̂√(1−c4²), both floored at 0.
//! Source: ISO 7870-2.
//!
//! A point with one value counts for the centre, gives no range or s, and its limits use n = 1.

use super::figures::{Estimate, Figures};
use super::lines::{Lines, Placed};
use super::plot::{Chart, Plot};
use super::request::ChartOptions;
use super::statistic::Statistic;
use crate::figure::raw;
use crate::points::Point;
use crate::sigma::{Dispersion, Location, Stretch, pooled};

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

    fn estimate(&self, stretch: Stretch, _: &ChartOptions) -> Estimate {
        pooled(stretch, self.location, self.dispersion).into()
    }

    fn plot(&self, estimate: &Estimate, k: f64, _: &ChartOptions) -> SubgroupsPlot {
        let (location, dispersion) = (self.location, self.dispersion);
        SubgroupsPlot {
            location,
            dispersion,
            center: raw(estimate.figures.center),
            sigma: raw(estimate.figures.sigma),
            k,
            figures: estimate.figures,
        }
    }
}

/// Each point's own n sets the width of its limits.
pub(super) struct SubgroupsPlot {
    location: Location,
    dispersion: Dispersion,
    center: f64,
    sigma: f64,
    k: f64,
    figures: Figures,
}

impl Plot for SubgroupsPlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        let values = point.values();
        let (n, k) = (values.len(), self.k);
        let error = if n == 0 { f64::NAN } else { self.sigma * self.location.error(n) };
        panels[0] = Lines::around(self.center, error, k)
            .or_constants(&self.figures)
            .place(raw(self.location.of(values)), aside);
        panels[1] = Lines::of_spread(self.dispersion, n, self.sigma, k).place(raw(self.dispersion.of(values)), aside);
    }
}
