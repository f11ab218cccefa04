//! The scale that a panel of a characteristic's chart is kept at, for everybody who opens it.

use serde::{Deserialize, Serialize};
use spc::chart::Statistic;

/// Panels that a chart has at most, and more.
pub(crate) const SCALES_AT_MOST: usize = 8;

/// From where to where a panel reaches, whatever its points.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Scale {
    /// What the panel plots; a scale of a panel that the chart does not have waits for one that does.
    pub panel: Statistic,
    /// The lower end.
    pub low: f64,
    /// The upper end.
    pub high: f64,
}

impl Scale {
    pub(crate) fn holds(&self, size: f64) -> bool {
        self.low < self.high && self.low.abs() <= size && self.high.abs() <= size
    }
}
