//! Individuals and moving range.
//!
//! Centre x̄. Moving range i is max − min of the w values ending at i; it never spans a phase
//! boundary or a gap. σ̂ = mean MR / d2(w), or by another
//! [`SigmaMethod`](super::SigmaMethod). Limits x̄ ± kσ̂; moving-range panel centre d2(w)σ̂, limits
//! d2σ̂ ± k d3σ̂, floored at 0. Source: ISO 7870-2; Montgomery, ch. 6.4.
//!
//! For the estimate a moving range counts only if all its w points are used, so one that touches a
//! set-aside point is left out.

use super::answer::{Panel, Phase, Statistic};
use super::lines::{Estimate, dispersion_point, location_point, usable};
use super::request::{ChartRequest, SigmaMethod};
use crate::constants::{range_constants, range_median};
use crate::subgroup::{median, sd};

/// Moving range ending at `i` within a phase that starts at `start`.
fn moving_range(points: &[Vec<f64>], start: usize, i: usize, span: usize) -> Option<f64> {
    let first = (i + 1).checked_sub(span).filter(|&first| first >= start)?;
    let (mut low, mut high) = (f64::INFINITY, f64::NEG_INFINITY);
    for values in &points[first..=i] {
        let &x = values.first()?;
        (low, high) = (low.min(x), high.max(x));
    }
    Some(high - low)
}

fn mean(values: &[f64]) -> Option<f64> {
    (!values.is_empty()).then(|| values.iter().sum::<f64>() / values.len() as f64)
}

fn estimate(request: &ChartRequest, usable: &[bool], ranges: &[Option<f64>], start: usize, end: usize) -> Estimate {
    let span = request.options.span;
    let values: Vec<f64> =
        (start..=end).filter(|&i| usable[i]).filter_map(|i| request.points[i].first().copied()).collect();
    let used_ranges = || -> Vec<f64> {
        (start..=end)
            .filter(|&i| i + 1 >= start + span && usable[i + 1 - span..=i].iter().all(|&used| used))
            .filter_map(|i| ranges[i - start])
            .collect()
    };
    let center = mean(&values);
    let sigma = match request.options.sigma_method {
        SigmaMethod::MeanMr => mean(&used_ranges()).zip(range_constants(span)).map(|(mr, c)| mr / c.d2),
        SigmaMethod::MedianMr => median(used_ranges()).zip(range_median(span)).map(|(mr, c)| mr / c),
        SigmaMethod::Overall => center.and_then(|center| sd(&values, center)),
    };
    Estimate { center, sigma, used: values.len() }
}

/// The phases and the two panels, not yet judged.
pub(super) fn panels(request: &ChartRequest) -> (Vec<Phase>, Vec<Panel>) {
    let span = request.options.span;
    let usable = usable(request);
    let mut values = Vec::with_capacity(request.points.len());
    let mut moving = Vec::with_capacity(request.points.len());
    let mut phases = Vec::new();
    for (number, limits) in request.limits.iter().enumerate() {
        let (start, end) = request.phase_bounds(number);
        let ranges: Vec<Option<f64>> = (start..=end).map(|i| moving_range(&request.points, start, i, span)).collect();
        let found = Estimate::of(limits, || estimate(request, &usable, &ranges, start, end));
        let dispersion = range_constants(span).zip(found.sigma).map(|(c, sigma)| (c.d2 * sigma, c.d3 * sigma));
        for (i, range) in (start..=end).zip(ranges) {
            values.push(location_point(request.points[i].first().copied(), found.center, found.sigma, limits));
            moving.push(dispersion_point(range, dispersion.map(|d| d.0), dispersion.map(|d| d.1), limits.k));
        }
        phases.push(Phase {
            start,
            end,
            center: found.center,
            sigma: found.sigma,
            used: found.used,
            dispersion_center: dispersion.map(|d| d.0),
        });
    }
    let panels = vec![
        Panel { statistic: Statistic::Individual, points: values },
        Panel { statistic: Statistic::MovingRange, points: moving },
    ];
    (phases, panels)
}
