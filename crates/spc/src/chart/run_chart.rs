//! Run chart: the values in order about their median, without limits but for given constants.
//!
//! Centre: the median of the plotted means. There is no sigma, so only rules that need none apply.
//! Source: Montgomery, ch. 6; Perla et al. (2011).

use super::answer::{Panel, Phase, Statistic};
use super::lines::{Estimate, location_point, usable};
use super::request::ChartRequest;
use crate::subgroup::{Subgroup, median};

/// The phases and the panel, not yet judged.
pub(super) fn panels(request: &ChartRequest) -> (Vec<Phase>, Vec<Panel>) {
    let values: Vec<Option<f64>> = request.points.iter().map(|p| Subgroup::of(p).map(|s| s.mean)).collect();
    let usable = usable(request);
    let mut points = Vec::with_capacity(values.len());
    let mut phases = Vec::new();
    for (number, limits) in request.limits.iter().enumerate() {
        let (start, end) = request.phase_bounds(number);
        let found = Estimate::of(limits, || {
            let used: Vec<f64> = (start..=end).filter(|&i| usable[i]).filter_map(|i| values[i]).collect();
            Estimate { used: used.len(), center: median(used), sigma: None }
        });
        points.extend(values[start..=end].iter().map(|&value| location_point(value, found.center, None, limits)));
        phases.push(Phase { start, end, center: found.center, sigma: None, used: found.used, dispersion_center: None });
    }
    (phases, vec![Panel { statistic: Statistic::Individual, points }])
}
