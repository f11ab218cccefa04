//! The standard normal distribution.

use std::f64::consts::{PI, SQRT_2};

/// Φ(x) = P(Z ≤ x). Accurate to the last digits in both tails; the upper tail is `cdf(-x)`.
///
/// ```
/// assert!((spc::normal::cdf(-3.0) / 1.349898031630095e-3 - 1.0).abs() < 1e-14);
/// ```
#[inline]
pub fn cdf(x: f64) -> f64 {
    0.5 * libm::erfc(-x / SQRT_2)
}

/// φ(x) = exp(−x²/2)/√(2π).
#[inline]
pub fn density(x: f64) -> f64 {
    (-0.5 * x * x).exp() / (2.0 * PI).sqrt()
}

/// The x with Φ(x) = p; −∞ at 0 and ∞ at 1. Near 1 a double cannot tell p apart: take
/// `-quantile(1 − p)` where the upper tail itself is known.
///
/// ```
/// assert!((spc::normal::quantile(0.975) - 1.959963984540054).abs() < 1e-14);
/// ```
pub fn quantile(p: f64) -> f64 {
    if p > 0.5 {
        return -quantile(1.0 - p);
    }
    if p <= 0.0 {
        return f64::NEG_INFINITY;
    }
    let mut x = -SQRT_2 * statrs::function::erf::erfc_inv(2.0 * p);
    // The starting value is good to some ten digits; two steps of Halley's method give the rest.
    for _ in 0..2 {
        let miss = (cdf(x) - p) / density(x);
        x -= miss / (1.0 + 0.5 * x * miss);
    }
    x
}
