//! Limits: where they come from and how long they hold.

use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartRequest, Limits, compute};

use crate::characteristic::Characteristic;

/// How far limits have come.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LimitsState {
    /// They move with every new point.
    Trial,
    /// Frozen; points are judged against them and signals count.
    InForce,
    /// Replaced; kept because signals were raised against them.
    Retired,
}

/// Centre and within sigma that points are judged against.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Figures {
    /// Centre of the location panel.
    pub center: f64,
    /// Within sigma of single values, above 0.
    pub sigma: f64,
    /// Multiplier of sigma.
    pub k: f64,
    /// Points the estimate used.
    pub used: usize,
}

impl Figures {
    /// As the core takes them: given, whatever they were estimated from.
    pub fn as_given(&self) -> Limits {
        Limits::given(self.center, self.sigma, self.k)
    }
}

/// Trial limits use at most this many points of their phase, the latest ones, so that saving a
/// sample costs the same however long a phase stays on trial. Limits that have seen so many points
/// should long have been put in force.
pub const TRIAL_POINTS_AT_MOST: usize = 200;

/// With fewer points a sigma says too little to judge by, and none is drawn.
pub const TRIAL_POINTS_AT_LEAST: usize = 10;

/// Trial limits from the readings of a phase's points; `None` while there are too few, or while
/// all readings are equal so that there is no sigma.
pub fn trial(characteristic: &Characteristic, points: Vec<Vec<f64>>, k: f64) -> Option<Figures> {
    if points.len() < TRIAL_POINTS_AT_LEAST {
        return None;
    }
    let request =
        ChartRequest { options: characteristic.chart_options(), ..ChartRequest::new(characteristic.chart, points) };
    let phase = compute(&request).ok()?.phases.first().copied()?;
    let (center, sigma) = phase.center.zip(phase.sigma.filter(|sigma| *sigma > 0.0))?;
    Some(Figures { center, sigma, k, used: phase.used })
}

/// The name of the estimate of sigma, which always stands beside the figure.
pub fn sigma_method(chart: ChartKind) -> &'static str {
    match chart {
        ChartKind::XbarR | ChartKind::MedianR => "range",
        ChartKind::XbarS => "sd",
        ChartKind::IMr => "mean_mr",
        // Counts bring their own sigma, and a run chart has none.
        _ => "none",
    }
}
