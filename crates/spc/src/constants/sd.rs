use libm::lgamma;

use super::sizes::{MAX_N, MIN_N};

/// c4(n) = √(2/(n−1)) Γ(n/2) / Γ((n−1)/2), the mean of the standard deviation of `n` standard normal
/// values; `None` outside 2…200. Source: ISO 7870-2.
///
/// ```
/// assert_eq!((spc::constants::c4(5).unwrap() * 1e4).round(), 9400.0);
/// ```
pub fn c4(n: usize) -> Option<f64> {
    if !(MIN_N..=MAX_N).contains(&n) {
        return None;
    }
    let n = n as f64;
    Some((2.0 / (n - 1.0)).sqrt() * (lgamma(n / 2.0) - lgamma((n - 1.0) / 2.0)).exp())
}
