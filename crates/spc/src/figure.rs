use serde::{Serialize, Serializer};

/// A figure that may be absent. It takes eight bytes where `Option<f64>` takes sixteen, which halves
/// the answer to a long chart; what is no finite number is absent, so neither NaN nor an infinity
/// reaches anybody. In JSON it is a number or `null`.
///
/// ```
/// use spc::Figure;
/// assert_eq!(Figure::new(2.5).get(), Some(2.5));
/// assert_eq!(Figure::new(1.0 / 0.0), Figure::NONE);
/// ```
#[derive(Clone, Copy)]
pub struct Figure(f64);

impl Figure {
    /// No figure.
    pub const NONE: Self = Self(f64::NAN);

    /// `x`, or no figure where `x` is not finite.
    #[inline]
    pub const fn new(x: f64) -> Self {
        Self(if x.is_finite() { x } else { f64::NAN })
    }

    /// The figure, if there is one.
    #[inline]
    pub const fn get(self) -> Option<f64> {
        if self.0.is_nan() { None } else { Some(self.0) }
    }
}

impl Default for Figure {
    fn default() -> Self {
        Self::NONE
    }
}

impl From<Option<f64>> for Figure {
    fn from(x: Option<f64>) -> Self {
        x.map_or(Self::NONE, Self::new)
    }
}

impl PartialEq for Figure {
    fn eq(&self, other: &Self) -> bool {
        self.get() == other.get()
    }
}

impl std::fmt::Debug for Figure {
    fn fmt(&self, f: &mut std::fmt::Formatter) -> std::fmt::Result {
        self.get().fmt(f)
    }
}

impl Serialize for Figure {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        self.get().serialize(serializer)
    }
}

/// Absent as NaN, which stays absent through arithmetic.
#[inline]
pub(crate) fn raw(x: Option<f64>) -> f64 {
    x.unwrap_or(f64::NAN)
}
