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
pub(super) trait Chart: 'static {
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

/// A chart of whatever kind: what goes over a long series is made once, not once for each kind.
pub(super) trait AnyChart {
    /// As [`Chart::statistics`].
    fn statistics(&self) -> &'static [Statistic];

    /// As [`Chart::estimate`].
    fn estimate(&self, stretch: Stretch, options: &ChartOptions) -> Estimate;

    /// As [`Chart::given`].
    fn given(&self, figures: Figures, stretch: Stretch) -> Estimate;

    /// A phase with these figures, at its start.
    fn begin(&self, estimate: &Estimate, k: f64, options: &ChartOptions) -> Box<dyn Placing + '_>;
}

/// Places the points of a phase, many at a time.
pub(super) trait Placing {
    /// As [`Chart::place`].
    fn place(&mut self, stretch: Stretch, aside: &[bool], panels: &mut [Panel]);

    /// As [`Plot::restart`].
    fn restart(&mut self);
}

impl<C: Chart> AnyChart for C {
    fn statistics(&self) -> &'static [Statistic] {
        Chart::statistics(self)
    }

    fn estimate(&self, stretch: Stretch, options: &ChartOptions) -> Estimate {
        Chart::estimate(self, stretch, options)
    }

    fn given(&self, figures: Figures, stretch: Stretch) -> Estimate {
        Chart::given(self, figures, stretch)
    }

    fn begin(&self, estimate: &Estimate, k: f64, options: &ChartOptions) -> Box<dyn Placing + '_> {
        Box::new((self, self.plot(estimate, k, options)))
    }
}

impl<C: Chart> Placing for (&C, C::Plot) {
    fn place(&mut self, stretch: Stretch, aside: &[bool], panels: &mut [Panel]) {
        self.0.place(&mut self.1, stretch, aside, panels);
    }

    fn restart(&mut self) {
        self.1.restart();
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
