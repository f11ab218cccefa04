//! The chi-square distribution, as a gamma distribution.

use super::family::Distribution;

/// The x that a chi-square value of `df` degrees of freedom stays below with probability `p`.
pub(crate) fn chi_square_quantile(df: f64, p: f64) -> f64 {
    Distribution::Gamma { shape: df / 2.0, scale: 2.0 }.quantile(p, 1.0 - p)
}

/// Probability that a chi-square value of `df` degrees of freedom stays below `x`.
pub(crate) fn chi_square_lower_tail(df: f64, x: f64) -> f64 {
    Distribution::Gamma { shape: df / 2.0, scale: 2.0 }.cdf(x)
}

/// Probability that a chi-square value of `df` degrees of freedom exceeds `x`.
pub(crate) fn chi_square_upper_tail(df: f64, x: f64) -> f64 {
    Distribution::Gamma { shape: df / 2.0, scale: 2.0 }.upper_tail(x)
}
