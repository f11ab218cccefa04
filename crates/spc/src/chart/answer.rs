use serde::{Deserialize, Serialize};

use super::panel::Panel;
use crate::figure::Figure;
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
    Proportion,
    Count,
    Rate,
    Ewma,
    CusumUp,
    CusumDown,
    MovingAverage,
    Value,
}

impl Statistic {
    /// Location panels take every kind of rule; the others only some.
    pub fn is_location(self) -> bool {
        matches!(self, Statistic::Mean | Statistic::Median | Statistic::Individual)
    }

    /// The spread within, or between neighbours.
    pub fn is_dispersion(self) -> bool {
        matches!(self, Statistic::Range | Statistic::Sd | Statistic::MovingRange)
    }
}

/// One point of a panel. A figure that is not there is `null` in JSON.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PanelPoint {
    /// The statistic.
    #[cfg_attr(feature = "schema", schema(value_type = Option<f64>))]
    pub value: Figure,
    /// Centre line at this point.
    #[cfg_attr(feature = "schema", schema(value_type = Option<f64>))]
    pub center: Figure,
    /// Lower control limit of this point.
    #[cfg_attr(feature = "schema", schema(value_type = Option<f64>))]
    pub lower: Figure,
    /// Upper control limit of this point.
    #[cfg_attr(feature = "schema", schema(value_type = Option<f64>))]
    pub upper: Figure,
    /// Standard error that `z` is measured in.
    #[cfg_attr(feature = "schema", schema(value_type = Option<f64>))]
    pub sigma: Figure,
    /// (value − center) / sigma
    #[cfg_attr(feature = "schema", schema(value_type = Option<f64>))]
    pub z: Figure,
    /// Some signal's flagged points include it (not merely the evidence).
    pub flagged: bool,
    /// Rules looked at it: it has a statistic and a centre, and nothing it rests on is set aside.
    #[serde(skip)]
    pub tested: bool,
}

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
