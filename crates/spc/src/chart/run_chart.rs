//! Run chart: the values in order about their median, without limits but for given constants.
//!
//! Centre: the median of the plotted means. There is no sigma, so only rules that need none apply.
//! Source: Montgomery, ch. 6; Perla et al. (2011).

use super::figures::{Estimate, Figures};
use super::lines::{Lines, Placed};
use super::plot::{Chart, Plot};
use super::request::ChartOptions;
use super::statistic::Statistic;
use crate::figure::raw;
use crate::points::Point;
use crate::sigma::Stretch;
use crate::subgroup::{mean, median};

/// The run chart.
pub(super) struct RunChart;

impl Chart for RunChart {
    type Plot = RunPlot;

    fn statistics(&self) -> &'static [Statistic] {
        &[Statistic::Individual]
    }

    fn estimate(&self, stretch: Stretch, _: &ChartOptions) -> Estimate {
        let means: Vec<f64> = stretch.used().filter_map(|point| mean(point.values())).collect();
        let figures = Figures { center: median(&means), ..Figures::default() };
        Estimate { figures, used: means.len(), ..Estimate::default() }
    }

    fn plot(&self, estimate: &Estimate, _: f64, _: &ChartOptions) -> RunPlot {
        RunPlot(Lines { center: raw(estimate.figures.center), ..Lines::NONE }.or_constants(&estimate.figures))
    }
}

/// Its centre stands still within a phase.
pub(super) struct RunPlot(Lines);

impl Plot for RunPlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        panels[0] = self.0.place(raw(mean(point.values())), aside);
    }
}
