//! Exponentially weighted moving average of the points' means.
//!
//! zᵢ = λx̄ᵢ + (1−λ)zᵢ₋₁ with z₀ = centre; vᵢ = λ²σ̂²/nᵢ + (1−λ)²vᵢ₋₁ with v₀ = 0; limits centre ± k√vᵢ, so
//! they widen to their asymptote. A point set aside or missing leaves z and v as they were: set aside
//! it shows z as it stood, missing it shows nothing. Source: Montgomery, ch. 9.2; Lucas & Saccucci (1990).

use super::figures::{Estimate, Figures};
use super::lines::{Lines, Placed};
use super::plot::{Chart, Plot};
use super::request::ChartOptions;
use super::statistic::Statistic;
use super::time_weighted;
use crate::figure::raw;
use crate::points::Point;
use crate::sigma::Stretch;
use crate::subgroup::mean;

/// The EWMA chart.
pub(super) struct Ewma;

impl Chart for Ewma {
    type Plot = EwmaPlot;

    fn statistics(&self) -> &'static [Statistic] {
        &[Statistic::Ewma]
    }

    fn estimate(&self, stretch: Stretch, options: &ChartOptions) -> Estimate {
        time_weighted::estimate(stretch, options)
    }

    fn plot(&self, estimate: &Estimate, k: f64, options: &ChartOptions) -> EwmaPlot {
        let center = raw(estimate.figures.center);
        EwmaPlot {
            lambda: options.lambda,
            center,
            sigma: raw(estimate.figures.sigma),
            k,
            figures: estimate.figures,
            average: center,
            variance: start(raw(estimate.figures.sigma)),
        }
    }
}

/// v₀ = 0; without a sigma there is no v, and no limits.
fn start(sigma: f64) -> f64 {
    if sigma.is_nan() { f64::NAN } else { 0.0 }
}

/// z and v as they stand.
pub(super) struct EwmaPlot {
    lambda: f64,
    center: f64,
    sigma: f64,
    k: f64,
    figures: Figures,
    average: f64,
    variance: f64,
}

impl Plot for EwmaPlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        let x = raw(mean(point.values()));
        if !aside && !x.is_nan() {
            let (fresh, kept) = (self.lambda, 1.0 - self.lambda);
            self.average += fresh * (x - self.average);
            self.variance = (fresh * self.sigma).powi(2) / point.size() + kept.powi(2) * self.variance;
        }
        let shown = if x.is_nan() { f64::NAN } else { self.average };
        panels[0] =
            Lines::around(self.center, self.variance.sqrt(), self.k).or_constants(&self.figures).place(shown, aside);
    }

    fn restart(&mut self) {
        (self.average, self.variance) = (self.center, start(self.sigma));
    }

    fn sums(&self) -> Option<[f64; 2]> {
        Some([self.average, self.variance])
    }

    fn resume(&mut self, [average, variance]: [f64; 2]) {
        (self.average, self.variance) = (average, variance);
    }
}
