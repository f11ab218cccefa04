//! What the charts share: which points an estimate uses, and the lines of one point.

use super::answer::PanelPoint;
use super::request::{ChartRequest, Limits, LimitsBasis};

/// Centre and within sigma of a phase, estimated or given.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Estimate {
    /// Centre of the location panel; `None` when no point could be used.
    pub center: Option<f64>,
    /// Within sigma of single values; `None` when it cannot be estimated.
    pub sigma: Option<f64>,
    /// Points that the centre used; 0 when given.
    pub used: usize,
}

impl Estimate {
    /// The given figures, or what `estimate` makes of the phase's own points.
    pub(super) fn of(limits: &Limits, estimate: impl FnOnce() -> Self) -> Self {
        match limits.basis {
            LimitsBasis::Given { center, sigma } => Self { center: Some(center), sigma: Some(sigma), used: 0 },
            LimitsBasis::Estimated { .. } => estimate(),
        }
    }
}

/// Whether each point of the series may be used for the estimate of its phase.
pub(super) fn usable(request: &ChartRequest) -> Vec<bool> {
    let mut usable: Vec<bool> = request.points.iter().map(|values| !values.is_empty()).collect();
    for &i in &request.excluded {
        usable[i] = false;
    }
    for (phase, limits) in request.limits.iter().enumerate() {
        let (start, end) = request.phase_bounds(phase);
        if let LimitsBasis::Estimated { from, to } = limits.basis {
            for (i, flag) in usable.iter_mut().enumerate().take(end + 1).skip(start) {
                *flag &= from.is_none_or(|from| i >= from) && to.is_none_or(|to| i <= to);
            }
        }
    }
    usable
}

/// A point of a location panel: centre ± kσ, constants replacing a side.
pub(super) fn location_point(
    value: Option<f64>,
    center: Option<f64>,
    sigma: Option<f64>,
    limits: &Limits,
) -> PanelPoint {
    let half_width = sigma.map(|sigma| limits.k * sigma);
    let computed = |sign: f64| Some(center? + sign * half_width?);
    point(value, center, sigma, limits.lower.or(computed(-1.0)), limits.upper.or(computed(1.0)))
}

/// A point of a dispersion panel: centre ± kσ, the lower limit floored at 0.
pub(super) fn dispersion_point(value: Option<f64>, center: Option<f64>, sigma: Option<f64>, k: f64) -> PanelPoint {
    let half_width = sigma.map(|sigma| k * sigma);
    let computed = |sign: f64| Some(center? + sign * half_width?);
    point(value, center, sigma, computed(-1.0).map(|x| x.max(0.0)), computed(1.0))
}

fn point(
    value: Option<f64>,
    center: Option<f64>,
    sigma: Option<f64>,
    lower: Option<f64>,
    upper: Option<f64>,
) -> PanelPoint {
    let z = match (value, center, sigma) {
        (Some(value), Some(center), Some(sigma)) if sigma > 0.0 => Some((value - center) / sigma),
        _ => None,
    };
    PanelPoint { value, center, lower, upper, sigma, z, flagged: false }
}
