//! Did the process change? Binary segmentation on the location.

use crate::bounds::{VALUES_AT_MOST, list};
use crate::stop;
use crate::wrong_request::{Expected, WrongRequest, within_range};
use serde::{Deserialize, Serialize};

use crate::subgroup::mean;

/// A series in its order.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ChangePointsRequest {
    /// At least one value.
    #[serde(deserialize_with = "list::<_, _, VALUES_AT_MOST>")]
    pub values: Vec<f64>,
}

/// Proposed phases; nothing is applied by itself.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ChangePoints {
    /// Start of each, the first 0.
    pub starts: Vec<usize>,
    /// Mean of each.
    pub means: Vec<f64>,
}

/// A stretch on either side of a split has at least this many points.
const POINTS_AT_LEAST: usize = 2;

/// Splits the series where its mean changes. The gain of a split of n points is
/// n ln(RSS of the stretch / RSS of its two parts), a Gaussian log-likelihood ratio; the best split of a
/// stretch is taken while its gain exceeds 3 ln N, N the length of the whole series.
/// Source: Scott & Knott (1974); Yao (1988) for the penalty.
///
/// ```
/// use spc::change_points::{ChangePointsRequest, change_points};
/// let values = vec![5.0, 5.1, 4.9, 5.0, 5.1, 7.0, 7.1, 6.9, 7.0, 7.1];
/// assert_eq!(change_points(&ChangePointsRequest { values }).unwrap().starts, [0, 5]);
/// ```
///
/// # Errors
/// No values, or values that are no numbers.
pub fn change_points(request: &ChangePointsRequest) -> Result<ChangePoints, WrongRequest> {
    let values = &request.values;
    if let Some((i, x)) = values.iter().enumerate().find(|(_, x)| !within_range(**x)) {
        return Err(WrongRequest::new(format!("values[{i}]"), x, Expected::NUMBER));
    }
    let Some(center) = mean(values) else {
        return Err(WrongRequest::new("values", "none", Expected::at_least(1, "values")));
    };
    let series = Series::new(values, center);
    let penalty = 3.0 * (values.len() as f64).ln();
    let mut starts = vec![0];
    let mut stretches = vec![(0, values.len())];
    while let Some((start, end)) = stretches.pop() {
        stop::check()?;
        if let Some((split, gain)) = series.best_split(start, end)
            && gain > penalty
        {
            starts.push(split);
            stretches.extend([(start, split), (split, end)]);
        }
    }
    starts.sort_unstable();
    let ends = starts.iter().skip(1).copied().chain([values.len()]);
    let means = starts.iter().zip(ends).filter_map(|(&start, end)| mean(&values[start..end])).collect();
    Ok(ChangePoints { starts, means })
}

/// Sums of values and of squares before each place, about the mean of the whole.
struct Series {
    sums: Vec<(f64, f64)>,
    /// Squares that differ only by rounding: a residual below this is none.
    noise: f64,
}

impl Series {
    fn new(values: &[f64], center: f64) -> Self {
        let mut sums = vec![(0.0, 0.0)];
        let (mut sum, mut squares) = (0.0, 0.0);
        for x in values {
            let d = x - center;
            (sum, squares) = (sum + d, squares + d * d);
            sums.push((sum, squares));
        }
        // Of the squares summed and of the values' own last bits.
        let largest = values.iter().fold(0.0f64, |a, x| a.max(x.abs()));
        let noise = 1e-13 * squares + values.len() as f64 * (1e-15 * largest).powi(2);
        Self { sums, noise }
    }

    /// Residual sum of squares about the mean of a stretch.
    fn residual(&self, start: usize, end: usize) -> f64 {
        let sum = self.sums[end].0 - self.sums[start].0;
        let squares = self.sums[end].1 - self.sums[start].1;
        (squares - sum * sum / (end - start) as f64).max(0.0)
    }

    fn best_split(&self, start: usize, end: usize) -> Option<(usize, f64)> {
        let whole = self.residual(start, end);
        if whole <= self.noise {
            return None;
        }
        let parts = |split: usize| self.residual(start, split) + self.residual(split, end);
        let splits = start + POINTS_AT_LEAST..(end + 1).saturating_sub(POINTS_AT_LEAST);
        let (split, parts) = splits.map(|split| (split, parts(split))).min_by(|a, b| a.1.total_cmp(&b.1))?;
        Some((split, (end - start) as f64 * (whole / parts.max(self.noise)).ln()))
    }
}
