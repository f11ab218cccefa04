//! What the charts share: the lines of one point, and a point placed among them.

use super::figures::Figures;
use super::panel_point::PanelPoint;
use crate::figure::Figure;
use crate::sigma::Dispersion;

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
    pub fn or_constants(self, figures: &Figures) -> Self {
        Self { lower: figures.lower.unwrap_or(self.lower), upper: figures.upper.unwrap_or(self.upper), ..self }
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
