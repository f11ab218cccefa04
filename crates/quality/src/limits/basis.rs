//! Where limits come from, and what is asked of whoever puts them in force.

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, Figures, SigmaMethod};
use uuid::Uuid;

use super::refusal::LimitsRefusal;
use crate::field::{Allowed, WrongField, name, optional_text, text};
use crate::scheme::Scheme;

/// Where limits come from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "from", rename_all = "snake_case", deny_unknown_fields)]
pub enum Basis {
    /// All points of the phase that are not set aside.
    Phase,
    /// A stretch of them.
    Stretch {
        /// First sample.
        first: Uuid,
        /// Last sample.
        last: Uuid,
    },
    /// Some of them, the others not being set aside.
    Chosen {
        /// The samples used.
        samples: Vec<Uuid>,
    },
    /// Figures that are given.
    Given {
        /// Centre and sigma, or what else the chart is drawn from.
        figures: Figures,
        /// Where they come from, in words.
        source: String,
    },
    /// The figures of another characteristic, as of a twin machine.
    Copied {
        /// Whose limits in force are copied.
        characteristic: Uuid,
    },
}

/// Limits to put in force.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NewLimits {
    /// What they are called.
    pub name: String,
    /// What is to be said of them.
    pub remark: Option<String>,
    /// Why they are put in force although their ground is unfit.
    pub reason: Option<String>,
    /// Where they come from.
    pub basis: Basis,
    /// A constant in place of the lower limit.
    pub lower: Option<f64>,
    /// A constant in place of the upper limit.
    pub upper: Option<f64>,
    /// The first sample that revised limits hold for; the next sample, where none is named.
    pub first: Option<Uuid>,
    /// When somebody shall look at them again.
    pub next_look: Option<NaiveDate>,
}

impl NewLimits {
    /// From all points of the phase, with nothing more to be said.
    pub fn of_phase(name: &str) -> Self {
        Self {
            name: name.to_owned(),
            remark: None,
            reason: None,
            basis: Basis::Phase,
            lower: None,
            upper: None,
            first: None,
            next_look: None,
        }
    }

    /// With its texts trimmed.
    ///
    /// # Errors
    /// A field that cannot be as it is given.
    pub fn check(self) -> Result<Self, LimitsRefusal> {
        let in_order = self.lower.zip(self.upper).is_none_or(|(lower, upper)| lower < upper);
        if !in_order {
            return Err(WrongField::new("lower", Allowed::LowerBelowUpper).into());
        }
        let basis = match self.basis {
            Basis::Given { figures, source } => Basis::Given { figures, source: text("source", &source)? },
            Basis::Chosen { samples } if samples.is_empty() => {
                return Err(WrongField::new("samples", Allowed::Entries { least: 1, most: usize::MAX }).into());
            }
            basis => basis,
        };
        Ok(Self {
            name: name("name", &self.name)?,
            remark: optional_text("remark", self.remark.as_deref())?,
            reason: optional_text("reason", self.reason.as_deref())?,
            basis,
            ..self
        })
    }
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
    /// The median moving range.
    MedianMr,
    /// All values together.
    Overall,
    /// The binomial distribution.
    Binomial,
    /// The Poisson distribution.
    Poisson,
    /// The geometric distribution.
    Geometric,
    /// The Weibull distribution.
    Weibull,
    /// It was assigned, with its centre, to a control material.
    Assigned,
    /// It was given.
    Given,
    /// There is none.
    None,
}

/// Up to so many pieces ranges say as much as standard deviations.
const RANGE_AT_MOST: u32 = 10;

impl SigmaSource {
    /// The estimate that a scheme makes of samples of so many pieces.
    pub fn of(scheme: &Scheme, pieces: u32) -> Self {
        let by_size = match pieces {
            0 | 1 => Self::MeanMr,
            2..=RANGE_AT_MOST => Self::Range,
            _ => Self::Sd,
        };
        match (scheme.chart, scheme.options.sigma_method) {
            (ChartKind::XbarR | ChartKind::MedianR, _) => Self::Range,
            (ChartKind::XbarS, _) => Self::Sd,
            (ChartKind::IMr, SigmaMethod::MeanMr) => Self::MeanMr,
            (ChartKind::IMr, SigmaMethod::MedianMr) => Self::MedianMr,
            (ChartKind::IMr, SigmaMethod::Overall) => Self::Overall,
            (ChartKind::Ewma | ChartKind::Cusum | ChartKind::MovingAverage | ChartKind::BetweenWithin, _) => by_size,
            (ChartKind::P | ChartKind::Np | ChartKind::PPrime, _) => Self::Binomial,
            (ChartKind::C | ChartKind::U | ChartKind::UPrime, _) => Self::Poisson,
            (ChartKind::G, _) => Self::Geometric,
            (ChartKind::T, _) => Self::Weibull,
            (ChartKind::Run, _) => Self::None,
        }
    }
}
