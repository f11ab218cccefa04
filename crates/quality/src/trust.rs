//! Can this chart be trusted? The checks of the core, and whether streams seem mixed, as facts.

use serde::Serialize;
use spc::chart::{ChartRequest, Figures, Limits, LimitsBasis};
use spc::mixed::{Mixed, mixed};
use spc::trust::{CheckName, CheckVerdict, trust};
use spc::wrong_request::WrongRequest;

use crate::characteristic::Characteristic;
use crate::place::{Place, points, where_so};

/// One check.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TrustCheck {
    /// What was checked.
    pub name: CheckName,
    /// How it went.
    pub verdict: CheckVerdict,
    /// The number it rests on: signals, points, p, autocorrelation, different spreads.
    pub value: Option<f64>,
}

/// What is to be thought of a chart.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TrustView {
    /// Stable, enough, normal, independent, resolution.
    pub checks: Vec<TrustCheck>,
    /// Points that hug the centre; nothing where there are too few to tell.
    pub mixed: Option<Mixed>,
    /// Whether so many would be there by chance.
    pub mixed_verdict: CheckVerdict,
}

/// Below this points hug the centre.
const MIXED_BELOW: f64 = 0.001;
/// Below this they may.
const MAYBE_MIXED_BELOW: f64 = 0.01;

/// Checks the points of a phase under the figures that hold: frozen ones, or estimated from them where there are none.
///
/// # Errors
/// When they cannot be charted; those that were accepted can.
pub fn check(
    characteristic: &Characteristic,
    places: &[Place],
    frozen: Option<Figures>,
) -> Result<TrustView, WrongRequest> {
    let scheme = characteristic.scheme();
    let basis = frozen.map_or(Limits::ESTIMATED.basis, LimitsBasis::Given);
    let request = ChartRequest {
        excluded: where_so(places, |place| place.aside),
        restarts: where_so(places, |place| place.restart),
        limits: vec![Limits { basis, k: scheme.k }],
        rules: Some(scheme.rule_set),
        options: scheme.options,
        ..ChartRequest::new(scheme.chart, points(characteristic.kind, places))
    };
    let found = mixed(&request)?;
    let checks = trust(&request)?.checks;
    Ok(TrustView {
        checks: checks.iter().map(|c| TrustCheck { name: c.name, verdict: c.verdict, value: c.value }).collect(),
        mixed: found,
        mixed_verdict: match found {
            None => CheckVerdict::NotApplicable,
            Some(Mixed { p, .. }) if p < MIXED_BELOW => CheckVerdict::Poor,
            Some(Mixed { p, .. }) if p < MAYBE_MIXED_BELOW => CheckVerdict::Caution,
            Some(_) => CheckVerdict::Good,
        },
    })
}
