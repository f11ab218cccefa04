//! Between which values a z lies beyond an edge, to the last bit: comparing values with them is what comparing each
//! value's z with the edge would be, without a division a point.

/// A centre and a sigma above 0.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Scale {
    pub center: f64,
    pub sigma: f64,
}

impl Scale {
    /// Of values that are z already.
    pub const OF_Z: Self = Self { center: 0.0, sigma: 1.0 };

    #[inline(always)]
    pub fn z(self, x: f64) -> f64 {
        (x - self.center) / self.sigma
    }

    /// z is above the edge for larger values, and for no other.
    pub fn last_not_above(self, edge: f64) -> f64 {
        self.last_where(edge, |z| z <= edge)
    }

    /// z is below the edge for smaller values, and for no other.
    pub fn first_not_below(self, edge: f64) -> f64 {
        self.last_where(edge, |z| z < edge).next_up()
    }

    /// The largest value whose z `holds`; z never falls as values rise, so it holds for all that are smaller.
    fn last_where(self, edge: f64, holds: impl Fn(f64) -> bool) -> f64 {
        let holds = |x: f64| holds(self.z(x));
        let (far, guess) = (edge * self.sigma, self.center + edge * self.sigma);
        let mut step = self.center.abs().max(far.abs()) * f64::EPSILON + f64::MIN_POSITIVE;
        let (mut low, mut high) = (guess, guess);
        while !holds(low) {
            low = guess - step;
            step *= 2.0;
        }
        while holds(high) {
            high = guess + step;
            step *= 2.0;
        }
        // As whole numbers, in which floats next to each other are.
        let (mut low, mut high) = (ordered(low), ordered(high));
        while high - low > 1 {
            let middle = low + (high - low) / 2;
            if holds(float(middle)) { low = middle } else { high = middle }
        }
        float(low)
    }
}

/// The place of a float among all.
fn ordered(x: f64) -> i128 {
    let bits = x.to_bits();
    if x.is_sign_negative() { -i128::from(bits & !SIGN) - 1 } else { i128::from(bits) }
}

fn float(place: i128) -> f64 {
    match u64::try_from(place) {
        Ok(bits) => f64::from_bits(bits),
        Err(_) => f64::from_bits(u64::try_from(-(place + 1)).unwrap_or_default() | SIGN),
    }
}

const SIGN: u64 = 1 << 63;

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    proptest! {
        /// On either side of the edge, and at the floats next to it, values say what their z say.
        #[test]
        fn values_say_what_their_z_say(
            center in prop_oneof![Just(0.0), -1e3..1e3f64, prop::num::f64::NORMAL.prop_filter("in bounds", |x| x.abs() < 1e100)],
            sigma in prop_oneof![1e-6..1e3f64, 1e-100..1e100f64],
            edge in prop_oneof![Just(3.0 + 1e-9), Just(-1e-9), Just(1e-9), -6.0..6.0f64],
        ) {
            let scale = Scale { center, sigma };
            let (above, below) = (scale.last_not_above(edge), scale.first_not_below(edge));
            for x in [above, above.next_up(), above.next_down(), below, below.next_up(), below.next_down(), center] {
                prop_assert_eq!(x > above, scale.z(x) > edge, "{} above", x);
                prop_assert_eq!(x < below, scale.z(x) < edge, "{} below", x);
            }
        }
    }
}
