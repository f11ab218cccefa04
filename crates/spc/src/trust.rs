//! Can this chart be trusted? Five checks of its last phase, each with a verdict, a number and one
//! sentence.

use serde::Serialize;

use crate::TIE;
use crate::chart::{
    ChartAnswer, ChartKind, ChartRequest, LimitsBasis, Panel, PanelPoint, Recorded, Statistic, compute, set_aside,
    usable,
};
use crate::distribution::{chi_square_upper_tail, normality};
use crate::wrong_request::WrongRequest;

/// What is checked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CheckName {
    /// No signals.
    Stable,
    /// Enough points and values for the estimate.
    Enough,
    /// Single values look normal.
    Normal,
    /// Points do not depend on the ones before.
    Independent,
    /// The measuring unit is fine enough.
    Resolution,
}

/// How a check went.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // the names say it
pub enum CheckVerdict {
    Good,
    Caution,
    Poor,
    NotApplicable,
}

/// One check.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Check {
    /// What was checked.
    pub name: CheckName,
    /// How it went.
    pub verdict: CheckVerdict,
    /// The number it rests on.
    pub value: Option<f64>,
    /// One sentence.
    pub says: String,
}

/// The five checks.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Trust {
    /// In the order stable, enough, normal, independent, resolution.
    pub checks: Vec<Check>,
}

/// Lags of the Ljung–Box test.
const LAGS: usize = 10;
/// With fewer points ten lags mean nothing.
const POINTS_FOR_LAGS: usize = 12;
/// Fewer values pass any test of normality.
const VALUES_FOR_NORMALITY: usize = 8;
/// Distinct ranges that a fine enough unit gives.
const DISTINCT_AT_LEAST: usize = 5;

use CheckVerdict::{Caution, Good, NotApplicable, Poor};

/// Checks a chart.
///
/// # Errors
/// What is wrong with the chart request.
pub fn trust(request: &ChartRequest) -> Result<Trust, WrongRequest> {
    let answer = compute(request)?;
    let last = LastPhase::of(request, &answer);
    Ok(Trust { checks: vec![last.stable(), last.enough(), last.normal(), last.independent(), last.resolution()] })
}

struct LastPhase<'a> {
    request: &'a ChartRequest,
    answer: &'a ChartAnswer,
    start: usize,
    used: usize,
    sigma: Option<f64>,
}

fn check(name: CheckName, verdict: CheckVerdict, value: Option<f64>, says: String) -> Check {
    Check { name, verdict, value, says }
}

fn not_applicable(name: CheckName, says: &str) -> Check {
    check(name, NotApplicable, None, says.into())
}

impl<'a> LastPhase<'a> {
    fn of(request: &'a ChartRequest, answer: &'a ChartAnswer) -> Self {
        let phase = answer.phases.last();
        Self {
            request,
            answer,
            start: phase.map_or(0, |phase| phase.start),
            used: phase.map_or(0, |phase| phase.used),
            sigma: phase.and_then(|phase| phase.figures.sigma),
        }
    }

    /// Tested points of a panel in this phase, with their places.
    fn tested(&self, panel: &'a Panel) -> impl Iterator<Item = (usize, PanelPoint)> {
        panel.points().enumerate().skip(self.start).filter(|(_, point)| point.tested)
    }

    fn measures(&self) -> bool {
        self.request.chart.records() == Recorded::Values
    }

    /// Measured, one value a point.
    fn of_single_values(&self) -> bool {
        let sizes = (self.start..self.request.points.len()).map(|i| self.request.points.get(i).values().len());
        self.measures() && sizes.max() == Some(1)
    }

    fn stable(&self) -> Check {
        let signals = self.answer.signals.iter().filter(|signal| signal.at >= self.start).count();
        let (verdict, says) = match signals {
            0 => (Good, "No signals: the process looks stable.".into()),
            1 => (Poor, "1 signal: the process was not stable.".into()),
            n => (Poor, format!("{n} signals: the process was not stable.")),
        };
        check(CheckName::Stable, verdict, Some(signals as f64), says)
    }

    /// 20 points and 100 values; 30 points of single values; 20 points of counts. Half of it is a caution.
    fn enough(&self) -> Check {
        let name = CheckName::Enough;
        if let Some(LimitsBasis::Given(_)) = self.request.limits.last().map(|limits| limits.basis) {
            return not_applicable(name, "The limits are given, not estimated from these points.");
        }
        let used = usable(self.request, &set_aside(self.request));
        let values: usize =
            (self.start..used.len()).filter(|&i| used[i]).map(|i| self.request.points.get(i).values().len()).sum();
        let (points, enough) = match (self.measures(), self.of_single_values()) {
            (true, true) => (30, 0),
            (true, false) => (20, 100),
            (false, _) => (20, 0),
        };
        let reaches = |share: usize| self.used * share >= points && values * share >= enough;
        let verdict = if reaches(1) {
            Good
        } else if reaches(2) {
            Caution
        } else {
            Poor
        };
        let wanted =
            if enough > 0 { format!("{points} points with {enough} values") } else { format!("{points} points") };
        let says = match verdict {
            Good => format!("The limits rest on {} points.", self.used),
            _ => format!("The limits rest on {} points; {wanted} are wanted.", self.used),
        };
        check(name, verdict, Some(self.used as f64), says)
    }

    fn normal(&self) -> Check {
        let name = CheckName::Normal;
        if self.request.chart != ChartKind::IMr {
            return not_applicable(name, "Only limits of single values lean on a normal distribution.");
        }
        let values: Vec<f64> = self.tested(&self.answer.panels[0]).filter_map(|(_, point)| point.value.get()).collect();
        if values.len() < VALUES_FOR_NORMALITY {
            return not_applicable(name, "There are too few values to tell.");
        }
        let Some(found) = normality(&values) else {
            return not_applicable(name, "There are no two different values.");
        };
        let (verdict, says) = match found.p {
            p if p >= 0.05 => (Good, "The values look normal."),
            p if p >= 0.01 => (Caution, "The values may not be normal."),
            _ => (Poor, "The values are not normal: limits of single values may mislead."),
        };
        check(name, verdict, Some(found.p), says.into())
    }

    /// Lag-1 autocorrelation of z beyond 2/√N, and Ljung–Box over ten lags.
    fn independent(&self) -> Check {
        let name = CheckName::Independent;
        if matches!(self.request.chart, ChartKind::Ewma | ChartKind::Cusum | ChartKind::MovingAverage) {
            return not_applicable(name, "Points of this chart share readings by design.");
        }
        let z: Vec<f64> = self.tested(&self.answer.panels[0]).filter_map(|(_, point)| point.z.get()).collect();
        let Some((r1, p)) = autocorrelation(&z) else {
            return not_applicable(name, "There are too few points to tell.");
        };
        let beyond = r1.abs() > 2.0 / (z.len() as f64).sqrt();
        let (verdict, says) = match (beyond, p < 0.05) {
            (false, false) => (Good, "Points do not depend on the ones before."),
            (true, true) => (Poor, "Points depend on the ones before: limits are too narrow or too wide."),
            _ => (Caution, "Points may depend on the ones before."),
        };
        check(name, verdict, Some(r1), says.into())
    }

    fn resolution(&self) -> Check {
        let name = CheckName::Resolution;
        let Some(panel) = self.answer.panels.iter().rfind(|panel| panel.statistic.is_dispersion()) else {
            return not_applicable(name, "This chart has no panel of spread.");
        };
        if panel.statistic == Statistic::Sd {
            return not_applicable(name, "Standard deviations differ whatever the measuring unit.");
        }
        let tie = TIE * self.sigma.unwrap_or(0.0);
        let within = |point: &PanelPoint| {
            let value = point.value.get()?;
            let inside = value <= point.upper.get()? + tie && value >= point.lower.get()? - tie;
            inside.then_some(value)
        };
        let mut spreads: Vec<f64> = self.tested(panel).filter_map(|(_, point)| within(&point)).collect();
        spreads.sort_unstable_by(f64::total_cmp);
        spreads.dedup_by(|next, kept| *next - *kept <= tie);
        let distinct = spreads.len();
        let (verdict, says) = if distinct >= DISTINCT_AT_LEAST {
            (Good, format!("{distinct} different spreads within their limits: the measuring unit is fine enough."))
        } else {
            (Poor, format!("Only {distinct} different spreads within their limits: the measuring unit is too coarse."))
        };
        check(name, verdict, Some(distinct as f64), says)
    }
}

/// r₁ and the p-value of Ljung–Box: Q = N(N+2) Σ rₖ²/(N−k) against chi-square with ten degrees of freedom.
/// Source: Ljung & Box (1978). `None` for too few points, or where z has no spread.
fn autocorrelation(z: &[f64]) -> Option<(f64, f64)> {
    let n = z.len();
    let mean = crate::subgroup::mean(z).filter(|_| n >= POINTS_FOR_LAGS)?;
    let d: Vec<f64> = z.iter().map(|z| z - mean).collect();
    let squares: f64 = d.iter().map(|d| d * d).sum();
    let r = |lag: usize| d.iter().zip(&d[lag..]).map(|(a, b)| a * b).sum::<f64>() / squares;
    let q: f64 = (1..=LAGS).map(|lag| r(lag).powi(2) / (n - lag) as f64).sum::<f64>() * n as f64 * (n as f64 + 2.0);
    (squares > 0.0).then(|| (r(1), chi_square_upper_tail(LAGS as f64, q)))
}
