use crate::bounds::{VALUES_AT_MOST, list};
use crate::wrong_request::{Expected, WrongRequest, within_range};
use serde::{Deserialize, Serialize};

/// No screen shows more bars apart.
const BINS_AT_MOST: usize = 1000;

/// Values to be counted in bins.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct HistogramRequest {
    /// At least one value.
    #[serde(deserialize_with = "list::<_, _, VALUES_AT_MOST>")]
    pub values: Vec<f64>,
    /// How many bins, 1…1000. Default: by Freedman and Diaconis.
    pub bins: Option<usize>,
    /// The measuring unit, above 0: bins are whole multiples of it wide and end between two values that can be read, so
    /// that each holds as many of those. Default: none, bins of any width.
    pub unit: Option<f64>,
}

/// Bins of equal width.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Histogram {
    /// One more than there are bins; the first is the smallest value, the last the largest.
    pub edges: Vec<f64>,
    /// Values in each bin: from its lower edge up to, not including, its upper edge; the last bin
    /// includes it.
    pub counts: Vec<usize>,
}

/// Counts values in bins. Unless their number is given, their width is 2·IQR/N^(1/3), with quartiles
/// interpolated at rank 1 + p(N−1); where the quartiles are equal, by Sturges: ⌈log₂ N⌉ + 1 bins. Equal
/// values make one bin of width 1 about them. Source: Freedman & Diaconis (1981); Sturges (1926).
///
/// ```
/// use spc::distribution::{HistogramRequest, histogram};
/// let answer = histogram(&HistogramRequest { values: vec![1.0, 1.2, 1.9, 3.0], bins: Some(2), unit: None }).unwrap();
/// assert_eq!((answer.edges, answer.counts), (vec![1.0, 2.0, 3.0], vec![3, 1]));
/// ```
///
/// With the measuring `unit`, widths are rounded to whole multiples of it (bins asked for: up, so that no more are
/// needed), and the first bin begins half a unit below the smallest value: where bins held two values that can be read
/// here and three there, they would stand like the teeth of a comb whatever the process did.
///
/// # Errors
/// No values, values that are no numbers, a number of bins or a unit out of its bounds.
pub fn histogram(request: &HistogramRequest) -> Result<Histogram, WrongRequest> {
    if let Some((i, x)) = request.values.iter().enumerate().find(|(_, x)| !within_range(**x)) {
        return Err(WrongRequest::new(format!("values[{i}]"), x, Expected::NUMBER));
    }
    if let Some(bins) = request.bins.filter(|bins| !(1..=BINS_AT_MOST).contains(bins)) {
        return Err(WrongRequest::new("bins", bins, Expected::whole(1, BINS_AT_MOST)));
    }
    let mut sorted = request.values.clone();
    sorted.sort_unstable_by(f64::total_cmp);
    let (Some(&low), Some(&high)) = (sorted.first(), sorted.last()) else {
        return Err(WrongRequest::new("values", "no values", Expected::at_least(1, "values")));
    };
    if let Some(unit) = request.unit {
        let most = (high - low) / BINS_AT_MOST as f64;
        if !(unit > 0.0 && within_range(unit)) {
            return Err(WrongRequest::new("unit", unit, Expected::POSITIVE));
        }
        let width = match request.bins {
            Some(bins) => (high - low + unit) / bins as f64,
            None => freedman_diaconis_width(&sorted).unwrap_or(0.0),
        };
        // As many units as come nearest; where bins are asked for, enough to hold all.
        let units = if request.bins.is_some() { (width / unit - 1e-9).ceil() } else { (width / unit).round() };
        let units = units.max((most / unit).ceil()).max(1.0);
        let first = low - 0.5 * unit;
        let bins = ((high - first) / (units * unit) - 1e-9).ceil().max(1.0);
        return Ok(count(&sorted, first, first + bins * units * unit, bins as usize));
    }
    if low == high {
        let bins = request.bins.unwrap_or(1);
        return Ok(count(&sorted, low - 0.5, high + 0.5, bins));
    }
    Ok(count(&sorted, low, high, request.bins.unwrap_or_else(|| freedman_diaconis(&sorted, high - low))))
}

fn freedman_diaconis(sorted: &[f64], reach: f64) -> usize {
    let sturges = (sorted.len() as f64).log2().ceil() + 1.0;
    let bins = freedman_diaconis_width(sorted).map_or(sturges, |width| (reach / width).ceil());
    (bins as usize).clamp(1, BINS_AT_MOST)
}

/// 2·IQR/N^(1/3); nothing where the quartiles are equal.
fn freedman_diaconis_width(sorted: &[f64]) -> Option<f64> {
    let width = 2.0 * (quartile(sorted, 0.75) - quartile(sorted, 0.25)) / (sorted.len() as f64).cbrt();
    (width > 0.0).then_some(width)
}

fn quartile(sorted: &[f64], p: f64) -> f64 {
    let rank = p * (sorted.len() - 1) as f64;
    let below = sorted[rank.floor() as usize];
    below + rank.fract() * (sorted[rank.ceil() as usize] - below)
}

fn count(sorted: &[f64], low: f64, high: f64, bins: usize) -> Histogram {
    let edge = |i: usize| if i == bins { high } else { low + (high - low) * (i as f64 / bins as f64) };
    let edges: Vec<f64> = (0..=bins).map(edge).collect();
    let below = |i: usize| if i == bins { sorted.len() } else { sorted.partition_point(|&x| x < edges[i]) };
    let counts = (0..bins).map(|i| below(i + 1) - if i == 0 { 0 } else { below(i) }).collect();
    Histogram { edges, counts }
}
