//! Charts of rare events: g (conforming units between two nonconforming ones) and t (time between).
//!
//! g: geometric with p = 1/(1 + mean count), F(x) = 1 − (1−p)^(x+1). Limits are the smallest whole x
//! with F(x) ≥ Φ(−k) and F(x) ≥ Φ(k), the centre that with F(x) ≥ ½.
//! t: the Weibull distribution of highest likelihood; limits and centre are its Φ(−k), Φ(k) and ½ quantiles.
//! There is no sigma: the distributions are skewed, and z would mislead.
//! Source: Kaminsky et al. (1992) for g; Montgomery, ch. 7.3.5 for t.

use super::figures::{Estimate, Figures};
use super::lines::{Lines, Placed};
use super::plot::{Chart, Plot};
use super::request::ChartOptions;
use super::statistic::Statistic;
use crate::distribution::{Distribution, Family, Tally, fit_one};
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

    fn estimate(&self, stretch: Stretch, _: &ChartOptions) -> Estimate {
        let counts: Vec<f64> = stretch.used().map(Point::single).collect();
        let figures = Figures { center: mean(&counts), ..Figures::default() };
        Estimate { figures, used: counts.len(), ..Estimate::default() }
    }

    fn plot(&self, estimate: &Estimate, k: f64, _: &ChartOptions) -> RarePlot {
        let lines = estimate.figures.center.map_or(Lines::NONE, |mean_count| {
            let quantile = |upper_tail| geometric_quantile(mean_count, upper_tail);
            Lines {
                center: quantile(0.5),
                lower: quantile(normal::cdf(k)),
                upper: quantile(normal::cdf(-k)),
                ..Lines::NONE
            }
        });
        RarePlot(lines.or_constants(&estimate.figures))
    }
}

/// The chart of time between events.
pub(super) struct TimeBetween;

impl Chart for TimeBetween {
    type Plot = RarePlot;

    fn statistics(&self) -> &'static [Statistic] {
        &[Statistic::Value]
    }

    fn estimate(&self, stretch: Stretch, _: &ChartOptions) -> Estimate {
        let times: Vec<f64> = stretch.used().map(Point::single).collect();
        let figures = match fit_one(Family::Weibull, &Tally::of(&times)).map(|fit| fit.distribution) {
            Some(Distribution::Weibull { shape, scale }) => weibull(shape, scale),
            _ => Figures::default(),
        };
        Estimate { figures, used: times.len(), ..Estimate::default() }
    }

    fn given(&self, figures: Figures, _: Stretch) -> Estimate {
        let figures = figures.shape.zip(figures.scale).map_or(figures, |(shape, scale)| weibull(shape, scale));
        Estimate { figures, ..Estimate::default() }
    }

    fn plot(&self, estimate: &Estimate, k: f64, _: &ChartOptions) -> RarePlot {
        let lines = estimate.figures.shape.zip(estimate.figures.scale).map_or(Lines::NONE, |(shape, scale)| {
            let fit = Distribution::Weibull { shape, scale };
            let (low, high) = (normal::cdf(-k), normal::cdf(k));
            Lines {
                center: fit.quantile(0.5, 0.5),
                lower: fit.quantile(low, high),
                upper: fit.quantile(high, low),
                ..Lines::NONE
            }
        });
        RarePlot(lines.or_constants(&estimate.figures))
    }
}

/// The figures of a fit; its centre is its median.
fn weibull(shape: f64, scale: f64) -> Figures {
    let center = Distribution::Weibull { shape, scale }.quantile(0.5, 0.5);
    Figures { center: Some(center), shape: Some(shape), scale: Some(scale), ..Figures::default() }
}

/// Lines that stand still within a phase.
pub(super) struct RarePlot(Lines);

impl Plot for RarePlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        panels[0] = self.0.place(point.single(), aside);
    }
}
