//! Charts of counts: p, np, c, u, and p′, u′ corrected for over-dispersion.
//!
//! p̄ = ΣD/Σn, c̄ = ΣC/N, ū = ΣC/Σn. Limits p̄ ± k√(p̄(1−p̄)/nᵢ) kept within [0, 1]; np: nᵢp̄ ± k√(nᵢp̄(1−p̄)) within
//! [0, nᵢ]; c̄ ± k√c̄; ū ± k√(ū/nᵢ), floored at 0. p′ and u′: standard errors times σ_z, the mean moving range
//! of zᵢ over d2(2), zᵢ = (pᵢ − p̄)/σᵢ. Limits are per point: nᵢ is never replaced by an average, unless
//! straight limits are asked for, which the answer then says.
//! Source: ISO 7870-2; Montgomery, ch. 7; Laney (2002) for p′ and u′.

use super::figures::{Estimate, Figures};
use super::lines::{Lines, Placed};
use super::plot::{Chart, Plot};
use super::request::ChartOptions;
use super::statistic::Statistic;
use crate::figure::raw;
use crate::points::Point;
use crate::sigma::{Counted, Stretch, sigma_from_mean};

/// A chart of counts.
pub(super) struct Attributes {
    pub counted: Counted,
    /// Corrected for over-dispersion.
    pub corrected: bool,
}

impl Chart for Attributes {
    type Plot = AttributesPlot;

    fn statistics(&self) -> &'static [Statistic] {
        match self.counted {
            Counted::Proportion => &[Statistic::Proportion],
            Counted::Units | Counted::Nonconformities => &[Statistic::Count],
            Counted::Rate => &[Statistic::Rate],
        }
    }

    fn estimate(&self, stretch: Stretch, options: &ChartOptions) -> Estimate {
        let (center, used) = self.counted.center(stretch.used().map(Point::count));
        let sigma_of_z = |center| {
            let z: Vec<f64> = stretch.iter().map(|(point, _)| self.counted.z(point.count(), center)).collect();
            // Without a standard error there is no z, though the point is used for the centre.
            let used: Vec<bool> = z.iter().zip(stretch.used_flags()).map(|(z, used)| *used && !z.is_nan()).collect();
            sigma_from_mean(&z, &used, 2)
        };
        let figures = Figures {
            center,
            sigma: center.filter(|_| self.corrected).and_then(sigma_of_z),
            mean_n: options.mean_size.then(|| stretch.mean_size()).flatten(),
            ..Figures::default()
        };
        Estimate { figures, used, ..Estimate::default() }
    }

    fn given(&self, figures: Figures, stretch: Stretch) -> Estimate {
        let mean_n = figures.mean_n.or_else(|| stretch.mean_size());
        Estimate { figures: Figures { mean_n, ..figures }, ..Estimate::default() }
    }

    fn plot(&self, estimate: &Estimate, k: f64, options: &ChartOptions) -> AttributesPlot {
        AttributesPlot {
            counted: self.counted,
            center: raw(estimate.figures.center),
            spread: if self.corrected { raw(estimate.figures.sigma) } else { 1.0 },
            k,
            figures: estimate.figures,
            conforming: options.conforming,
            straight_at: estimate.figures.mean_n.filter(|_| options.mean_size),
        }
    }
}

/// Each point's own n sets its lines.
pub(super) struct AttributesPlot {
    counted: Counted,
    center: f64,
    spread: f64,
    k: f64,
    figures: Figures,
    conforming: bool,
    straight_at: Option<f64>,
}

impl Plot for AttributesPlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        let count = point.count();
        let size = self.straight_at.unwrap_or(count.size);
        let (center, error) = self.counted.center_and_error(self.center, size);
        let mut lines =
            Lines::around(center, error * self.spread, self.k).not_below(0.0).not_above(self.counted.most(size));
        let mut value = self.counted.value(count);
        if self.conforming {
            value = 1.0 - value;
            lines = Lines { center: 1.0 - lines.center, lower: 1.0 - lines.upper, upper: 1.0 - lines.lower, ..lines };
        }
        panels[0] = lines.or_constants(&self.figures).place(value, aside);
    }
}
