use crate::bounds::{RANKS_AT_MOST, list};
use crate::normal;
use crate::stop;
use crate::wrong_request::{Expected, Need, Range, WrongRequest, spelled};
use serde::{Deserialize, Serialize};
use statrs::function::beta::beta_reg;

use super::family::{Distribution, Family};
use super::fit::check_values;
use super::likelihood::fit_one;
use super::tally::Tally;
use crate::solve::root;

/// Values to be plotted against a family.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PlotRequest {
    /// At least two different values.
    #[serde(deserialize_with = "list::<_, _, RANKS_AT_MOST>")]
    pub values: Vec<f64>,
    /// The family.
    pub family: Family,
    /// Its parameters, named as in a fit. Default: those of highest likelihood.
    pub parameters: Option<serde_json::Value>,
}

/// One value on the plot.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlotPoint {
    /// The value, in order of size.
    pub value: f64,
    /// Median rank (i − 0.3)/(N + 0.4).
    pub rank: f64,
    /// Quantile of the standard form of the family at that rank.
    pub quantile: f64,
}

/// The straight line of the fit: value (or its logarithm) = intercept + slope · quantile.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Line {
    /// Scale, sigma, or 1/shape.
    pub slope: f64,
    /// Location, mean, or logarithm of the scale.
    pub intercept: f64,
}

/// Where the value of one rank lies with 95 % probability if the fit is right.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BandPoint {
    /// Quantile of the rank.
    pub quantile: f64,
    /// Lower end, in the unit of the values.
    pub low: f64,
    /// Upper end.
    pub high: f64,
}

/// A probability plot.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ProbabilityPlot {
    /// What was fitted or given.
    #[serde(flatten)]
    pub distribution: Distribution,
    /// The values in order of size.
    pub points: Vec<PlotPoint>,
    /// The line of the fit.
    pub line: Line,
    /// The line is of ln(value − location): lognormal, Weibull, exponential.
    pub logarithmic: bool,
    /// One entry a point.
    pub band: Vec<BandPoint>,
}

/// Plots sorted values against quantiles of the family's standard form, so that values of that family
/// lie about a straight line. Standard forms: normal; of logarithms the normal (lognormal) or smallest
/// extreme value (Weibull, exponential); logistic; largest extreme value (Gumbel); gamma of its shape.
///
/// The band is pointwise: the rank of the i-th of N values is distributed as Beta(i, N−i+1), and its
/// 2.5 % and 97.5 % quantiles go through the fit. Source: Benard & Bos-Levenbach (1953) for median
/// ranks; David & Nagaraja, Order Statistics, ch. 2.
///
/// # Errors
/// Values that are no numbers or all equal or not in the family's support; parameters that are not
/// those of the family or out of their bounds.
pub fn probability_plot(request: &PlotRequest) -> Result<ProbabilityPlot, WrongRequest> {
    check_values("values", &request.values)?;
    let mut sorted = request.values.clone();
    sorted.sort_unstable_by(f64::total_cmp);
    let distribution = request.distribution(&sorted)?;
    let ranks: Vec<usize> = (1..=sorted.len()).collect();
    plot_ranks(&sorted, distribution, &ranks)
}

/// The same of many values, at so many ranks at most that lie evenly on the plot: those of the tails are all there.
///
/// # Errors
/// As [`probability_plot`].
pub fn thinned_plot(sorted: &[f64], distribution: Distribution, most: usize) -> Result<ProbabilityPlot, WrongRequest> {
    check_values("values", sorted)?;
    let n = sorted.len();
    if n <= most {
        let ranks: Vec<usize> = (1..=n).collect();
        return plot_ranks(sorted, distribution, &ranks);
    }
    let rank = |i: usize| (i as f64 - 0.3) / (n as f64 + 0.4);
    let end = normal::quantile(rank(1));
    let at = |i: usize| normal::cdf(end * (1.0 - 2.0 * i as f64 / (most - 1) as f64));
    let mut ranks: Vec<usize> =
        (0..most).map(|i| (at(i) * (n as f64 + 0.4) + 0.3).round() as usize).map(|i| i.clamp(1, n)).collect();
    ranks.dedup();
    plot_ranks(sorted, distribution, &ranks)
}

/// The values of these ranks, which count from 1.
fn plot_ranks(sorted: &[f64], distribution: Distribution, ranks: &[usize]) -> Result<ProbabilityPlot, WrongRequest> {
    let form = distribution.form();
    if let Some(start) = form.start.filter(|&start| sorted[0] < start) {
        return Err(WrongRequest::new(
            "values",
            sorted[0],
            Expected::Number(Range { least: Some(start), ..Range::default() }),
        ));
    }
    let n = sorted.len() as f64;
    let mut points = Vec::with_capacity(ranks.len());
    let mut band = Vec::with_capacity(ranks.len());
    for (&at, value) in ranks.iter().filter_map(|at| Some((at, *sorted.get(at - 1)?))) {
        stop::check()?;
        let i = at as f64;
        let rank = (i - 0.3) / (n + 0.4);
        let quantile = form.standard.quantile(rank, 1.0 - rank);
        let end = |p: f64| {
            let rank = beta_quantile(i, n - i + 1.0, p);
            distribution.quantile(rank, 1.0 - rank)
        };
        points.push(PlotPoint { value, rank, quantile });
        band.push(BandPoint { quantile, low: end(0.025), high: end(0.975) });
    }
    let line = Line { slope: form.slope, intercept: form.intercept };
    Ok(ProbabilityPlot { distribution, points, line, logarithmic: form.log, band })
}

impl PlotRequest {
    fn distribution(&self, sorted: &[f64]) -> Result<Distribution, WrongRequest> {
        let Some(parameters) = &self.parameters else {
            return fit_one(self.family, &Tally::of(sorted))
                .map(|found| found.distribution)
                .ok_or_else(|| WrongRequest::new("family", spelled(self.family), Need::FamilyThatHolds));
        };
        let named = serde_json::json!({ "family": self.family, "parameters": parameters });
        let distribution: Distribution =
            serde_json::from_value(named).map_err(|e| WrongRequest::new("parameters", e, Need::FamilyParameters))?;
        if !distribution.is_proper() {
            return Err(WrongRequest::new("parameters", parameters, Need::FamilyParameters));
        }
        Ok(distribution)
    }
}

/// The share that a Beta(a, b) value stays below with probability `p`.
fn beta_quantile(a: f64, b: f64, p: f64) -> f64 {
    root((0.0, -p), (1.0, 1.0 - p), |x| beta_reg(a, b, x) - p).unwrap_or(f64::NAN)
}
