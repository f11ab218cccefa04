//! How far from the centre a z lies beyond an edge, to the last bit: comparing distances with that is what comparing
//! each value's z with the edge would be, without a division a point.

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

    /// |z| is above the edge farther from the centre, and nowhere else.
    pub fn last_not_beyond(self, edge: f64) -> f64 {
        self.last_where(|z| z <= edge)
    }

    /// |z| is below the edge nearer to the centre, and nowhere else.
    pub fn first_not_within(self, edge: f64) -> f64 {
        if edge > 0.0 { self.last_where(|z| z < edge).next_up() } else { 0.0 }
    }

    /// The largest distance whose z `holds`; z never falls as distances rise, so it holds for all that are smaller.
    fn last_where(self, holds: impl Fn(f64) -> bool) -> f64 {
        // As whole numbers, in which floats next to each other are.
        let (mut low, mut high) = (0, f64::INFINITY.to_bits());
        while high - low > 1 {
            let middle = low + (high - low) / 2;
            if holds(f64::from_bits(middle) / self.sigma) { low = middle } else { high = middle }
        }
        f64::from_bits(low)
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    proptest! {
        /// On either side of the edge, and at the floats next to it, distances say what their z say.
        #[test]
        fn distances_say_what_their_z_say(
            sigma in prop_oneof![1e-6..1e3f64, 1e-100..1e100f64],
            edge in prop_oneof![Just(3.0 + 1e-9), Just(-1e-9), Just(0.0), Just(1e-9), 0.0..6.0f64],
        ) {
            let scale = Scale { center: 0.0, sigma };
            let (beyond, within) = (scale.last_not_beyond(edge.abs()), scale.first_not_within(edge));
            for far in [beyond, beyond.next_up(), beyond.next_down(), within, within.next_up(), within.next_down(), 0.0] {
                let far = far.abs();
                prop_assert_eq!(far > beyond, scale.z(far) > edge.abs(), "{} beyond", far);
                prop_assert_eq!(far < within, scale.z(far) < edge, "{} within", far);
            }
        }
    }
}
