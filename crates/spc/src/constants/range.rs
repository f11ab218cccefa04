use std::sync::{LazyLock, OnceLock};

use super::nodes::nodes;
use super::sizes::{MAX_N, MIN_N};
use crate::normal::{cdf, density};
use crate::solve::root;

/// Mean and standard deviation of the range of n standard normal values.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RangeConstants {
    /// d2(n) = E\[W\] = ∫ 1 − F(w) dw = ∫ 1 − Φ(x)ⁿ − (1−Φ(x))ⁿ dx
    pub d2: f64,
    /// d3(n) = sd\[W\], with E\[W²\] = ∫ 2w (1 − F(w)) dw
    pub d3: f64,
}

/// Beyond this the standard normal density is below 1e-16 and adds nothing that counts.
const REACH: f64 = 8.5;
/// Step of the trapezium rule. For analytic integrands that vanish at both ends its error falls
/// exponentially with the square of the step; at 1/6 it is far below the 1e-9 that is promised.
const STEP: f64 = 1.0 / 6.0;
/// The range of 200 standard normal values stays below this but for a chance below 1e-20.
const WIDEST: f64 = 14.0;

/// A place x with Φ(x) and φ(x).
type Place = (f64, f64, f64);

/// All n share their places: what depends on n are powers alone.
static PLACES: LazyLock<Vec<Place>> = LazyLock::new(|| {
    let half = (REACH / STEP) as i32;
    (-half..=half).map(|i| f64::from(i) * STEP).map(|x| (x, cdf(x), density(x))).collect()
});

/// A width w, its weight in ∫ dw, and Φ(x+w) − Φ(x) at every place.
type Width = (f64, f64, Vec<f64>);

static WIDTHS: LazyLock<Vec<Width>> =
    LazyLock::new(|| nodes(WIDEST, 10).map(|(w, weight)| (w, weight, between(w))).collect());

fn between(w: f64) -> Vec<f64> {
    PLACES.iter().map(|(x, below, _)| cdf(x + w) - below).collect()
}

/// Distribution function of the range W: F(w) = n ∫ φ(x) (Φ(x+w) − Φ(x))ⁿ⁻¹ dx.
fn range_cdf(n: usize, between: &[f64]) -> f64 {
    let power = n as i32 - 1;
    let sum: f64 = PLACES.iter().zip(between).map(|((_, _, density), between)| density * between.powi(power)).sum();
    n as f64 * sum * STEP
}

/// d2 and d3 of a subgroup of `n` values; `None` outside 2…200, where there is no range to speak of.
///
/// Source: ISO 7870-2, annex on control chart constants; the integrals as in Harter (1960).
///
/// ```
/// let c = spc::constants::range_constants(5).unwrap();
/// assert_eq!((c.d2 * 1e3).round(), 2326.0);
/// assert_eq!((c.d3 * 1e4).round(), 8641.0);
/// assert!(spc::constants::range_constants(1).is_none());
/// ```
pub fn range_constants(n: usize) -> Option<RangeConstants> {
    static KEPT: [OnceLock<RangeConstants>; MAX_N + 1] = [const { OnceLock::new() }; MAX_N + 1];
    if !(MIN_N..=MAX_N).contains(&n) {
        return None;
    }
    Some(*KEPT[n].get_or_init(|| {
        let power = n as i32;
        let d2 =
            STEP * PLACES.iter().map(|(_, below, _)| 1.0 - below.powi(power) - (1.0 - below).powi(power)).sum::<f64>();
        let mean_square: f64 =
            WIDTHS.iter().map(|(w, weight, between)| weight * 2.0 * w * (1.0 - range_cdf(n, between))).sum();
        RangeConstants { d2, d3: (mean_square - d2 * d2).sqrt() }
    }))
}

/// Median of the range of `n` standard normal values (0.95387255… at n = 2), by which a median
/// moving range is divided; `None` outside 2…200.
///
/// ```
/// let median = spc::constants::range_median(2).unwrap();
/// assert!((median / 0.9538725524 - 1.0).abs() < 1e-10);
/// ```
pub fn range_median(n: usize) -> Option<f64> {
    static KEPT: [OnceLock<f64>; MAX_N + 1] = [const { OnceLock::new() }; MAX_N + 1];
    if !(MIN_N..=MAX_N).contains(&n) {
        return None;
    }
    let median = || root((0.0, -0.5), (WIDEST, 0.5), |w| range_cdf(n, &between(w)) - 0.5);
    Some(*KEPT[n].get_or_init(|| median().unwrap_or(f64::NAN)))
}
