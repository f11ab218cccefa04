//! Distributions of counts that exact tests rest on, known by the ratio of neighbouring probabilities alone: nothing
//! is lost among large factorials.

/// Two probabilities this near are those of equally rare counts, relative: rounding must not tell a tie apart.
const TIE: f64 = 1e-7;

/// A distribution of whole numbers with a single peak.
pub(crate) struct Counts<R> {
    least: u64,
    most: u64,
    /// P(X = x + 1) / P(X = x), falling in x.
    ratio: R,
}

/// How many of `drawn` have a mark that `with` have and `without` have not.
pub(crate) fn hypergeometric(with: u64, without: u64, drawn: u64) -> Counts<impl Fn(f64) -> f64> {
    let (w, o, d) = (with as f64, without as f64, drawn as f64);
    Counts {
        least: drawn.saturating_sub(without),
        most: with.min(drawn),
        ratio: move |x| (w - x) * (d - x) / ((x + 1.0) * (o - d + x + 1.0)),
    }
}

/// How many of `n` events fall to a side that each falls to with probability p; `odds` = p/(1 − p).
pub(crate) fn binomial(n: u64, odds: f64) -> Counts<impl Fn(f64) -> f64> {
    let all = n as f64;
    Counts { least: 0, most: n, ratio: move |x| odds * (all - x) / (x + 1.0) }
}

impl<R: Fn(f64) -> f64> Counts<R> {
    /// P(X ≥ seen).
    pub fn at_least(&self, seen: u64) -> f64 {
        let above: f64 = 1.0 + self.upwards(seen, 1.0).map(|(_, weight)| weight).sum::<f64>();
        let below: f64 = self.downwards(seen, 1.0).map(|(_, weight)| weight).sum();
        above / (above + below)
    }

    /// Probability of counts that are as rare as `seen`, or rarer, on either side.
    pub fn as_rare_as(&self, seen: u64) -> f64 {
        let peak = self.peak();
        // Relative to the peak, so that no weight can grow too large.
        let others = || self.upwards(peak, 1.0).chain(self.downwards(peak, 1.0));
        let of_seen =
            others().find(|(x, _)| *x == seen).map_or(f64::from(u8::from(seen == peak)), |(_, weight)| weight);
        let rare = |weight: f64| if weight <= of_seen * (1.0 + TIE) { weight } else { 0.0 };
        let (all, rare) = others().fold((1.0, rare(1.0)), |(all, sum), (_, w)| (all + w, sum + rare(w)));
        rare / all
    }

    /// The likeliest count: the first that the next one is no likelier than.
    fn peak(&self) -> u64 {
        let (mut low, mut high) = (self.least, self.most);
        while low < high {
            let middle = low + (high - low) / 2;
            if (self.ratio)(middle as f64) > 1.0 {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        low
    }

    /// Counts above `x`, each with its weight where `x` has `weight`; those without any weight are left out.
    fn upwards(&self, x: u64, weight: f64) -> impl Iterator<Item = (u64, f64)> {
        (x..self.most)
            .scan(weight, |weight, x| {
                *weight *= (self.ratio)(x as f64);
                Some((x + 1, *weight))
            })
            .take_while(|(_, weight)| *weight > 0.0)
    }

    fn downwards(&self, x: u64, weight: f64) -> impl Iterator<Item = (u64, f64)> {
        (self.least..x)
            .rev()
            .scan(weight, |weight, x| {
                *weight /= (self.ratio)(x as f64);
                Some((x, *weight))
            })
            .take_while(|(_, weight)| *weight > 0.0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    // The lady tasting tea: three of four, 16/70 + 1/70 on one side; the other side is as rare.
    #[case::three_of_four(3, 17.0 / 70.0, 34.0 / 70.0)]
    #[case::all_four(4, 1.0 / 70.0, 2.0 / 70.0)]
    #[case::the_peak(2, 53.0 / 70.0, 1.0)]
    fn cups_of_tea(#[case] right: u64, #[case] one_side: f64, #[case] both: f64) {
        let cups = hypergeometric(4, 4, 4);
        assert!((cups.at_least(right) - one_side).abs() < 1e-15);
        assert!((cups.as_rare_as(right) - both).abs() < 1e-15);
    }

    #[rstest]
    #[case::heads(binomial(10, 1.0), 2, 2.0 * 56.0 / 1024.0)]
    #[case::one_side_cannot_be(binomial(3, 1e-3), 3, (1e-3f64 / 1.001).powi(3))]
    fn coins(#[case] tossed: Counts<impl Fn(f64) -> f64>, #[case] seen: u64, #[case] p: f64) {
        assert!((tossed.as_rare_as(seen) / p - 1.0).abs() < 1e-12, "{}", tossed.as_rare_as(seen));
    }

    #[test]
    fn millions_of_units_are_counted_as_hundreds_are() {
        // Near the normal: 3 sigma of a binomial of a million halves.
        let p = binomial(1_000_000, 1.0).as_rare_as(501_500);
        assert!((p / 0.0027 - 1.0).abs() < 0.01, "{p}");
        assert_eq!(hypergeometric(500_000, 500_000, 500_000).as_rare_as(0), 0.0);
    }
}
