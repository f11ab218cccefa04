//! Roots of functions of one number.

/// The root of a monotone `f` on the positive numbers, bracketed outwards from `start`; `None` when
/// there is no change of sign within sixty doublings to either side.
pub(crate) fn positive_root(start: f64, f: impl Fn(f64) -> f64) -> Option<f64> {
    let (mut low, mut high) = (start, start);
    for _ in 0..60 {
        let (at_low, at_high) = (f(low), f(high));
        if at_low * at_high <= 0.0 {
            return root((low, at_low), (high, at_high), f);
        }
        (low, high) = (low / 2.0, high * 2.0);
    }
    None
}

/// The root of `f` between two places with values of opposite sign. The Illinois variant of false
/// position, with a halving whenever two steps have not halved the bracket: it never leaves the
/// bracket and ends at neighbouring doubles. Source: Dowell & Jarratt (1971).
pub(crate) fn root((mut a, mut fa): (f64, f64), (mut b, mut fb): (f64, f64), f: impl Fn(f64) -> f64) -> Option<f64> {
    // NaN at either end is no change of sign.
    if (fa * fb).is_nan() || fa * fb > 0.0 {
        return None;
    }
    let mut width = (b - a).abs();
    for step in 1..400 {
        if fa == 0.0 || fb == 0.0 {
            break;
        }
        let halve = step % 3 == 0 && (b - a).abs() > 0.5 * width;
        let inside = b - fb * (b - a) / (fb - fa);
        let x = if halve || !(inside > a.min(b) && inside < a.max(b)) { 0.5 * (a + b) } else { inside };
        if step % 3 == 0 {
            width = (b - a).abs();
        }
        if (b - a).abs() <= 2.0 * f64::EPSILON * b.abs() || x == a || x == b {
            break;
        }
        let fx = f(x);
        if fx * fb < 0.0 {
            (a, fa) = (b, fb);
        } else {
            // The same end stays twice: its weight is halved, or it would stay for ever.
            fa *= 0.5;
        }
        (b, fb) = (x, fx);
    }
    Some(if fa == 0.0 { a } else { b })
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case::cube_root(|x: f64| x.powi(3) - 2.0, 2f64.cbrt())]
    #[case::decreasing(|x: f64| (-x).exp() - 1e-9, -(1e-9f64).ln())]
    #[case::flat_at_the_root(|x: f64| (x - 1.0).powi(3), 1.0)]
    #[case::far_away(|x: f64| x.ln() - 30.0, 30f64.exp())]
    fn a_root_is_found_to_the_last_digits(#[case] f: fn(f64) -> f64, #[case] expected: f64) {
        let found = positive_root(0.7, f).unwrap();
        // Flat functions cannot be told from zero nearer than the cube root of a rounding.
        let relative = if expected == 1.0 { 1e-5 } else { 1e-14 };
        assert!((found - expected).abs() <= relative * expected, "{found} is not {expected}");
    }

    #[test]
    fn without_a_change_of_sign_there_is_no_root() {
        assert_eq!(positive_root(1.0, |x| x * x + 1.0), None);
        assert_eq!(positive_root(1.0, |_| f64::NAN), None);
    }
}
