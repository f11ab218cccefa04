//! Tabular CUSUM of the points' means, in sigma of the mean.
//!
//! uᵢ = (x̄ᵢ − target)/(σ̂/√nᵢ); C⁺ᵢ = max(0, C⁺ᵢ₋₁ + uᵢ − κ), C⁻ᵢ = max(0, C⁻ᵢ₋₁ − uᵢ − κ), from 0, or from h/2 with a
//! fast start. Plotted: C⁺ above zero, −C⁻ below; a signal when one is beyond h. There is no sigma and
//! no z: the sums are no longer values of a distribution about a centre. A point set aside or missing
//! leaves the sums as they were. Source: Montgomery, ch. 9.1; Lucas & Crosier (1982) for the fast start.

use super::figures::Estimate;
use super::lines::{Lines, Placed};
use super::plot::{Chart, Plot};
use super::request::ChartOptions;
use super::statistic::Statistic;
use super::time_weighted;
use crate::figure::raw;
use crate::points::Point;
use crate::sigma::Stretch;
use crate::subgroup::mean;

/// The CUSUM chart.
pub(super) struct Cusum;

impl Chart for Cusum {
    type Plot = CusumPlot;

    fn statistics(&self) -> &'static [Statistic] {
        &[Statistic::CusumUp, Statistic::CusumDown]
    }

    fn estimate(&self, stretch: Stretch, options: &ChartOptions) -> Estimate {
        time_weighted::estimate(stretch, options)
    }

    fn plot(&self, estimate: &Estimate, _: f64, options: &ChartOptions) -> CusumPlot {
        let start = if options.fast_start { options.h / 2.0 } else { 0.0 };
        CusumPlot {
            target: options.target.unwrap_or(raw(estimate.figures.center)),
            sigma: raw(estimate.figures.sigma),
            kappa: options.kappa,
            start,
            up: start,
            down: start,
            lines_up: Lines { center: 0.0, upper: options.h, ..Lines::NONE }.or_constants(&estimate.figures),
            lines_down: Lines { center: 0.0, lower: -options.h, ..Lines::NONE },
        }
    }
}

/// Both sums as they stand.
pub(super) struct CusumPlot {
    target: f64,
    sigma: f64,
    kappa: f64,
    start: f64,
    up: f64,
    down: f64,
    lines_up: Lines,
    lines_down: Lines,
}

impl Plot for CusumPlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        let x = raw(mean(point.values()));
        let u = (x - self.target) / (self.sigma / point.size().sqrt());
        if !aside && u.is_finite() {
            self.up = (self.up + u - self.kappa).max(0.0);
            self.down = (self.down - u - self.kappa).max(0.0);
        }
        let shown = |sum: f64| if u.is_finite() { sum } else { f64::NAN };
        panels[0] = self.lines_up.place(shown(self.up), aside);
        panels[1] = self.lines_down.place(shown(-self.down), aside);
    }

    fn restart(&mut self) {
        (self.up, self.down) = (self.start, self.start);
    }

    fn sums(&self) -> Option<[f64; 2]> {
        Some([self.up, self.down])
    }

    fn resume(&mut self, [up, down]: [f64; 2]) {
        (self.up, self.down) = (up, down);
    }
}
