//! Do the counts of a p or u chart scatter more than the binomial or Poisson distribution allows?

use serde::Serialize;

use crate::chart::{ChartKind, ChartRequest, compute};
use crate::distribution::chi_square_upper_tail;
use crate::points::Points;
use crate::sigma::Counted;
use crate::subgroup::sd;
use crate::wrong_request::{Expected, Need, WrongRequest, spelled};

/// Below this the corrected chart is suggested.
const SUGGESTED_BELOW: f64 = 0.01;

/// The check answered.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct DispersionCheck {
    /// Variance of z (divisor N − 1); 1 if each count scatters as its distribution says. `None` for
    /// fewer than two points with a z.
    pub ratio: Option<f64>,
    /// N − 1.
    pub df: usize,
    /// Probability of a ratio as large: df · ratio against chi-square with df degrees of freedom.
    pub p: Option<f64>,
    /// `p_prime` or `u_prime` where p is below 0.01.
    pub suggests: Option<ChartKind>,
}

/// Checks the last phase of a p or u chart: zᵢ = (pᵢ − p̄)/σᵢ of its points not set aside.
/// Source: Laney (2002); the chi-square test of a variance, Montgomery, ch. 4.3.
///
/// # Errors
/// Any chart but p and u, and whatever is wrong with the request.
pub fn dispersion(request: &ChartRequest) -> Result<DispersionCheck, WrongRequest> {
    let (counted, corrected) = match request.chart {
        ChartKind::P => (Counted::Proportion, ChartKind::PPrime),
        ChartKind::U => (Counted::Rate, ChartKind::UPrime),
        _ => return Err(WrongRequest::new("chart", spelled(request.chart), Expected::one_of(["p", "u"]))),
    };
    let answer = compute(request)?;
    let Points::Counts(counts) = &request.points else {
        return Err(WrongRequest::new("points", "of another kind", Expected::one_of(["counts"])));
    };
    let last = answer.phases.last().and_then(|phase| Some((phase.start, phase.figures.center?)));
    let (start, center) = last.ok_or_else(|| WrongRequest::new("points", "no points used", Need::PointsInLastPhase))?;
    let tested = answer.panels[0].points().map(|point| point.tested);
    let z: Vec<f64> = counts
        .iter()
        .zip(tested)
        .skip(start)
        .filter_map(|(count, tested)| count.filter(|_| tested))
        .map(|count| counted.z(count, center))
        .filter(|z| !z.is_nan())
        .collect();
    let df = z.len().saturating_sub(1);
    let ratio = sd(&z).map(|sd| sd * sd);
    let p = ratio.map(|ratio| chi_square_upper_tail(df as f64, df as f64 * ratio));
    Ok(DispersionCheck { ratio, df, p, suggests: p.filter(|p| *p < SUGGESTED_BELOW).map(|_| corrected) })
}
