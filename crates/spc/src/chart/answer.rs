//! What comes of a chart request.

use serde::Serialize;

use super::panel::Panel;
use super::statistic::Statistic;
use crate::figure::Figure;
use crate::rules::{Rule, Side};

/// The figures of one phase.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Phase {
    /// First point.
    pub start: usize,
    /// Last point, inclusive.
    pub end: usize,
    /// Centre of the location panel; p̄ of np, the mean count of g; `None` when no point could be used.
    pub center: Option<f64>,
    /// Within sigma of single values; σ_z of p′ and u′; `None` for other attributes.
    pub sigma: Option<f64>,
    /// Sigma between subgroups, of between and within charts alone, where it may be missing.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sigma_between: Option<Figure>,
    /// Points that the centre used; 0 when the limits were given.
    pub used: usize,
    /// Centre of the dispersion panel; `None` where it steps.
    pub dispersion_center: Option<f64>,
}

/// One pattern that broke one rule in one panel.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Signal {
    /// The panel it was found in.
    pub panel: Statistic,
    /// The rule that was broken.
    pub rule: Rule,
    /// Its side or direction, where it has one.
    pub side: Option<Side>,
    /// The first flagged point.
    pub at: usize,
    /// First point of the pattern.
    pub from: usize,
    /// Last point of the pattern.
    pub to: usize,
}

/// The answer to a [`ChartRequest`](super::ChartRequest).
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ChartAnswer {
    /// Panels in drawing order.
    pub panels: Vec<Panel>,
    /// One entry a phase.
    pub phases: Vec<Phase>,
    /// Sorted by `at`, then panel, rule, side.
    pub signals: Vec<Signal>,
    /// Limits were drawn at the mean n on request instead of each point's own.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub straight: bool,
}
