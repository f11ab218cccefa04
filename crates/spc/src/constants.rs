//! Constants of n independent standard normal values, computed rather than tabled: of their range,
//! their standard deviation and their median.
//!
//! Accuracy is 1e-9 relative or better for every n from 2 to 200. Each n is computed once and kept.

use std::sync::OnceLock;

use libm::{erfc, lgamma};

/// Smallest subgroup that has a range.
pub const MIN_N: usize = 2;
/// Largest subgroup size that is computed.
pub const MAX_N: usize = 200;

/// Φ(x), the standard normal distribution function.
fn phi_cdf(x: f64) -> f64 {
    0.5 * erfc(-x / std::f64::consts::SQRT_2)
}

fn phi_density(x: f64) -> f64 {
    (-0.5 * x * x).exp() / (2.0 * std::f64::consts::PI).sqrt()
}

/// Beyond this the standard normal density is below 1e-22 and adds nothing to a double.
const REACH: f64 = 10.0;
/// Step of the trapezium rule. For analytic integrands that vanish at both ends its error falls
/// exponentially with the step; at 1/16 it is far below the 1e-9 that is promised.
const STEP: f64 = 1.0 / 16.0;

/// Distribution function of the range W of n standard normal values:
/// F(w) = n ∫ φ(x) (Φ(x+w) − Φ(x))ⁿ⁻¹ dx.
fn range_cdf(n: usize, w: f64) -> f64 {
    let steps = ((2.0 * REACH + w) / STEP).ceil() as usize;
    let power = n as i32 - 1;
    let sum: f64 = (0..=steps)
        .map(|i| {
            let x = -REACH - w + i as f64 * STEP;
            phi_density(x) * (phi_cdf(x + w) - phi_cdf(x)).powi(power)
        })
        .sum();
    n as f64 * sum * STEP
}

/// The range of 200 standard normal values stays below this but for a chance below 1e-24.
const WIDEST: f64 = 16.0;

/// Nodes and weights of the ten-point Gauss–Legendre rule on [−1, 1] (positive half).
const GAUSS_10: [(f64, f64); 5] = [
    (0.148_874_338_981_631_22, 0.295_524_224_714_752_87),
    (0.433_395_394_129_247_2, 0.269_266_719_309_996_35),
    (0.679_409_568_299_024_4, 0.219_086_362_515_982_04),
    (0.865_063_366_688_984_5, 0.149_451_349_150_580_6),
    (0.973_906_528_517_171_7, 0.066_671_344_308_688_14),
];

/// ∫₀^end f(w) dw in panels of ten nodes.
fn integrate_to(end: f64, panels: u32, f: impl Fn(f64) -> f64) -> f64 {
    let width = end / f64::from(panels);
    (0..panels)
        .flat_map(|panel| GAUSS_10.iter().map(move |node| (panel, node)))
        .map(|(panel, (x, weight))| {
            let middle = (f64::from(panel) + 0.5) * width;
            0.5 * width * weight * (f(middle - 0.5 * width * x) + f(middle + 0.5 * width * x))
        })
        .sum()
}

/// Mean and standard deviation of the range of n standard normal values.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RangeConstants {
    /// d2(n) = E\[W\] = ∫ 1 − Φ(x)ⁿ − (1−Φ(x))ⁿ dx
    pub d2: f64,
    /// d3(n) = sd\[W\], with E\[W²\] = ∫ 2w (1 − F(w)) dw
    pub d3: f64,
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
        let steps = (2.0 * REACH / STEP) as usize;
        let power = n as i32;
        let d2 = STEP
            * (0..=steps)
                .map(|i| -REACH + i as f64 * STEP)
                .map(|x| 1.0 - phi_cdf(x).powi(power) - phi_cdf(-x).powi(power))
                .sum::<f64>();
        let mean_square = integrate_to(WIDEST, 16, |w| 2.0 * w * (1.0 - range_cdf(n, w)));
        RangeConstants { d2, d3: (mean_square - d2 * d2).sqrt() }
    }))
}

/// Median of the range of `n` standard normal values (0.95387255… at n = 2), by which a median
/// moving range is divided; `None` outside 2…200.
pub fn range_median(n: usize) -> Option<f64> {
    static KEPT: [OnceLock<f64>; MAX_N + 1] = [const { OnceLock::new() }; MAX_N + 1];
    if !(MIN_N..=MAX_N).contains(&n) {
        return None;
    }
    Some(*KEPT[n].get_or_init(|| {
        let (mut low, mut high) = (0.0, WIDEST);
        // 60 halvings of 16 reach the last bit of a double near 1.
        for _ in 0..60 {
            let middle = 0.5 * (low + high);
            if range_cdf(n, middle) < 0.5 { low = middle } else { high = middle }
        }
        0.5 * (low + high)
    }))
}

/// c4(n) = √(2/(n−1)) Γ(n/2) / Γ((n−1)/2), the mean of the standard deviation of `n` standard normal
/// values; `None` outside 2…200. Source: ISO 7870-2.
pub fn c4(n: usize) -> Option<f64> {
    if !(MIN_N..=MAX_N).contains(&n) {
        return None;
    }
    let n = n as f64;
    Some((2.0 / (n - 1.0)).sqrt() * (lgamma(n / 2.0) - lgamma((n - 1.0) / 2.0)).exp())
}

/// e(n), the standard deviation of the median of `n` standard normal values times √n; 1 at n = 1 and
/// n = 2, where the median is the mean; `None` outside 1…200.
///
/// From the density of the middle order statistic; for even n from the joint density of the middle
/// two, whose mean is the median. Source: David & Nagaraja, Order Statistics, ch. 2 and 3.
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
    // The median's own sd is below 1.26/√n. With eight steps to an sd the trapezium rule is exact to
    // the last digits; twelve sd reach past what a double can see.
    let step = 1.26 / (n as f64).sqrt() / 8.0;
    2.0 * step * (1..=96).map(|i| f64::from(i) * step).map(|x| x * x * g(x)).sum::<f64>()
}

/// n!/(m!²) Φᵐ (1−Φ)ᵐ φ with m = (n−1)/2, in logarithms so that nothing overflows.
fn variance_of_middle(n: usize) -> f64 {
    let m = (n as f64 - 1.0) / 2.0;
    let factor = lgamma(n as f64 + 1.0) - 2.0 * lgamma(m + 1.0);
    second_moment(n, |x| (factor + m * (phi_cdf(x) * phi_cdf(-x)).ln()).exp() * phi_density(x))
}

/// With m = n/2, mean u and half distance v of the middle two, their density is
/// 2 n!/((m−1)!²) Φ(u−v)ᵐ⁻¹ (1−Φ(u+v))ᵐ⁻¹ φ(u−v) φ(u+v).
fn variance_of_middle_two(n: usize) -> f64 {
    let m = n as f64 / 2.0 - 1.0;
    let factor = lgamma(n as f64 + 1.0) - 2.0 * lgamma(m + 1.0);
    // The distance falls off like exp(−0.8 n v), and never slower than a normal density.
    let widest = (50.0 / n as f64).min(8.0);
    second_moment(n, |u| {
        integrate_to(widest, 8, |v| {
            let middle = if m > 0.0 { m * (phi_cdf(u - v) * phi_cdf(-u - v)).ln() } else { 0.0 };
            2.0 * (factor + middle).exp() * phi_density(u - v) * phi_density(u + v)
        })
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    fn assert_relative(got: f64, want: f64, relative: f64) {
        assert!((got - want).abs() <= relative * want.abs(), "{got} is not {want} within {relative}");
    }

    /// Closed forms: W of two values is |N(0, 2)|.
    #[test]
    fn two_values_have_closed_forms() {
        let c = range_constants(2).unwrap();
        let pi = std::f64::consts::PI;
        assert_relative(c.d2, 2.0 / pi.sqrt(), 1e-12);
        assert_relative(c.d3, (2.0 - 4.0 / pi).sqrt(), 1e-12);
        assert_relative(range_median(2).unwrap(), 0.953_872_552_4, 1e-10);
    }

    /// Printed to five decimals in Montgomery, Introduction to Statistical Quality Control, app. VI
    /// (three decimals there) and in Harter (1960), table 1.
    #[rstest]
    #[case(3, 1.692_57, 0.888_37)]
    #[case(4, 2.058_75, 0.879_81)]
    #[case(5, 2.325_93, 0.864_08)]
    #[case(10, 3.077_51, 0.797_05)]
    #[case(25, 3.930_63, 0.708_44)]
    fn printed_figures_hold(#[case] n: usize, #[case] d2: f64, #[case] d3: f64) {
        let c = range_constants(n).unwrap();
        assert_relative(c.d2, d2, 2e-5);
        assert_relative(c.d3, d3, 2e-4);
    }

    /// A3 = 3/(c4 √n), B3 and B4 = 1 ∓ 3 √(1−c4²)/c4, as printed to three decimals in Montgomery, app. VI.
    #[rstest]
    #[case(2, 2.659, 0.0, 3.267)]
    #[case(5, 1.427, 0.0, 2.089)]
    #[case(10, 0.975, 0.284, 1.716)]
    #[case(25, 0.606, 0.565, 1.435)]
    fn printed_factors_of_s_hold(#[case] n: usize, #[case] a3: f64, #[case] b3: f64, #[case] b4: f64) {
        let c = c4(n).unwrap();
        let spread = 3.0 * (1.0 - c * c).sqrt() / c;
        let to_three = |x: f64| (x * 1e3).round() / 1e3;
        assert_eq!(to_three(3.0 / (c * (n as f64).sqrt())), a3);
        assert_eq!((to_three((1.0 - spread).max(0.0)), to_three(1.0 + spread)), (b3, b4));
    }

    /// Medians of one and two values are their mean; of three values the
    /// variance is 1 − √3/π = 0.448671. Towards many values e → √(π/2).
    #[test]
    fn errors_of_medians_hold_where_they_are_known() {
        assert_relative(median_error(1).unwrap(), 1.0, 1e-12);
        assert_relative(median_error(2).unwrap(), 1.0, 1e-12);
        assert_relative(median_error(3).unwrap(), (3.0 * (1.0 - 3f64.sqrt() / std::f64::consts::PI)).sqrt(), 1e-12);
        assert_relative(median_error(199).unwrap(), std::f64::consts::FRAC_PI_2.sqrt(), 5e-3);
    }

    #[rstest]
    #[case(0)]
    #[case(201)]
    fn outside_the_range_there_is_nothing(#[case] n: usize) {
        assert_eq!(range_constants(n), None);
        assert_eq!(range_median(n), None);
        assert_eq!(c4(n), None);
        assert_eq!(median_error(n), None);
    }
}
