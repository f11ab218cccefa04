use serde::Serialize;

use super::family::Distribution;
use super::tally::Tally;
use crate::subgroup::{mean, sd};

/// A² = −N − (1/N) Σ (2i−1) (ln F(x₍ᵢ₎) + ln(1 − F(x₍N+1−i₎))). Equal values, of ranks a+1 … b, share one term: their
/// 2i−1 add up to b² − a². `None` where a value lies outside the support. Source: Anderson & Darling (1954); D'Agostino & Stephens (1986), ch. 4.
pub fn anderson_darling(values: &Tally, distribution: &Distribution) -> Option<f64> {
    let n = values.n();
    // Far in a tail a probability is too small for a double; its logarithm is cut off there.
    let ln = |p: f64| p.max(f64::MIN_POSITIVE).ln();
    let mut below = 0.0;
    let mut sum = 0.0;
    for (x, count) in values.iter() {
        let (up_to, above) = (below + count, n - below - count);
        let from_below = (up_to + below) * count;
        let from_above = (2.0 * above + count) * count;
        sum += from_below * ln(distribution.cdf(x)) + from_above * ln(distribution.upper_tail(x));
        below = up_to;
    }
    Some(-n - sum / n).filter(|a2| a2.is_finite())
}

/// Whether values look normal.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Normality {
    /// A² of the normal distribution with mean x̄ and s (divisor N − 1).
    pub a2: f64,
    /// A*² = A² (1 + 0.75/N + 2.25/N²), which allows for the estimated mean and s.
    pub a2_star: f64,
    /// Probability of an A*² as large if the values were normal.
    pub p: f64,
}

/// Anderson–Darling test of normality; `None` for fewer than two different values.
/// Source: D'Agostino & Stephens (1986), table 4.9.
pub fn normality(values: &[f64]) -> Option<Normality> {
    let (mean, sd) = (mean(values)?, sd(values).filter(|sd| *sd > 0.0)?);
    let a2 = anderson_darling(&Tally::of(values), &Distribution::Normal { mean, sd })?;
    let n = values.len() as f64;
    let a2_star = a2 * (1.0 + 0.75 / n + 2.25 / (n * n));
    Some(Normality { a2, a2_star, p: p_of(a2_star) })
}

/// The usual four branches.
fn p_of(a: f64) -> f64 {
    if a < 0.2 {
        1.0 - (-13.436 + 101.14 * a - 223.73 * a * a).exp()
    } else if a < 0.34 {
        1.0 - (-8.318 + 42.796 * a - 59.938 * a * a).exp()
    } else if a < 0.6 {
        (0.9177 - 4.279 * a - 1.38 * a * a).exp()
    } else {
        // The parabola turns upwards at its vertex, where p is below 1e-180 already.
        let a = a.min(5.709 / (2.0 * 0.0186));
        (1.2937 - 5.709 * a + 0.0186 * a * a).exp()
    }
}
