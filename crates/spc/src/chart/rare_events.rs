//! Charts of rare events: g (conforming units between two nonconforming ones) and t (time between).
//!
//! g: geometric with p = 1/(1 + mean count), F(x) = 1 − (1−p)^(x+1). Limits are the smallest whole x
//! with F(x) ≥ Φ(−k) and F(x) ≥ Φ(k), the centre that with F(x) ≥ ½.
//! t: the Weibull distribution of highest likelihood; limits and centre are its Φ(−k), Φ(k) and ½ quantiles.
//! There is no sigma: the distributions are skewed, and z would mislead.
//! Source: Kaminsky et al. (1992) for g; Montgomery, ch. 7.3.5 for t.

use super::lines::{Estimate, Lines, Placed};
use super::plot::{Chart, Plot};
use super::request::{ChartOptions, Limits};
use super::statistic::Statistic;
use crate::distribution::{Family, fit_one};
use crate::normal;
use crate::points::Point;
use crate::sigma::Stretch;
use crate::subgroup::mean;

/// Probabilities below this apart are equal: F at a whole x may lie a rounding below its quantile.
const ROUNDING: f64 = 1e-12;

/// Smallest whole x whose probability of being exceeded is at most `upper_tail`.
fn geometric_quantile(mean_count: f64, upper_tail: f64) -> f64 {
    // F(x) is exceeded with (1−p)^(x+1), and 1−p = mean/(1 + mean).
    let log_survival = -(1.0 / mean_count).ln_1p();
    let enough = |x: f64| ((x + 1.0) * log_survival).exp() <= upper_tail + ROUNDING;
    let x = (upper_tail.ln() / log_survival - 1.0).ceil().max(0.0);
    if x > 0.0 && enough(x - 1.0) {
        x - 1.0
    } else if enough(x) {
        x
    } else {
        x + 1.0
    }
}

/// The chart of conforming units between events.
pub(super) struct Geometric;

impl Chart for Geometric {
    type Plot = RarePlot;

    fn statistics(&self) -> &'static [Statistic] {
        &[Statistic::Value]
    }

    fn estimate(&self, stretch: Stretch, _: &ChartOptions, _: &Limits) -> Estimate {
        let counts: Vec<f64> = stretch.used().map(Point::single).collect();
        Estimate { center: mean(&counts), used: counts.len(), ..Estimate::default() }
    }

    fn plot(&self, estimate: &Estimate, limits: &Limits, _: &ChartOptions) -> RarePlot {
        let lines = estimate.center.map_or(Lines::NONE, |mean_count| {
            let quantile = |upper_tail| geometric_quantile(mean_count, upper_tail);
            Lines {
                center: quantile(0.5),
                lower: quantile(normal::cdf(limits.k)),
                upper: quantile(normal::cdf(-limits.k)),
                ..Lines::NONE
            }
        });
        RarePlot(lines.or_constants(limits))
    }
}

/// The chart of time between events.
pub(super) struct TimeBetween;

impl Chart for TimeBetween {
    type Plot = RarePlot;

    fn statistics(&self) -> &'static [Statistic] {
        &[Statistic::Value]
    }

    fn estimate(&self, stretch: Stretch, _: &ChartOptions, limits: &Limits) -> Estimate {
        let times: Vec<f64> = stretch.used().map(Point::single).collect();
        let quantiles = fit_one(Family::Weibull, &times).map(|fit| {
            let at = |p: f64, q: f64| fit.distribution.quantile(p, q);
            let (low, high) = (normal::cdf(-limits.k), normal::cdf(limits.k));
            [at(low, high), at(0.5, 0.5), at(high, low)]
        });
        Estimate { center: quantiles.map(|q| q[1]), quantiles, used: times.len(), ..Estimate::default() }
    }

    fn plot(&self, estimate: &Estimate, limits: &Limits, _: &ChartOptions) -> RarePlot {
        let lines = estimate.quantiles.map_or(Lines::NONE, |[lower, center, upper]| Lines {
            center,
            lower,
            upper,
            ..Lines::NONE
        });
        RarePlot(lines.or_constants(limits))
    }
}

/// Lines that stand still within a phase.
pub(super) struct RarePlot(Lines);

impl Plot for RarePlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        panels[0] = self.0.place(point.single(), aside);
    }
}
