//! Between and within: individuals and moving range of the subgroups' means, and the spread within.
//!
//! Centre: the plain mean of the means. σ_x̄ = mean MR of the means / d2(w); limits centre ± kσ_x̄.
//! σ²_between = max(0, σ²_x̄ − σ²_within/n̄) with n̄ the mean n. The third panel is of ranges where all n are
//! equal and at most 10, else of s. For batches whose means scatter more than the pieces within them
//! would make them. Source: Wheeler, Understanding Statistical Process Control, on three-way charts.

use super::figures::{Estimate, Figures};
use super::individuals::moving_range_lines;
use super::lines::{Lines, Placed};
use super::plot::{Chart, Plot};
use super::request::ChartOptions;
use super::statistic::Statistic;
use crate::figure::raw;
use crate::points::Point;
use crate::sigma::{Dispersion, Location, MovingRange, Stretch, Totals, pooled};
use crate::subgroup::mean;

/// The three-panel chart.
pub(super) struct BetweenWithin {
    pub dispersion: Dispersion,
}

impl Chart for BetweenWithin {
    type Plot = BetweenWithinPlot;

    fn statistics(&self) -> &'static [Statistic] {
        match self.dispersion {
            Dispersion::Range => &[Statistic::Mean, Statistic::MovingRange, Statistic::Range],
            Dispersion::Sd => &[Statistic::Mean, Statistic::MovingRange, Statistic::Sd],
        }
    }

    fn estimate(&self, stretch: Stretch, options: &ChartOptions) -> Estimate {
        let within = pooled(stretch, Location::Mean, self.dispersion);
        let means: Vec<f64> = stretch.iter().map(|(point, _)| raw(mean(point.values()))).collect();
        let totals = Totals::of(&means, stretch.used_flags(), options.span);
        let sigma_of_means = totals.sigma(options.span);
        let mean_n = stretch.mean_size();
        let between = |means: f64, within: f64, n: f64| (means.powi(2) - within.powi(2) / n).max(0.0).sqrt();
        let sigma_between =
            sigma_of_means.zip(within.sigma).zip(mean_n).map(|((means, within), n)| between(means, within, n));
        let figures =
            Figures { center: totals.mean(), sigma: within.sigma, sigma_between, mean_n, ..Figures::default() };
        Estimate { figures, used: within.used, sigma_of_means }
    }

    /// σ²_x̄ = σ²_between + σ²_within/n̄ where both are given; n̄ of the points used, or of all where none is.
    fn given(&self, figures: Figures, stretch: Stretch) -> Estimate {
        let mean_n = figures.mean_n.or_else(|| stretch.mean_size()).or_else(|| stretch.mean_size_of_all());
        let sigma_of_means = figures
            .sigma_between
            .zip(figures.sigma)
            .zip(mean_n)
            .map(|((between, within), n)| (between.powi(2) + within.powi(2) / n).sqrt());
        Estimate { figures: Figures { mean_n, ..figures }, used: 0, sigma_of_means }
    }

    fn plot(&self, estimate: &Estimate, k: f64, options: &ChartOptions) -> BetweenWithinPlot {
        let sigma_of_means = raw(estimate.sigma_of_means);
        BetweenWithinPlot {
            dispersion: self.dispersion,
            sigma: raw(estimate.figures.sigma),
            k,
            lines: Lines::around(raw(estimate.figures.center), sigma_of_means, k).or_constants(&estimate.figures),
            moving: MovingRange::new(options.span),
            moving_lines: moving_range_lines(sigma_of_means, options.span, k),
        }
    }
}

/// The lines of means stand still; those of the spread follow each point's n.
pub(super) struct BetweenWithinPlot {
    dispersion: Dispersion,
    sigma: f64,
    k: f64,
    lines: Lines,
    moving: MovingRange,
    moving_lines: Lines,
}

impl Plot for BetweenWithinPlot {
    fn plot(&mut self, point: Point, aside: bool, panels: &mut [Placed]) {
        let values = point.values();
        let x = raw(mean(values));
        let (range, touched) = self.moving.push(x, aside);
        panels[0] = self.lines.place(x, aside);
        panels[1] = self.moving_lines.place(range, touched);
        panels[2] = Lines::of_spread(self.dispersion, values.len(), self.sigma, self.k)
            .place(raw(self.dispersion.of(values)), aside);
    }
}
