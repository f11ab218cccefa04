//! What limits are made of. Putting limits in force freezes these figures, not the drawn lines: each
//! point's own n still sets its width.

use serde::{Deserialize, Serialize};

use crate::sigma::Pooled;
use crate::wrong_request::{Expected, WrongRequest, within_range};

/// The figures of a phase's limits, estimated or given. Which of them a chart has, [`ChartKind`](super::ChartKind) says.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Figures {
    /// Centre of the location panel; p̄, c̄ or ū of counts; the mean count of g; the median of the fit of t.
    /// `None` when no point could be used.
    pub center: Option<f64>,
    /// Within sigma of single values; σ_z of p′ and u′; `None` when it cannot be estimated, and for
    /// charts that have none.
    pub sigma: Option<f64>,
    /// Sigma between subgroups, of between and within charts.
    pub sigma_between: Option<f64>,
    /// Mean n, where straight limits or a between and within chart need it. Default: that of the points.
    pub mean_n: Option<f64>,
    /// Shape of the Weibull distribution of a t chart.
    pub shape: Option<f64>,
    /// Its scale.
    pub scale: Option<f64>,
    /// A constant that replaces the lower limit of the first panel.
    pub lower: Option<f64>,
    /// A constant that replaces the upper limit of the first panel.
    pub upper: Option<f64>,
}

impl Figures {
    /// A centre and a sigma.
    pub const fn new(center: f64, sigma: f64) -> Self {
        Self { sigma: Some(sigma), ..Self::centered(center) }
    }

    /// A centre alone, as counts have it.
    pub const fn centered(center: f64) -> Self {
        Self {
            center: Some(center),
            sigma: None,
            sigma_between: None,
            mean_n: None,
            shape: None,
            scale: None,
            lower: None,
            upper: None,
        }
    }

    /// Whether constants that replace limits can be: the lower below the upper.
    pub(super) fn check_constants(&self, field: impl Fn(&str) -> String) -> Result<(), WrongRequest> {
        for (name, constant) in [("lower", self.lower), ("upper", self.upper)] {
            if let Some(x) = constant.filter(|&x| !within_range(x)) {
                return Err(WrongRequest::new(field(name), x, Expected::NUMBER));
            }
        }
        match (self.lower, self.upper) {
            (Some(lower), Some(upper)) if lower >= upper => {
                Err(WrongRequest::new(field("lower"), lower, Expected::below(upper)))
            }
            _ => Ok(()),
        }
    }
}

impl From<Pooled> for Estimate {
    fn from(Pooled { center, sigma, used }: Pooled) -> Self {
        Self { figures: Figures { center, sigma, ..Figures::default() }, used, sigma_of_means: None }
    }
}

/// Figures estimated from the points of a phase.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub(super) struct Estimate {
    pub figures: Figures,
    /// Points that the centre used; 0 when given.
    pub used: usize,
    /// Sigma of the subgroups' means, of between and within charts.
    pub sigma_of_means: Option<f64>,
}
