//! What comes of a chart request.

use serde::ser::SerializeMap;
use serde::{Serialize, Serializer};

use super::figures::Figures;
use super::panel::Panel;
use super::request::ChartKind;
use super::statistic::Statistic;
use crate::rules::{Rule, Side};

/// The figures of one phase.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Phase {
    /// First point.
    pub start: usize,
    /// Last point, inclusive.
    pub end: usize,
    /// The chart, which says what figures there are.
    pub chart: ChartKind,
    /// What its limits are made of.
    pub figures: Figures,
    /// Points that the centre used; 0 when the limits were given.
    pub used: usize,
    /// Centre of the dispersion panel; `None` where it steps.
    pub dispersion_center: Option<f64>,
}

impl Serialize for Phase {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let Figures { center, sigma, sigma_between, shape, scale, .. } = self.figures;
        let mut phase = serializer.serialize_map(None)?;
        phase.serialize_entry("start", &self.start)?;
        phase.serialize_entry("end", &self.end)?;
        phase.serialize_entry("center", &center)?;
        phase.serialize_entry("sigma", &sigma)?;
        // A figure that the chart has is there even where it is missing.
        if self.chart == ChartKind::BetweenWithin {
            phase.serialize_entry("sigma_between", &sigma_between)?;
        }
        if self.chart == ChartKind::T {
            phase.serialize_entry("shape", &shape)?;
            phase.serialize_entry("scale", &scale)?;
        }
        phase.serialize_entry("used", &self.used)?;
        phase.serialize_entry("dispersion_center", &self.dispersion_center)?;
        phase.end()
    }
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
