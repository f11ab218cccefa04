//! What a kind of chart has to say for itself: what it plots, how its figures are estimated, and
//! how one point after another is placed among its lines.

use super::answer::Statistic;
use super::lines::{Estimate, Placed, Stretch};
use super::judged::PANELS_AT_MOST;
use super::panel::Panel;
use super::request::{ChartOptions, Limits};
use crate::points::Point;

/// A kind of chart.
pub(super) trait Chart {
    /// Places points among the lines of one phase.
    type Plot: Plot + 'static;

    /// What its panels plot, in drawing order.
    fn statistics(&self) -> &'static [Statistic];

    /// The figures of a phase from its own points.
    fn estimate(&self, stretch: Stretch, options: &ChartOptions, limits: &Limits) -> Estimate;

    /// A phase with these figures, at its start.
    fn plot(&self, estimate: &Estimate, limits: &Limits, options: &ChartOptions) -> Self::Plot;

    /// Figures that come with given limits but rest on the points: the mean n.
    fn sized(&self, given: Estimate, _stretch: Stretch) -> Estimate {
        given
    }

    /// Places all points of a phase, with the restarts among them.
    fn place(&self, mut plot: Self::Plot, phase: &PhasePoints, panels: &mut [Panel]) {
        let mut placed = [Placed::NOWHERE; PANELS_AT_MOST];
        let placed = &mut placed[..panels.len()];
        let mut restarts = phase.restarts.iter().peekable();
        for i in phase.stretch.start..=phase.stretch.end {
            if restarts.next_if(|&&restart| restart == i).is_some() {
                plot.restart();
            }
            plot.plot(phase.stretch.points.get(i), phase.aside[i], placed);
            for (panel, placed) in panels.iter_mut().zip(&*placed) {
                panel.push(placed);
            }
        }
    }
}

/// The points of one phase, what is set aside in the whole series, and where rules start afresh in
/// the phase, ascending.
pub(super) struct PhasePoints<'a> {
    pub stretch: Stretch<'a>,
    pub aside: &'a [bool],
    pub restarts: &'a [usize],
}

/// Places one point after another. What it remembers is a window or a sum, never the history.
pub(super) trait Plot: Send {
    /// The next point, in each of the panels.
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]);

    /// What starts afresh at a restart: sums and averages, not limits or moving ranges.
    fn restart(&mut self) {}

    /// Goes on from where the panels stood, for charts that remember everything before.
    fn resume(&mut self, _last: &[Placed]) {}
}
