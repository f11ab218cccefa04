//! Limits: where they come from and how long they hold.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartRequest, Limits, LimitsBasis, compute};
use spc::points::Points;
use thiserror::Error;

use crate::characteristic::{Characteristic, Kind};

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

/// Why limits are not put in force.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum LimitsRefusal {
    /// There are too few points for limits, or they do not differ.
    #[error("fewer than {needed} points that differ")]
    TooFewPoints {
        /// How many there must be.
        needed: usize,
    },
    /// They are in force already.
    #[error("the limits are not on trial")]
    NotOnTrial,
}

/// What points are judged against.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Figures {
    /// Centre of the location panel; p̄, c̄ or ū of counts.
    pub center: f64,
    /// Within sigma of single values, above 0; σ_z of p′ and u′; other counts bring their own.
    pub sigma: Option<f64>,
    /// Multiplier of sigma.
    pub k: f64,
}

impl Figures {
    /// As the core takes them: given, whatever they were estimated from.
    pub fn as_given(&self) -> Limits {
        let basis = LimitsBasis::Given { center: self.center, sigma: self.sigma, sigma_between: None };
        Limits { basis, k: self.k, lower: None, upper: None }
    }
}

/// Trial limits use at most this many points of their phase, the latest ones, so that saving a
/// sample costs the same however long a phase stays on trial. Limits that have seen so many points
/// should long have been put in force.
pub const TRIAL_POINTS_AT_MOST: usize = 200;

/// With fewer points a sigma says too little to judge by, and none is drawn.
pub const TRIAL_POINTS_AT_LEAST: usize = 10;

/// Trial limits from a phase's points, and how many were used; `None` while there are too few, or
/// while they do not differ: equal readings have no sigma, and without any nonconforming unit (or
/// with no other) a share has none.
pub fn trial(characteristic: &Characteristic, points: Points, k: f64) -> Option<(Figures, usize)> {
    let request =
        ChartRequest { options: characteristic.chart_options(), ..ChartRequest::new(characteristic.chart, points) };
    let phase = compute(&request).ok()?.phases.first().copied()?;
    let center = phase.center.filter(|_| phase.used >= TRIAL_POINTS_AT_LEAST)?;
    let figures = match characteristic.kind {
        Kind::Measured => Figures { center, sigma: Some(phase.sigma.filter(|sigma| *sigma > 0.0)?), k },
        Kind::NonconformingUnits if center >= 1.0 => return None,
        _ if center <= 0.0 => return None,
        _ if own_sigma(characteristic.chart) => Figures { center, sigma: None, k },
        _ => Figures { center, sigma: Some(phase.sigma.filter(|sigma| *sigma > 0.0)?), k },
    };
    Some((figures, phase.used))
}

/// Sigma follows from the centre and the number inspected.
fn own_sigma(chart: ChartKind) -> bool {
    matches!(chart, ChartKind::P | ChartKind::Np | ChartKind::C | ChartKind::U)
}

/// Where a sigma comes from; it always stands beside the figure.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SigmaSource {
    /// Ranges of subgroups.
    Range,
    /// Standard deviations of subgroups.
    Sd,
    /// The mean moving range.
    MeanMr,
    /// The binomial distribution.
    Binomial,
    /// The Poisson distribution.
    Poisson,
    /// It was assigned, with its centre, to a control material.
    Assigned,
    /// There is none.
    None,
}

impl SigmaSource {
    /// The estimate that a chart makes.
    pub fn of(chart: ChartKind) -> Self {
        match chart {
            ChartKind::XbarR | ChartKind::MedianR => Self::Range,
            ChartKind::XbarS => Self::Sd,
            ChartKind::IMr => Self::MeanMr,
            ChartKind::P | ChartKind::Np | ChartKind::PPrime => Self::Binomial,
            ChartKind::C | ChartKind::U | ChartKind::UPrime => Self::Poisson,
            // A run chart has none.
            _ => Self::None,
        }
    }
}

/// Place of the phase that holds at `at`, among phases in the order of their starts. What was sampled before the
/// first counts to it.
pub fn holding(starts: impl DoubleEndedIterator<Item = DateTime<Utc>> + ExactSizeIterator, at: DateTime<Utc>) -> usize {
    starts.into_iter().rposition(|start| start <= at).unwrap_or(0)
}
