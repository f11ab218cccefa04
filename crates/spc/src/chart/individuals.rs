//! Individuals and moving range.
//!
//! Centre x̄. Moving range i is max − min of the w values ending at i. σ̂ = mean MR / d2(w), or by
//! another [`SigmaMethod`]. Limits x̄ ± kσ̂; moving-range panel centre d2(w)σ̂, limits d2σ̂ ± k d3σ̂,
//! floored at 0. Source: ISO 7870-2; Montgomery, ch. 6.4.
//!
//! For the estimate a moving range counts only if all its w points are used, so one that touches a
//! set-aside point is left out.

use super::figures::{Estimate, Figures};
use super::lines::{Lines, Placed};
use super::panel::Panel;
use super::plot::{Chart, Plot};
use super::request::{ChartOptions, SigmaMethod};
use super::statistic::Statistic;
use crate::constants::range_constants;
use crate::figure::raw;
use crate::points::Point;
use crate::sigma::{MovingRange, Stretch, Totals, sigma_from_median};
use crate::subgroup::sd;

/// The chart of individuals.
pub(super) struct Individuals;

impl Chart for Individuals {
    type Plot = IndividualsPlot;

    fn statistics(&self) -> &'static [Statistic] {
        &[Statistic::Individual, Statistic::MovingRange]
    }

    fn estimate(&self, stretch: Stretch, options: &ChartOptions) -> Estimate {
        let (values, used) = (stretch.singles(), stretch.used_flags());
        let totals = Totals::of(&values, used, options.span);
        let sigma = match options.sigma_method {
            SigmaMethod::MeanMr => totals.sigma(options.span),
            SigmaMethod::MedianMr => sigma_from_median(&values, used, options.span),
            SigmaMethod::Overall => {
                let used: Vec<f64> = values.iter().zip(used).filter(|(_, used)| **used).map(|(x, _)| *x).collect();
                sd(&used)
            }
        };
        let figures = Figures { center: totals.mean(), sigma, ..Figures::default() };
        Estimate { figures, used: totals.used, ..Estimate::default() }
    }

    /// As [`IndividualsPlot`] does, many at once: a history of a million values is common here.
    fn place(&self, plot: &mut IndividualsPlot, stretch: Stretch, aside: &[bool], panels: &mut [Panel]) {
        let aside = &aside[stretch.start..=stretch.end];
        let values = stretch.singles();
        let [individuals, ranges] = panels else { return };
        individuals.push_all(plot.lines, aside, |panel| panel.extend_from_slice(&values));
        let touched = plot.moving.touches(aside);
        ranges.push_all(plot.moving_lines, &touched, |panel| plot.moving.push_all(&values, aside, panel));
    }

    fn plot(&self, estimate: &Estimate, k: f64, options: &ChartOptions) -> IndividualsPlot {
        let sigma = raw(estimate.figures.sigma);
        IndividualsPlot {
            lines: Lines::around(raw(estimate.figures.center), sigma, k).or_constants(&estimate.figures),
            moving: MovingRange::new(options.span),
            moving_lines: moving_range_lines(sigma, options.span, k),
        }
    }
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
