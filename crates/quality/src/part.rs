//! Short runs: parts that share one chart, each plotted as its deviation from its own nominal.

use serde::{Deserialize, Serialize};

/// The tag that names the part of a sample.
pub const PART_TAG: &str = "part";

/// A part of a short run.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Part {
    /// As it is chosen with each sample.
    pub name: String,
    /// What its values should be; the chart shows how far they are from it.
    pub nominal: f64,
    /// Sigma of its values, by which deviations are divided, where parts scatter differently.
    pub sigma: Option<f64>,
}

impl Part {
    /// What is plotted of a value: x − nominal, over sigma where there is one.
    pub fn deviation(&self, x: f64) -> f64 {
        (x - self.nominal) / self.sigma.unwrap_or(1.0)
    }

    /// The value that deviates so far.
    pub fn value(&self, deviation: f64) -> f64 {
        self.nominal + deviation * self.sigma.unwrap_or(1.0)
    }
}
