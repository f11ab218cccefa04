//! What is drawn of values.

use serde::Serialize;
use spc::distribution::{Distribution, Histogram, ProbabilityPlot, thinned_plot};

use super::refusal::StudyRefusal;
use crate::field::Allowed;

/// Bars of a histogram at most.
const BINS_AT_MOST: u16 = 200;
/// How many bars can be asked for.
pub(super) const BINS: Allowed = Allowed::Whole { least: 1, most: BINS_AT_MOST as u32 };
/// Values of a drawn probability plot.
const PLOTTED: usize = 400;

/// Whether so many bars can be drawn.
pub(super) fn bins_hold(bins: Option<u16>) -> bool {
    bins.is_none_or(|bins| (1..=BINS_AT_MOST).contains(&bins))
}

/// The share of all values in each bar.
pub(super) fn shares(bars: &Histogram) -> Vec<f64> {
    let all: usize = bars.counts.iter().sum();
    bars.counts.iter().map(|count| *count as f64 / all as f64).collect()
}

/// Values against a distribution.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FitPlot {
    /// The values, thinned where there are many.
    pub plot: ProbabilityPlot,
    /// Where the distribution has each of them.
    pub fitted: Vec<f64>,
    /// Whether each lies within the band.
    pub inside: bool,
}

/// Sorted values against a distribution.
///
/// # Errors
/// Where it has no value of them.
pub(super) fn fit_plot(sorted: &[f64], of: Distribution) -> Result<FitPlot, StudyRefusal> {
    let outside = |_| StudyRefusal::OutsideFamily { family: Some(of.family()) };
    let plot = thinned_plot(sorted, of, PLOTTED).map_err(outside)?;
    let fitted = plot.points.iter().map(|point| of.quantile(point.rank, 1.0 - point.rank)).collect();
    let inside = plot.points.iter().zip(&plot.band).all(|(point, band)| (band.low..=band.high).contains(&point.value));
    Ok(FitPlot { plot, fitted, inside })
}
