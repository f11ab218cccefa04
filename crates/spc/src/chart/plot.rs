//! What a kind of chart has to say for itself: what it plots, how its figures are estimated, and
//! how one point after another is placed among its lines.

use super::figures::{Estimate, Figures};
use super::judged::PANELS_AT_MOST;
use super::lines::Placed;
use super::panel::Panel;
use super::request::ChartOptions;
use super::statistic::Statistic;
use crate::points::Point;
use crate::sigma::Stretch;

/// A kind of chart.
pub(super) trait Chart {
    /// Places points among the lines of one phase.
    type Plot: Plot + 'static;

    /// What its panels plot, in drawing order.
    fn statistics(&self) -> &'static [Statistic];

    /// The figures of a phase from its own points.
    fn estimate(&self, stretch: Stretch, options: &ChartOptions) -> Estimate;

    /// A phase with these figures, at its start.
    fn plot(&self, estimate: &Estimate, k: f64, options: &ChartOptions) -> Self::Plot;

    /// Given figures, with what rests on the points where it was not given: the mean n.
    fn given(&self, figures: Figures, _stretch: Stretch) -> Estimate {
        Estimate { figures, ..Estimate::default() }
    }

    /// Places the next points, with what is set aside in the whole series.
    fn place(&self, plot: &mut Self::Plot, stretch: Stretch, aside: &[bool], panels: &mut [Panel]) {
        let mut placed = [Placed::NOWHERE; PANELS_AT_MOST];
        let placed = &mut placed[..panels.len()];
        for (i, &aside) in aside.iter().enumerate().take(stretch.end + 1).skip(stretch.start) {
            plot.plot(stretch.points.get(i), aside, placed);
            for (panel, placed) in panels.iter_mut().zip(&*placed) {
                panel.push(placed);
            }
        }
    }
}

/// Places one point after another. What it remembers is a window or a sum, never the history.
pub(super) trait Plot: Send {
    /// The next point, in each of the panels.
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]);

    /// What starts afresh at a restart: sums and averages, not limits or moving ranges.
    fn restart(&mut self) {}

    /// What a chart that remembers everything before has come to.
    fn sums(&self) -> Option<[f64; 2]> {
        None
    }

    /// Goes on from there.
    fn resume(&mut self, _sums: [f64; 2]) {}
}
