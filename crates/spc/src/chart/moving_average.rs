//! Moving average of width w: the mean of all values in the last w points (fewer at the start), limits
//! centre ± kσ̂/√Σn. Points set aside or missing are passed over, as if the window reached further back.
//! Source: Montgomery, ch. 9.3.

use std::collections::VecDeque;

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

/// The moving average chart.
pub(super) struct MovingAverage;

impl Chart for MovingAverage {
    type Plot = MovingAveragePlot;

    fn statistics(&self) -> &'static [Statistic] {
        &[Statistic::MovingAverage]
    }

    fn estimate(&self, stretch: Stretch, options: &ChartOptions) -> Estimate {
        time_weighted::estimate(stretch, options)
    }

    fn plot(&self, estimate: &Estimate, k: f64, options: &ChartOptions) -> MovingAveragePlot {
        MovingAveragePlot {
            width: options.width,
            center: raw(estimate.figures.center),
            sigma: raw(estimate.figures.sigma),
            k,
            figures: estimate.figures,
            window: VecDeque::new(),
        }
    }
}

/// Mean and n of each of the last w points.
pub(super) struct MovingAveragePlot {
    width: usize,
    center: f64,
    sigma: f64,
    k: f64,
    figures: Figures,
    window: VecDeque<(f64, f64)>,
}

impl Plot for MovingAveragePlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        let values = point.values();
        if !aside && !values.is_empty() {
            if self.window.len() == self.width {
                self.window.pop_front();
            }
            self.window.push_back((raw(mean(values)), values.len() as f64));
        }
        // Summed anew at each point: a running sum would gather rounding errors for ever.
        let first = self.window.front().map_or(f64::NAN, |(first, _)| *first);
        let (sum, n) = self.window.iter().fold((0.0, 0.0), |(sum, n), (x, m)| (sum + m * (x - first), n + m));
        let shown = if values.is_empty() { f64::NAN } else { first + sum / n };
        panels[0] =
            Lines::around(self.center, self.sigma / n.sqrt(), self.k).or_constants(&self.figures).place(shown, aside);
    }

    fn restart(&mut self) {
        self.window.clear();
    }
}
