//! What is measured on a product at a station.

use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartOptions};
use spc::rules::RuleSet;
use uuid::Uuid;

/// Lower and upper bound, each optional, in the unit of the characteristic.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Bounds {
    /// Values below it are outside.
    pub lower: Option<f64>,
    /// Values above it are outside.
    pub upper: Option<f64>,
}

impl Bounds {
    /// Whether `x` lies within; a value equal to a bound does.
    pub fn hold(&self, x: f64) -> bool {
        self.lower.is_none_or(|lower| x >= lower) && self.upper.is_none_or(|upper| x <= upper)
    }
}

/// A measured characteristic, as far as entry and judging need it.
#[derive(Debug, Clone, PartialEq)]
pub struct Characteristic {
    /// Identity.
    pub id: Uuid,
    /// Decimals that the unit allows.
    pub decimals: u8,
    /// The chart it is watched on.
    pub chart: ChartKind,
    /// Pieces in a sample.
    pub subgroup_size: usize,
    /// The rules that judge it.
    pub rule_set: RuleSet,
    /// Refused outside: cannot be measured.
    pub hard_bounds: Bounds,
    /// Asked outside: typed again or confirmed.
    pub soft_bounds: Bounds,
    /// Minutes from one sample to the next.
    pub interval_minutes: u32,
}

impl Characteristic {
    /// Options of its chart; all characteristics use the defaults for now.
    pub fn chart_options(&self) -> ChartOptions {
        ChartOptions::default()
    }

    /// How many points before a sample its judgement can depend on: the longest rule window, one
    /// more to see whether its pattern was already going on, and what a moving range reaches back.
    pub fn look_back(&self) -> usize {
        self.rule_set.longest_window() + self.chart_options().span
    }

    /// How many points after a sample have rule windows or moving ranges that hold it.
    pub fn look_ahead(&self) -> usize {
        self.rule_set.longest_window() + self.chart_options().span - 2
    }
}
