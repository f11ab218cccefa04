//! Values with how often each comes. What is measured has few decimals, so a hundred thousand values are a few hundred
//! different ones, and a sum over them takes a few hundred terms.

/// Different values in ascending order, each with its count.
#[derive(Debug, Clone, PartialEq)]
pub struct Tally {
    values: Vec<f64>,
    counts: Vec<f64>,
    n: f64,
}

impl Tally {
    /// Of values in any order.
    ///
    /// ```
    /// use spc::distribution::Tally;
    /// let tally = Tally::of(&[0.2, 0.1, 0.2]);
    /// assert_eq!(tally.iter().collect::<Vec<_>>(), [(0.1, 1.0), (0.2, 2.0)]);
    /// ```
    pub fn of(values: &[f64]) -> Self {
        let mut sorted = values.to_vec();
        sorted.sort_unstable_by(f64::total_cmp);
        let (mut values, mut counts) = (Vec::new(), Vec::new());
        for same in sorted.chunk_by(|a, b| a == b) {
            values.push(same[0]);
            counts.push(same.len() as f64);
        }
        Self { values, counts, n: sorted.len() as f64 }
    }

    /// How many values in all.
    pub fn n(&self) -> f64 {
        self.n
    }

    /// The smallest and the largest; nothing of no values.
    pub(super) fn ends(&self) -> Option<(f64, f64)> {
        self.values.first().copied().zip(self.values.last().copied())
    }

    /// Each different value with its count.
    pub fn iter(&self) -> impl DoubleEndedIterator<Item = (f64, f64)> + ExactSizeIterator {
        self.values.iter().copied().zip(self.counts.iter().copied())
    }

    /// Σ f(x) over all values.
    pub(super) fn sum(&self, f: impl Fn(f64) -> f64) -> f64 {
        self.iter().map(|(x, count)| count * f(x)).sum()
    }

    /// Σ f(x) and Σ f(x) g(x), each f(x) computed once.
    pub(super) fn sums(&self, f: impl Fn(f64) -> (f64, f64)) -> (f64, f64) {
        self.iter().fold((0.0, 0.0), |(weights, weighted), (x, count)| {
            let (weight, of) = f(x);
            (weights + count * weight, weighted + count * weight * of)
        })
    }

    /// x̄, measured from the smallest value, so that what all have in common loses no digits.
    pub(super) fn mean(&self) -> Option<f64> {
        let (low, _) = self.ends()?;
        Some(low + self.sum(|x| x - low) / self.n)
    }

    /// The same values, each made another.
    pub(super) fn map(&self, f: impl Fn(f64) -> f64) -> Self {
        Self { values: self.values.iter().map(|x| f(*x)).collect(), counts: self.counts.clone(), n: self.n }
    }
}
