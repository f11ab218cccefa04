//! Are the limits in force still true? The points since against the frozen centre and sigma.

use serde::Serialize;

use crate::chart::attributes::Counted;
use crate::chart::{ChartAnswer, ChartKind, ChartRequest, LimitsBasis, Phase, Problem, compute, set_aside, spelled};
use crate::distribution::{chi_square_lower_tail, chi_square_upper_tail};
use crate::normal;
use crate::points::{Point, Points};
use crate::run_length::{RunLengthRequest, run_length};

/// Which limits of a chart to check, and by which points.
#[derive(Debug, Clone, PartialEq)]
pub struct LimitsCheckRequest {
    /// The chart.
    pub chart: ChartRequest,
    /// The phase whose limits are checked. Default: the last.
    pub phase: Option<usize>,
    /// At most this many of the latest points. Default 25.
    pub last: usize,
    /// Points after this one. Default: after those that the limits were estimated from; of given
    /// limits, all points of the phase.
    pub since: Option<usize>,
}

/// z-test of the mean.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct MeanTest {
    /// (mean of the values − centre)/(σ/√N).
    pub z: f64,
    /// Two-sided.
    pub p: f64,
    /// How far the mean has moved, in sigma of single values (of single units for counts).
    pub shift: f64,
}

/// Chi-square test of the spread.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct SigmaTest {
    /// Σ(nᵢ−1)sᵢ²/σ² within subgroups; of single values Σ(x−x̄)²/σ²; of counts Σ(z−z̄)².
    pub chi_square: f64,
    /// Σ(nᵢ−1), or N − 1.
    pub df: usize,
    /// Two-sided: twice the smaller tail.
    pub p: f64,
    /// Sigma now over sigma frozen, √(χ²/df).
    pub ratio: f64,
}

/// Signals of the location panel among the points checked.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct SignalCount {
    /// Found.
    pub seen: usize,
    /// Points over the average run length in control, from 20,000 simulated runs; `None` without rules.
    pub expected: Option<f64>,
}

/// What became of the limits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum LimitsVerdict {
    /// Neither test speaks against them.
    Hold,
    /// The mean has moved.
    Moved,
    /// The spread has grown.
    Wider,
    /// The spread has shrunk.
    Narrower,
}

/// The check answered.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct LimitsCheck {
    /// Points checked.
    pub points: usize,
    /// Of the mean.
    pub mean: MeanTest,
    /// Of the spread; `None` where there is no degree of freedom.
    pub sigma: Option<SigmaTest>,
    /// Of the rules.
    pub signals: SignalCount,
    /// A moved mean comes first: a spread about a moved mean is the smaller trouble.
    pub verdict: LimitsVerdict,
}

/// Each test is at this level.
const LEVEL: f64 = 0.01;

/// Tests whether limits still hold. Source: Montgomery, ch. 4.3 (z-test and chi-square test of given
/// mean and variance).
///
/// # Errors
/// Charts without a sigma (run, g, t), a phase or point that is not there, no points to check,
/// limits whose sigma could not be estimated, and whatever is wrong with the chart request.
pub fn limits_check(request: &LimitsCheckRequest) -> Result<LimitsCheck, Problem> {
    let chart = &request.chart;
    if matches!(chart.chart, ChartKind::Run | ChartKind::G | ChartKind::T) {
        return Err(Problem::new("chart", spelled(chart.chart), "a chart with a sigma"));
    }
    let answer = compute(chart)?;
    let number = request.phase_number(&answer)?;
    let phase = &answer.phases[number];
    let checked = request.points(phase, chart.limits[number].basis)?;
    let (mean, sigma) = match &chart.points {
        Points::Values(_) => test_values(chart, phase, &checked)?,
        _ => test_counts(chart, phase, &checked)?,
    };
    let verdict = match sigma {
        _ if mean.p < LEVEL => LimitsVerdict::Moved,
        Some(sigma) if sigma.p < LEVEL && sigma.ratio > 1.0 => LimitsVerdict::Wider,
        Some(sigma) if sigma.p < LEVEL => LimitsVerdict::Narrower,
        _ => LimitsVerdict::Hold,
    };
    Ok(LimitsCheck { points: checked.len(), mean, sigma, signals: count_signals(chart, &answer, &checked)?, verdict })
}

impl LimitsCheckRequest {
    fn phase_number(&self, answer: &ChartAnswer) -> Result<usize, Problem> {
        let last = answer.phases.len() - 1;
        let number = self.phase.unwrap_or(last);
        if number > last {
            return Err(Problem::new("phase", number, format!("a number from 0 to {last}")));
        }
        Ok(number)
    }

    /// The points to check: of the phase, after the estimate, not set aside, the latest ones.
    fn points(&self, phase: &Phase, basis: LimitsBasis) -> Result<Vec<usize>, Problem> {
        if self.last == 0 {
            return Err(Problem::new("last", 0, "a whole number from 1"));
        }
        let first = match (self.since, basis) {
            (Some(since), _) if !(phase.start..=phase.end).contains(&since) => {
                return Err(Problem::new("since", since, format!("a point from {} to {}", phase.start, phase.end)));
            }
            (Some(since), _) => since + 1,
            (None, LimitsBasis::Given { .. }) => phase.start,
            (None, LimitsBasis::Estimated { to: Some(to), .. }) => to + 1,
            (None, LimitsBasis::Estimated { to: None, .. }) => {
                return Err(Problem::new("since", "missing", "where the limits end that use all points"));
            }
        };
        let aside = set_aside(&self.chart);
        let recorded = |i: &usize| !self.chart.points.get(*i).is_gap() && !aside[*i];
        let mut points: Vec<usize> = (first..=phase.end).rev().filter(recorded).take(self.last).collect();
        points.reverse();
        if points.is_empty() {
            return Err(Problem::new("points", "none after the estimate", "at least one point to check"));
        }
        Ok(points)
    }
}

fn frozen(center: Option<f64>, sigma: Option<f64>) -> Result<(f64, f64), Problem> {
    center
        .zip(sigma.filter(|sigma| *sigma > 0.0))
        .ok_or_else(|| Problem::new("limits", "no sigma", "limits with a centre and a sigma above 0"))
}

fn mean_test(shift: f64, n: f64) -> MeanTest {
    let z = shift * n.sqrt();
    MeanTest { z, p: 2.0 * normal::cdf(-z.abs()), shift }
}

fn sigma_test(chi_square: f64, df: usize) -> Option<SigmaTest> {
    let nu = df as f64;
    let tail = |df| chi_square_lower_tail(df, chi_square).min(chi_square_upper_tail(df, chi_square));
    (df > 0).then(|| SigmaTest { chi_square, df, p: (2.0 * tail(nu)).min(1.0), ratio: (chi_square / nu).sqrt() })
}

/// Sum of squares about their own mean.
fn squares(values: &[f64]) -> f64 {
    crate::subgroup::sd(values).map_or(0.0, |sd| sd * sd * (values.len() - 1) as f64)
}

type Tests = (MeanTest, Option<SigmaTest>);

fn test_values(chart: &ChartRequest, phase: &Phase, checked: &[usize]) -> Result<Tests, Problem> {
    let (center, sigma) = frozen(phase.center, phase.sigma)?;
    let charted = chart.charted();
    let points: Vec<&[f64]> = checked.iter().map(|&i| charted.get(i)).map(Point::values).collect();
    let all: Vec<f64> = points.concat();
    let shift = (all.iter().sum::<f64>() / all.len() as f64 - center) / sigma;
    // Single values have no spread within, so theirs is taken about their own mean.
    let singles = points.iter().all(|values| values.len() == 1);
    let (within, df) = if singles {
        (squares(&all), all.len() - 1)
    } else {
        (points.iter().map(|values| squares(values)).sum(), all.len() - points.len())
    };
    Ok((mean_test(shift, all.len() as f64), sigma_test(within / (sigma * sigma), df)))
}

fn test_counts(chart: &ChartRequest, phase: &Phase, checked: &[usize]) -> Result<Tests, Problem> {
    let counted = match chart.chart {
        ChartKind::P | ChartKind::PPrime => Counted::Proportion,
        ChartKind::Np => Counted::Units,
        ChartKind::C => Counted::Nonconformities,
        _ => Counted::Rate,
    };
    let counts = || checked.iter().map(|&i| chart.points.get(i).count());
    let spread = phase.sigma.unwrap_or(1.0);
    let (center, unit_sigma) = frozen(phase.center, phase.center.map(|center| spread * counted.sigma_of_one(center)))?;
    let now = counted.center(counts()).0.unwrap_or(center);
    let n = if counted == Counted::Nonconformities { checked.len() as f64 } else { counts().map(|c| c.size).sum() };
    let z: Vec<f64> = counts().map(|count| counted.z(count, center) / spread).collect();
    Ok((mean_test((now - center) / unit_sigma, n), sigma_test(squares(&z), z.len() - 1)))
}

fn count_signals(chart: &ChartRequest, answer: &ChartAnswer, checked: &[usize]) -> Result<SignalCount, Problem> {
    let panel = answer.panels[0].statistic;
    let seen = answer.signals.iter().filter(|s| s.panel == panel && checked.contains(&s.at)).count();
    let rules = chart.rules.clone().filter(|rules| !rules.rules(3.0).is_empty());
    let expected = rules.map(|rules| {
        run_length(&RunLengthRequest { shifts: vec![0.0], ..RunLengthRequest::new(rules) })
            .map(|lengths| checked.len() as f64 / lengths[0].arl)
    });
    Ok(SignalCount { seen, expected: expected.transpose()? })
}
