//! What one point of measured values says: mean, median, range and standard deviation.

/// x̄ = Σx / n; `None` of no values.
///
/// ```
/// assert_eq!(spc::subgroup::mean(&[2.0, 4.0]), Some(3.0));
/// ```
#[inline]
pub fn mean(values: &[f64]) -> Option<f64> {
    let (&first, rest) = values.split_first()?;
    Some(first + rest.iter().map(|x| x - first).sum::<f64>() / values.len() as f64)
}

/// Middle value; of an even number the mean of the middle two; `None` of no values.
///
/// ```
/// assert_eq!(spc::subgroup::median(&[7.0, 1.0, 2.0]), Some(2.0));
/// assert_eq!(spc::subgroup::median(&[7.0, 1.0]), Some(4.0));
/// ```
pub fn median(values: &[f64]) -> Option<f64> {
    let mut sorted = values.to_vec();
    sorted.sort_unstable_by(f64::total_cmp);
    let middle = sorted.len() / 2;
    match sorted.len() {
        0 => None,
        n if n % 2 == 1 => Some(sorted[middle]),
        _ => Some(0.5 * (sorted[middle - 1] + sorted[middle])),
    }
}

/// R = max − min; `None` for fewer than two values.
///
/// ```
/// assert_eq!(spc::subgroup::range(&[2.0, 4.0, 3.0]), Some(2.0));
/// assert_eq!(spc::subgroup::range(&[2.0]), None);
/// ```
pub fn range(values: &[f64]) -> Option<f64> {
    let (low, high) =
        values.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), &x| (x.min(low), x.max(high)));
    (values.len() > 1).then_some(high - low)
}

/// s = √(Σ(x − x̄)²/(N − 1)); `None` for fewer than two values. Divisor N − 1 as everywhere in the
/// trade; only the maximum-likelihood fit of the normal distribution divides by N.
///
/// ```
/// assert_eq!(spc::subgroup::sd(&[2.0, 4.0]), Some(2f64.sqrt()));
/// ```
pub fn sd(values: &[f64]) -> Option<f64> {
    let mean = mean(values).filter(|_| values.len() > 1)?;
    let squares: f64 = values.iter().map(|x| (x - mean).powi(2)).sum();
    Some((squares / (values.len() - 1) as f64).sqrt())
}
