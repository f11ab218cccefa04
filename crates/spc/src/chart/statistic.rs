//! What panels plot.

use serde::{Deserialize, Serialize};

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
