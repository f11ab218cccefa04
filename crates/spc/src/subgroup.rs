//! What one point says: its size, mean, median, range and standard deviation.

/// Summary of the values present at one point.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Subgroup {
    /// How many values are present, at least 1.
    pub n: usize,
    /// x̄ = Σx / n
    pub mean: f64,
    /// The middle value, or the mean of the middle two.
    pub median: f64,
    /// R = max − min, absent when n = 1.
    pub range: Option<f64>,
    /// s with divisor n − 1, absent when n = 1.
    pub sd: Option<f64>,
}

/// Middle value; of an even number the mean of the middle two; `None` of none.
pub fn median(mut values: Vec<f64>) -> Option<f64> {
    let middle = values.len() / 2;
    values.sort_by(f64::total_cmp);
    match values.len() {
        0 => None,
        n if n % 2 == 1 => Some(values[middle]),
        _ => Some(0.5 * (values[middle - 1] + values[middle])),
    }
}

/// s = √(Σ(x − x̄)²/(N − 1)); `None` for fewer than two values.
pub fn sd(values: &[f64], mean: f64) -> Option<f64> {
    let squares: f64 = values.iter().map(|x| (x - mean).powi(2)).sum();
    (values.len() > 1).then(|| (squares / (values.len() - 1) as f64).sqrt())
}

impl Subgroup {
    /// Summary of `values`, or `None` when there are none: a gap.
    ///
    /// ```
    /// let s = spc::subgroup::Subgroup::of(&[2.0, 4.0]).unwrap();
    /// assert_eq!((s.n, s.mean, s.median, s.range, s.sd), (2, 3.0, 3.0, Some(2.0), Some(2f64.sqrt())));
    /// assert_eq!(spc::subgroup::Subgroup::of(&[]), None);
    /// ```
    pub fn of(values: &[f64]) -> Option<Self> {
        let n = values.len();
        let (low, high, sum) = values
            .iter()
            .fold((f64::INFINITY, f64::NEG_INFINITY, 0.0), |(low, high, sum), &x| (x.min(low), x.max(high), sum + x));
        let median = median(values.to_vec())?;
        let mean = sum / n as f64;
        Some(Self { n, mean, median, range: (n > 1).then_some(high - low), sd: sd(values, mean) })
    }
}
