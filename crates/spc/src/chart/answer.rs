use serde::{Deserialize, Serialize};

use crate::rules::{Rule, Side};

/// What a panel plots.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // the names say it
pub enum Statistic {
    Mean,
    Median,
    Individual,
    Range,
    Sd,
    MovingRange,
}

impl Statistic {
    /// Location panels take every kind of rule; dispersion and moving panels only some.
    pub fn is_location(self) -> bool {
        matches!(self, Statistic::Mean | Statistic::Median | Statistic::Individual)
    }
}

/// One point of a panel. A field that has no value there is `None`.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PanelPoint {
    /// The statistic.
    pub value: Option<f64>,
    /// Centre line at this point.
    pub center: Option<f64>,
    /// Lower control limit of this point.
    pub lower: Option<f64>,
    /// Upper control limit of this point.
    pub upper: Option<f64>,
    /// Standard error that `z` is measured in.
    pub sigma: Option<f64>,
    /// (value − center) / sigma
    pub z: Option<f64>,
    /// Some signal's flagged points include it (not merely the evidence).
    pub flagged: bool,
}

/// One panel; it has one entry for every point of the request.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Panel {
    /// What it plots.
    pub statistic: Statistic,
    /// Its points.
    pub points: Vec<PanelPoint>,
}

/// The figures of one phase.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Phase {
    /// First point.
    pub start: usize,
    /// Last point, inclusive.
    pub end: usize,
    /// Centre of the location panel; `None` when no point could be used.
    pub center: Option<f64>,
    /// Within sigma of single values.
    pub sigma: Option<f64>,
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
}
