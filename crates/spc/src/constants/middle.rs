use std::sync::OnceLock;

use libm::lgamma;

use super::nodes::nodes;
use super::sizes::MAX_N;
use crate::normal::{cdf, density};

/// e(n), the standard deviation of the median of `n` standard normal values times √n; 1 at n = 1 and
/// n = 2, where the median is the mean; `None` outside 1…200.
///
/// From the density of the middle order statistic; for even n from the joint density of the middle
/// two, whose mean is the median. Source: David & Nagaraja, Order Statistics, ch. 2 and 3.
///
/// ```
/// let three = spc::constants::median_error(3).unwrap();
/// assert!((three * three / 3.0 - (1.0 - 3f64.sqrt() / std::f64::consts::PI)).abs() < 1e-12);
/// ```
pub fn median_error(n: usize) -> Option<f64> {
    static KEPT: [OnceLock<f64>; MAX_N + 1] = [const { OnceLock::new() }; MAX_N + 1];
    if !(1..=MAX_N).contains(&n) {
        return None;
    }
    Some(*KEPT[n].get_or_init(|| {
        let variance = if n % 2 == 1 { variance_of_middle(n) } else { variance_of_middle_two(n) };
        (variance * n as f64).sqrt()
    }))
}

/// ∫ x² g(x) dx of a symmetric density about as wide as that of a median of n values.
fn second_moment(n: usize, g: impl Fn(f64) -> f64) -> f64 {
    // The median's own sd is below 1.26/√n. With three steps to an sd the trapezium rule is exact to
    // the last digits; ten sd reach past what a double can see.
    let step = 1.26 / (n as f64).sqrt() / 3.0;
    2.0 * step * (1..=30).map(|i| f64::from(i) * step).map(|x| x * x * g(x)).sum::<f64>()
}

/// n!/(m!²) Φᵐ (1−Φ)ᵐ φ with m = (n−1)/2, in logarithms so that nothing overflows.
fn variance_of_middle(n: usize) -> f64 {
    let m = (n as f64 - 1.0) / 2.0;
    let factor = lgamma(n as f64 + 1.0) - 2.0 * lgamma(m + 1.0);
    second_moment(n, |x| (factor + m * (cdf(x) * cdf(-x)).ln()).exp() * density(x))
}

/// With m = n/2, mean u and half distance v of the middle two, their density is
/// 2 n!/((m−1)!²) Φ(u−v)ᵐ⁻¹ (1−Φ(u+v))ᵐ⁻¹ φ(u−v) φ(u+v).
fn variance_of_middle_two(n: usize) -> f64 {
    let m = n as f64 / 2.0 - 1.0;
    let factor = lgamma(n as f64 + 1.0) - 2.0 * lgamma(m + 1.0);
    // The distance falls off like exp(−0.8 n v), and never slower than a normal density.
    let widest = (50.0 / n as f64).min(8.0);
    let distances: Vec<(f64, f64)> = nodes(widest, 5).collect();
    second_moment(n, |u| {
        let at = |v: f64| {
            let middle = if m > 0.0 { m * (cdf(u - v) * cdf(-u - v)).ln() } else { 0.0 };
            2.0 * (factor + middle).exp() * density(u - v) * density(u + v)
        };
        distances.iter().map(|&(v, weight)| weight * at(v)).sum()
    })
}
