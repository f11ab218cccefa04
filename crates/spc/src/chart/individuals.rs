//! Individuals and moving range.
//!
//! Centre x̄. Moving range i is max − min of the w values ending at i. σ̂ = mean MR / d2(w), or by
//! another [`SigmaMethod`]. Limits x̄ ± kσ̂; moving-range panel centre d2(w)σ̂, limits d2σ̂ ± k d3σ̂,
//! floored at 0. Source: ISO 7870-2; Montgomery, ch. 6.4.
//!
//! For the estimate a moving range counts only if all its w points are used, so one that touches a
//! set-aside point is left out.

use super::answer::Statistic;
use super::lines::{Estimate, Lines, Placed, Stretch, raw};
use super::moving::{LooksBack, MovingRange, Totals, sigma_from_median};
use super::panel::Panel;
use super::plot::{Chart, Plot};
use super::request::{ChartOptions, Limits, SigmaMethod};
use crate::constants::range_constants;
use crate::points::Point;
use crate::subgroup::sd;

/// The chart of individuals.
pub(super) struct Individuals;

impl Chart for Individuals {
    type Plot = IndividualsPlot;

    fn statistics(&self) -> &'static [Statistic] {
        &[Statistic::Individual, Statistic::MovingRange]
    }

    fn estimate(&self, stretch: Stretch, options: &ChartOptions, _: &Limits) -> Estimate {
        let values = stretch.singles();
        let singles = values.iter().copied().zip(stretch.used_flags().iter().copied());
        let totals = Totals::of(singles.clone(), options.span);
        let sigma = match options.sigma_method {
            SigmaMethod::MeanMr => totals.sigma(options.span),
            SigmaMethod::MedianMr => sigma_from_median(singles, options.span),
            SigmaMethod::Overall => sd(&singles.filter(|(_, used)| *used).map(|(x, _)| x).collect::<Vec<_>>()),
        };
        Estimate { center: totals.mean(), sigma, used: totals.used, ..Estimate::default() }
    }

    /// As [`IndividualsPlot`] does, many at once: a history of a million values is common here.
    fn place(&self, plot: &mut IndividualsPlot, stretch: Stretch, aside: &[bool], panels: &mut [Panel]) {
        let aside = &aside[stretch.start..=stretch.end];
        let values = stretch.singles();
        let [individuals, ranges] = panels else { return };
        let both = values.iter().copied().zip(aside.iter().copied());
        individuals.push_all(plot.lines, both.clone());
        match &mut plot.moving {
            MovingRange::Of2(two) => push_ranges(ranges, plot.moving_lines, both, two),
            MovingRange::OfMore(longer) => push_ranges(ranges, plot.moving_lines, both, longer),
        }
    }

    fn plot(&self, estimate: &Estimate, limits: &Limits, options: &ChartOptions) -> IndividualsPlot {
        let sigma = raw(estimate.sigma);
        IndividualsPlot {
            lines: Lines::around(raw(estimate.center), sigma, limits.k).or_constants(limits),
            moving: MovingRange::new(options.span),
            moving_lines: moving_range_lines(sigma, options.span, limits.k),
        }
    }
}

fn push_ranges<M: LooksBack>(
    panel: &mut Panel,
    lines: Lines,
    values: impl ExactSizeIterator<Item = (f64, bool)>,
    moving: &mut M,
) {
    // A copy of its own stays in registers.
    let mut own = moving.clone();
    panel.push_all(lines, values.map(|(x, aside)| own.push(x, aside)));
    *moving = own;
}

/// d2σ ± k d3σ, floored at 0.
pub(super) fn moving_range_lines(sigma: f64, span: usize, k: f64) -> Lines {
    range_constants(span).map_or(Lines::NONE, |c| Lines::around(c.d2 * sigma, c.d3 * sigma, k).not_below(0.0))
}

/// Its lines stand still within a phase.
pub(super) struct IndividualsPlot {
    lines: Lines,
    moving: MovingRange,
    moving_lines: Lines,
}

impl Plot for IndividualsPlot {
    #[inline]
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        let x = point.single();
        let (range, touched) = self.moving.push(x, aside);
        panels[0] = self.lines.place(x, aside);
        panels[1] = self.moving_lines.place(range, touched);
    }
}
