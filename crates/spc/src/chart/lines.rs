//! What the charts share: the figures that limits are made of, and the lines of one point.

use super::panel_point::PanelPoint;
use super::request::Limits;
use crate::figure::Figure;
use crate::sigma::{Dispersion, Pooled};

/// What a phase's limits are made of, estimated or given. Putting limits in force freezes these
/// figures, not the drawn lines: each point's own n still sets its width.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Estimate {
    /// Centre of the location panel; p̄, c̄ or ū of counts; the mean count of g. `None` when no point
    /// could be used.
    pub center: Option<f64>,
    /// Within sigma of single values; σ_z of p′ and u′; `None` when it cannot be estimated, and for
    /// charts that have none.
    pub sigma: Option<f64>,
    /// Sigma between subgroups, of between and within charts.
    pub sigma_between: Option<f64>,
    /// Sigma of the subgroups' means, of between and within charts.
    pub sigma_of_means: Option<f64>,
    /// Mean n of the points used, where straight limits or a between and within chart need it.
    pub mean_size: Option<f64>,
    /// Lower limit, centre and upper limit of a t chart, quantiles of its fit.
    pub quantiles: Option<[f64; 3]>,
    /// Points that the centre used; 0 when given.
    pub used: usize,
}

impl From<Pooled> for Estimate {
    fn from(Pooled { center, sigma, used }: Pooled) -> Self {
        Self { center, sigma, used, ..Self::default() }
    }
}

/// The lines of one point before they become figures; NaN where there is none.
#[derive(Debug, Clone, Copy)]
pub(super) struct Lines {
    pub center: f64,
    pub sigma: f64,
    pub lower: f64,
    pub upper: f64,
}

impl Lines {
    pub const NONE: Self = Self { center: f64::NAN, sigma: f64::NAN, lower: f64::NAN, upper: f64::NAN };

    /// centre ± kσ.
    #[inline]
    pub fn around(center: f64, sigma: f64, k: f64) -> Self {
        Self { center, sigma, lower: center - k * sigma, upper: center + k * sigma }
    }

    /// Of the spread of n values: its mean ± k standard deviations, floored at 0.
    pub fn of_spread(dispersion: Dispersion, n: usize, sigma: f64, k: f64) -> Self {
        let lines = |(mean, sd)| Self::around(mean * sigma, sd * sigma, k).not_below(0.0);
        dispersion.constants(n).map_or(Self::NONE, lines)
    }

    /// No limit below `edge`; a limit that is absent stays absent.
    #[inline]
    pub fn not_below(self, edge: f64) -> Self {
        Self { lower: if self.lower < edge { edge } else { self.lower }, ..self }
    }

    /// No limit above `edge`.
    #[inline]
    pub fn not_above(self, edge: f64) -> Self {
        Self { upper: if self.upper > edge { edge } else { self.upper }, ..self }
    }

    /// Constants take the place of computed limits, side by side.
    #[inline]
    pub fn or_constants(self, limits: &Limits) -> Self {
        Self { lower: limits.lower.unwrap_or(self.lower), upper: limits.upper.unwrap_or(self.upper), ..self }
    }

    /// Whether all four are the same, or absent alike.
    #[inline]
    pub fn same(&self, other: &Self) -> bool {
        let bits = |lines: &Self| [lines.center, lines.sigma, lines.lower, lines.upper].map(f64::to_bits);
        bits(self) == bits(other)
    }

    /// A value among these lines. Without a value there is nothing to test, and neither without any line:
    /// a constant limit is one where the centre is missing too.
    #[inline]
    pub fn place(self, value: f64, aside: bool) -> Placed {
        let lined = self.center.is_finite() || self.lower.is_finite() || self.upper.is_finite();
        Placed { value, lines: self, tested: !aside && value.is_finite() && lined }
    }
}

/// A point placed in a panel; NaN where there is no value.
#[derive(Debug, Clone, Copy)]
pub(super) struct Placed {
    pub value: f64,
    pub lines: Lines,
    /// Rules may look at it.
    pub tested: bool,
}

impl Placed {
    pub const NOWHERE: Self = Self { value: f64::NAN, lines: Lines::NONE, tested: false };

    /// (value − centre)/sigma; not finite where there is no sigma above 0.
    #[inline]
    pub fn z(&self) -> f64 {
        (self.value - self.lines.center) / self.lines.sigma
    }
}

impl From<Placed> for PanelPoint {
    fn from(placed: Placed) -> Self {
        let Lines { center, sigma, lower, upper } = placed.lines;
        Self {
            value: Figure::new(placed.value),
            center: Figure::new(center),
            lower: Figure::new(lower),
            upper: Figure::new(upper),
            sigma: Figure::new(sigma),
            z: Figure::new(placed.z()),
            flagged: false,
            tested: placed.tested,
        }
    }
}

impl From<&PanelPoint> for Placed {
    fn from(point: &PanelPoint) -> Self {
        let [center, sigma, lower, upper] = [point.center, point.sigma, point.lower, point.upper].map(Figure::raw);
        Self { value: point.value.raw(), lines: Lines { center, sigma, lower, upper }, tested: point.tested }
    }
}
