use serde::{Deserialize, Serialize};

use super::figures::Figures;
use crate::points::Points;
use crate::rules::RuleSet;

/// Which chart.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ChartKind {
    /// Mean and range.
    XbarR,
    /// Mean and standard deviation.
    XbarS,
    /// Median and range.
    MedianR,
    /// Individuals and moving range.
    IMr,
    /// Values about their median, without limits.
    Run,
    /// Exponentially weighted moving average.
    Ewma,
    /// Cumulated sums of deviations from a target.
    Cusum,
    /// Mean of the last points.
    MovingAverage,
    /// Means, their moving range, and the spread within.
    BetweenWithin,
    /// Share of nonconforming units.
    P,
    /// Number of nonconforming units, constant n meant.
    Np,
    /// Nonconformities in a constant area.
    C,
    /// Nonconformities a unit.
    U,
    /// p corrected for over-dispersion.
    PPrime,
    /// u corrected for over-dispersion.
    UPrime,
    /// Conforming units between nonconforming ones.
    G,
    /// Time between events.
    T,
}

/// What is recorded at a point.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Recorded {
    /// Measured values.
    Values,
    /// Counts in units inspected.
    Counts,
    /// Distance from the event before.
    Between,
}

impl ChartKind {
    /// What its points record.
    pub fn records(self) -> Recorded {
        use ChartKind::{C, G, Np, P, PPrime, T, U, UPrime};
        match self {
            P | Np | C | U | PPrime | UPrime => Recorded::Counts,
            G | T => Recorded::Between,
            _ => Recorded::Values,
        }
    }

    /// Counts units, of which no more can be nonconforming than there are.
    pub(super) fn counts_units(self) -> bool {
        matches!(self, ChartKind::P | ChartKind::Np | ChartKind::PPrime)
    }

    /// The first `beyond` rule of a set stands for its drawn limits, whatever its k.
    pub(super) fn judged_at_drawn_limits(self) -> bool {
        matches!(self, ChartKind::Run | ChartKind::Ewma | ChartKind::Cusum | ChartKind::G | ChartKind::T)
    }
}

/// How the sigma of individuals is estimated.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SigmaMethod {
    /// Mean moving range / d2(w). The default: it holds against shifts of the mean, and is what the trade expects.
    #[default]
    MeanMr,
    /// Median moving range / median of the range of w normal values: also holds against single wild points.
    MedianMr,
    /// s with divisor N − 1, without bias correction, as laboratory charts use it.
    Overall,
}

/// Options of charts that have them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct ChartOptions {
    /// Span w of moving ranges, 2…10. Default 2.
    pub span: usize,
    /// Sigma of individuals.
    pub sigma_method: SigmaMethod,
    /// Weight λ of the newest point of an EWMA, above 0 and up to 1. Default 0.2.
    pub lambda: f64,
    /// Width w of a moving average, in points. Default 3.
    pub width: usize,
    /// Reference value κ of a CUSUM, in sigma of the mean: half the shift to be found. Default 0.5.
    pub kappa: f64,
    /// Decision interval h of a CUSUM, in sigma of the mean. Default 5.
    pub h: f64,
    /// A CUSUM starts at h/2 instead of 0.
    pub fast_start: bool,
    /// What a CUSUM measures deviations from. Default: the centre.
    pub target: Option<f64>,
    /// Plot the conforming share 1 − p instead of p.
    pub conforming: bool,
    /// Short runs: the nominal of the part at each point, which is subtracted from its values. A gap
    /// needs none.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(ignore))]
    pub nominal: Option<Vec<Option<f64>>>,
    /// Short runs: sigma of the part at each point, by which deviations are divided. A gap needs none.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(ignore))]
    pub part_sigma: Option<Vec<Option<f64>>>,
    /// Draw straight limits of counts at the mean n instead of each point's own.
    pub mean_size: bool,
}

impl Default for ChartOptions {
    fn default() -> Self {
        Self {
            span: 2,
            sigma_method: SigmaMethod::default(),
            lambda: 0.2,
            width: 3,
            kappa: 0.5,
            h: 5.0,
            fast_start: false,
            target: None,
            conforming: false,
            nominal: None,
            part_sigma: None,
            mean_size: false,
        }
    }
}

/// Where the limits of a phase come from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum LimitsBasis {
    /// From the phase's own points; `from`/`to` (inclusive, counted in the whole series) narrow them.
    Estimated {
        /// First point used.
        from: Option<usize>,
        /// Last point used.
        to: Option<usize>,
        /// Constant that replaces the lower limit of the first panel.
        lower: Option<f64>,
        /// Constant that replaces the upper limit of the first panel.
        upper: Option<f64>,
    },
    /// Frozen figures.
    Given(Figures),
}

/// Limits of one phase.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Limits {
    /// Estimated or given.
    pub basis: LimitsBasis,
    /// Multiplier of sigma, above 0. Default 3.
    pub k: f64,
}

impl Limits {
    /// Limits at 3 sigma estimated from all points of the phase.
    pub const ESTIMATED: Self =
        Self { basis: LimitsBasis::Estimated { from: None, to: None, lower: None, upper: None }, k: 3.0 };

    /// Limits at `k` sigma around frozen figures.
    pub const fn given(center: f64, sigma: f64, k: f64) -> Self {
        Self { basis: LimitsBasis::Given(Figures::new(center, sigma)), k }
    }
}

/// A control chart to compute.
#[derive(Debug, Clone, PartialEq)]
pub struct ChartRequest {
    /// Which chart.
    pub chart: ChartKind,
    /// What was recorded at each point.
    pub points: Points,
    /// Start of each phase, ascending; the first is 0.
    pub phases: Vec<usize>,
    /// Points set aside: plotted, but neither used nor tested.
    pub excluded: Vec<usize>,
    /// Points at which rule windows start afresh.
    pub restarts: Vec<usize>,
    /// One for each phase.
    pub limits: Vec<Limits>,
    /// The rules; `None` for no rules.
    pub rules: Option<RuleSet>,
    /// Options of the chart.
    pub options: ChartOptions,
}

impl ChartRequest {
    /// A chart of one phase with estimated limits at 3 sigma and nothing set aside.
    pub fn new(chart: ChartKind, points: impl Into<Points>) -> Self {
        Self {
            chart,
            points: points.into(),
            phases: vec![0],
            excluded: vec![],
            restarts: vec![],
            limits: vec![Limits::ESTIMATED],
            rules: None,
            options: ChartOptions::default(),
        }
    }

    /// First and last point of phase `i`.
    pub(crate) fn phase_bounds(&self, i: usize) -> (usize, usize) {
        let end = self.phases.get(i + 1).copied().unwrap_or(self.points.len()) - 1;
        (self.phases[i], end)
    }
}
