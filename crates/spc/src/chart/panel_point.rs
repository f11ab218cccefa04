//! One point of a panel, as it is read.

use serde::Serialize;

use crate::figure::Figure;

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
