//! Fits families to values and chooses among them.

use crate::bounds::{VALUES_AT_MOST, list};
use crate::wrong_request::{Expected, Need, Range, WrongRequest, within_range};
use serde::{Deserialize, Serialize};

use super::anderson_darling::anderson_darling;
use super::family::{Distribution, Family};
use super::likelihood::{Likely, fit_one};
use super::tally::Tally;

/// Values to be fitted.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct FitRequest {
    /// At least two different values.
    #[serde(deserialize_with = "list::<_, _, VALUES_AT_MOST>")]
    pub values: Vec<f64>,
    /// Families to try, in this order. Default: the seven of at most two parameters.
    pub families: Option<Vec<Family>>,
    /// Leaves outliers out before fitting. Default: none.
    pub filter: Option<Filter>,
}

/// Which values are kept; those equal to a bound are.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Filter {
    /// Keeps those between the p and 1 − p percentiles, interpolated at rank p(N+1); above 0, below ½.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub percentile: Option<f64>,
    /// Keeps those from here; not beside `percentile`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub low: Option<f64>,
    /// Keeps those up to here; not beside `percentile`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub high: Option<f64>,
}

/// One fitted family.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fit {
    /// Family and parameters.
    #[serde(flatten)]
    pub distribution: Distribution,
    /// ln L.
    pub log_likelihood: f64,
    /// AIC = 2p − 2 ln L, p parameters: lower is better.
    pub aic: f64,
    /// Anderson–Darling A²: the distance of the fit from the values, weighing the tails.
    pub a2: f64,
}

/// The fits and the best of them.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct FitAnswer {
    /// Values that the filter left out.
    pub left_out: usize,
    /// In the order asked; families that do not hold every value, or have no maximum, are left out.
    pub fits: Vec<Fit>,
    /// Lowest AIC; `None` where nothing fits.
    pub chosen: Option<Family>,
}

/// Fits each family by maximum likelihood. Source: NIST/SEMATECH e-Handbook, 1.3.6 and 8.4.
///
/// ```
/// use spc::distribution::{Family, FitRequest, fit};
/// let values = vec![0.2, 0.5, 0.9, 1.4, 2.2, 3.1, 5.0];
/// let answer = fit(&FitRequest { values, families: None, filter: None }).unwrap();
/// assert_eq!(answer.chosen, Some(Family::Exponential));
/// ```
///
/// # Errors
/// Values that are no numbers or all equal; a filter that is out of its bounds or leaves too little.
pub fn fit(request: &FitRequest) -> Result<FitAnswer, WrongRequest> {
    check_values("values", &request.values)?;
    let mut sorted = request.values.clone();
    sorted.sort_unstable_by(f64::total_cmp);
    let (low, high) = request.filter.unwrap_or_default().bounds(&sorted)?;
    sorted.retain(|x| (low..=high).contains(x));
    if sorted.first() == sorted.last() {
        return Err(WrongRequest::new("filter", format!("{} values left", sorted.len()), Need::DifferentValues));
    }
    let families = request.families.as_deref().unwrap_or(&Family::TWO_PARAMETERS);
    let tally = Tally::of(&sorted);
    let fits: Vec<Fit> = families.iter().filter_map(|&family| fit_family(family, &tally)).collect();
    let chosen = best(&fits).map(|fit| fit.distribution.family());
    Ok(FitAnswer { left_out: request.values.len() - sorted.len(), fits, chosen })
}

/// The fit of one family.
pub fn fit_family(family: Family, values: &Tally) -> Option<Fit> {
    let Likely { distribution, log_likelihood } = fit_one(family, values)?;
    let aic = 2.0 * distribution.parameters() as f64 - 2.0 * log_likelihood;
    Some(Fit { distribution, log_likelihood, aic, a2: anderson_darling(values, &distribution)? })
}

/// The first of lowest AIC.
pub fn best(fits: &[Fit]) -> Option<Fit> {
    fits.iter().copied().reduce(|best, fit| if fit.aic < best.aic { fit } else { best })
}

/// At least two different numbers.
pub(crate) fn check_values(field: &str, values: &[f64]) -> Result<(), WrongRequest> {
    if let Some((i, x)) = values.iter().enumerate().find(|(_, x)| !within_range(**x)) {
        return Err(WrongRequest::new(format!("{field}[{i}]"), x, Expected::NUMBER));
    }
    match values {
        [first, rest @ ..] if rest.iter().any(|x| x != first) => Ok(()),
        _ => Err(WrongRequest::new(field, format!("{} values", values.len()), Need::DifferentValues)),
    }
}

impl Filter {
    /// The bounds it puts on sorted values, of which there is one at least.
    ///
    /// # Errors
    /// A percentile out of its bounds or beside constants; constants that are no numbers, or the wrong way round.
    pub fn bounds(self, sorted: &[f64]) -> Result<(f64, f64), WrongRequest> {
        let Some(p) = self.percentile else {
            let (low, high) = (self.low.unwrap_or(f64::NEG_INFINITY), self.high.unwrap_or(f64::INFINITY));
            if low.is_nan() || high.is_nan() || low > high {
                return Err(WrongRequest::new("filter.low", low, Expected::up_to(high)));
            }
            return Ok((low, high));
        };
        if self.low.is_some() || self.high.is_some() {
            return Err(WrongRequest::new("filter", "both percentile and constants", Need::NotBoth));
        }
        if !(p > 0.0 && p < 0.5) {
            return Err(WrongRequest::new(
                "filter.percentile",
                p,
                Expected::Number(Range { above: Some(0.0), below: Some(0.5), ..Range::default() }),
            ));
        }
        Ok((percentile(sorted, p), percentile(sorted, 1.0 - p)))
    }
}

/// Interpolated between sorted values at rank p(N+1), not beyond the first and the last.
fn percentile(sorted: &[f64], p: f64) -> f64 {
    let n = sorted.len();
    let rank = (p * (n as f64 + 1.0)).clamp(1.0, n as f64);
    let below = rank.floor() as usize;
    let next = sorted[below.min(n - 1)];
    sorted[below - 1] + (rank - rank.floor()) * (next - sorted[below - 1])
}
