//! Are the limits in force still true? The points since against centre and sigma, which are estimates
//! themselves and count as such: taken as exact, limits that hold would be cried out in one case of five.
//!
//! Mean, measured: t = (x̄ − centre)/(σ̂√(1/N + 1/N₀)) by Student's t with ν₀ degrees of freedom; between and
//! within: one location a point, its sigma √(σ²_between + σ²_within/n̄); counts: z = (rate − centre)/√(v(1/N + 1/N₀)),
//! v = p̄(1−p̄) or ū or c̄, times σ_z² for p′ and u′. Spread, measured: F = s_w²/σ̂². N₀ and ν₀ are those of the baseline:
//! m₀ points with N₀ values, known from the estimate or told; untold, given limits are exact.
//! Source: Montgomery, ch. 2.4 and 4.3 (tests of means and variances); degrees of freedom of range-based
//! estimates: Patnaik (1950).

use serde::{Deserialize, Serialize};

use crate::chart::{
    ChartAnswer, ChartKind, ChartRequest, LimitsBasis, Phase, Recorded, SigmaMethod, Statistic, compute, set_aside,
    usable,
};
use crate::distribution::{f_tails, student_two_sided};
use crate::normal;
use crate::points::Point;
use crate::rules::{ListedRule, Rule, RuleSet};
use crate::run_length::in_control;
use crate::sigma::{Counted, Dispersion, dispersion_for};
use crate::subgroup::{mean, sd};
use crate::wrong_request::{Expected, Need, WrongRequest, spelled};

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
    /// What given limits were estimated from. Default: they are exact.
    pub baseline: Option<Baseline>,
}

/// What limits were estimated from.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Baseline {
    /// Points, m₀: at least 2, of counts at least 1.
    pub points: usize,
    /// Values in them, N₀; measured alone.
    pub values: Option<usize>,
    /// Units inspected, or area, N₀; counts alone.
    pub size: Option<f64>,
}

/// t-test of the mean; of counts, and against exact limits, a z-test.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct MeanTest {
    /// The statistic.
    pub t: f64,
    /// ν₀; `None` where it is normal.
    pub df: Option<f64>,
    /// Two-sided.
    pub p: f64,
    /// How far the mean has moved, in sigma of single values (of single units for counts; of √(σ²_between + σ²_within)
    /// for between and within).
    pub shift: f64,
}

/// F-test of the spread within; against exact limits, a chi-square test.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct SigmaTest {
    /// s_w²/σ̂², s_w² pooled within the points; of single values about their own mean.
    pub f: f64,
    /// Σ(nᵢ−1), or N − 1.
    pub df: usize,
    /// ν₀; `None` where the limits are exact.
    pub df0: Option<f64>,
    /// Two-sided: twice the smaller tail.
    pub p: f64,
    /// Sigma now over sigma in force, √F.
    pub ratio: f64,
}

/// Signals of the location panel among the points checked (of a CUSUM, of both panels).
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SignalCount {
    /// Found.
    pub seen: usize,
    /// Points over the average run length in control of the rules that the panel uses, at the k of its limits.
    /// `None` without such a rule, and for EWMA, CUSUM and moving average, whose points hang together.
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

/// Tests whether limits still hold.
///
/// # Errors
/// Charts without a sigma (run, g, t), a phase or point that is not there, no points to check,
/// limits without a sigma above 0, a baseline that cannot be, and whatever is wrong with the chart request.
pub fn limits_check(request: &LimitsCheckRequest) -> Result<LimitsCheck, WrongRequest> {
    let chart = &request.chart;
    if matches!(chart.chart, ChartKind::Run | ChartKind::G | ChartKind::T) {
        return Err(WrongRequest::new("chart", spelled(chart.chart), Need::ChartWithSigma));
    }
    let answer = compute(chart)?;
    let number = request.phase_number(&answer)?;
    let phase = &answer.phases[number];
    let checked = request.points(phase, chart.limits[number].basis)?;
    let check = Check { chart, answer: &answer, phase, number, checked: &checked };
    let (mean, sigma) = if chart.chart.records() == Recorded::Values {
        check.values(request.baseline)?
    } else {
        (check.counts(request.baseline)?, None)
    };
    let verdict = match sigma {
        _ if mean.p < LEVEL => LimitsVerdict::Moved,
        Some(sigma) if sigma.p < LEVEL && sigma.ratio > 1.0 => LimitsVerdict::Wider,
        Some(sigma) if sigma.p < LEVEL => LimitsVerdict::Narrower,
        _ => LimitsVerdict::Hold,
    };
    Ok(LimitsCheck { points: checked.len(), mean, sigma, signals: check.signals()?, verdict })
}

impl LimitsCheckRequest {
    fn phase_number(&self, answer: &ChartAnswer) -> Result<usize, WrongRequest> {
        let last = answer.phases.len() - 1;
        let number = self.phase.unwrap_or(last);
        if number > last {
            return Err(WrongRequest::new("phase", number, Expected::whole(0, last)));
        }
        Ok(number)
    }

    /// The points to check: of the phase, after the estimate, not set aside, the latest ones.
    fn points(&self, phase: &Phase, basis: LimitsBasis) -> Result<Vec<usize>, WrongRequest> {
        if self.last == 0 {
            return Err(WrongRequest::new("last", 0, Expected::whole_from(1)));
        }
        let first = match (self.since, basis) {
            (Some(since), _) if !(phase.start..=phase.end).contains(&since) => {
                return Err(WrongRequest::new("since", since, Expected::whole(phase.start, phase.end)));
            }
            (Some(since), _) => since + 1,
            (None, LimitsBasis::Given(_)) => phase.start,
            (None, LimitsBasis::Estimated { to: Some(to), .. }) => to + 1,
            (None, LimitsBasis::Estimated { to: None, .. }) => {
                return Err(WrongRequest::missing("since", Expected::whole(phase.start, phase.end)));
            }
        };
        let aside = set_aside(&self.chart);
        let recorded = |i: &usize| !self.chart.points.get(*i).is_gap() && !aside[*i];
        let mut points: Vec<usize> = (first..=phase.end).rev().filter(recorded).take(self.last).collect();
        points.reverse();
        if points.is_empty() {
            return Err(WrongRequest::new(
                "points",
                "none after the estimate",
                Expected::at_least(1, "points to check"),
            ));
        }
        Ok(points)
    }
}

/// What of an estimate is uncertain: 1/N₀ = 0 and no ν₀ where it is exact.
#[derive(Debug, Clone, Copy, Default)]
struct Uncertainty {
    /// 1/N₀
    of_mean: f64,
    /// ν₀ of the test of the mean.
    df_of_mean: Option<f64>,
    /// ν₀ of sigma within.
    df_of_sigma: Option<f64>,
}

/// How sigma was estimated, as far as its degrees of freedom go.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Method {
    Ranges,
    Sd,
    MovingRanges,
    MedianMovingRange,
    Overall,
}

impl Method {
    fn of(dispersion: Dispersion) -> Self {
        match dispersion {
            Dispersion::Range => Method::Ranges,
            Dispersion::Sd => Method::Sd,
        }
    }

    /// ν₀ of an estimate from so many points with so many values.
    fn df(self, points: f64, values: f64) -> f64 {
        match self {
            Method::Ranges => 0.9 * (values - points),
            Method::Sd => values - points,
            Method::MovingRanges => 0.62 * (points - 1.0),
            Method::MedianMovingRange => 0.32 * (points - 1.0),
            Method::Overall => points - 1.0,
        }
    }
}

struct Check<'a> {
    chart: &'a ChartRequest,
    answer: &'a ChartAnswer,
    phase: &'a Phase,
    number: usize,
    checked: &'a [usize],
}

impl Check<'_> {
    fn frozen(&self, sigma: Option<f64>) -> Result<(f64, f64), WrongRequest> {
        self.phase
            .figures
            .center
            .zip(sigma.filter(|sigma| *sigma > 0.0))
            .ok_or_else(|| WrongRequest::new("limits", "no sigma", Need::LimitsWithSigma))
    }

    /// The points that the limits were estimated from, or what was told of them; `None` where they are exact.
    fn baseline(&self, told: Option<Baseline>) -> Result<Option<(f64, f64)>, WrongRequest> {
        let chart = self.chart;
        if let LimitsBasis::Given(_) = chart.limits[self.number].basis {
            return told.map(|told| told.check(chart)).transpose();
        }
        if told.is_some() {
            return Err(WrongRequest::new("baseline", "present", Expected::only_with("given limits")));
        }
        let used = usable(chart, &set_aside(chart));
        let points = (self.phase.start..=self.phase.end).filter(|&i| used[i]).map(|i| chart.points.get(i));
        let size = |point: Point| if chart.chart == ChartKind::C { 1.0 } else { point.size() };
        let (points, values) = points.fold((0.0, 0.0), |(points, values), point| (points + 1.0, values + size(point)));
        Ok(Some((points, values)))
    }

    /// How sigma was estimated, by the n of the points used; told ones by N₀/m₀.
    fn method(&self, (points, values): (f64, f64)) -> Method {
        let chart = self.chart;
        let by_size = |n: f64| match n {
            1.0 => Method::MovingRanges,
            n if n.fract() == 0.0 && n <= 10.0 => Method::Ranges,
            _ => Method::Sd,
        };
        match (chart.chart, chart.options.sigma_method) {
            (ChartKind::XbarR | ChartKind::MedianR, _) => Method::Ranges,
            (ChartKind::XbarS, _) => Method::Sd,
            (ChartKind::IMr, SigmaMethod::MeanMr) => Method::MovingRanges,
            (ChartKind::IMr, SigmaMethod::MedianMr) => Method::MedianMovingRange,
            (ChartKind::IMr, SigmaMethod::Overall) => Method::Overall,
            (ChartKind::BetweenWithin, _) => match self.answer.panels.last().map(|panel| panel.statistic) {
                Some(Statistic::Sd) => Method::Sd,
                _ => Method::Ranges,
            },
            _ if matches!(chart.limits[self.number].basis, LimitsBasis::Given(_)) => by_size(values / points),
            _ => {
                let used = usable(chart, &set_aside(chart));
                let sizes = || {
                    let used = (self.phase.start..=self.phase.end).filter(|&i| used[i]);
                    used.map(|i| chart.points.get(i).values().len())
                };
                if sizes().all(|n| n == 1) { Method::MovingRanges } else { Method::of(dispersion_for(sizes())) }
            }
        }
    }

    fn uncertainty(&self, told: Option<Baseline>) -> Result<Uncertainty, WrongRequest> {
        let Some((points, values)) = self.baseline(told)? else { return Ok(Uncertainty::default()) };
        let df = self.method((points, values)).df(points, values);
        let between = self.chart.chart == ChartKind::BetweenWithin;
        let df_of_mean = if between { Method::MovingRanges.df(points, values) } else { df };
        if !(df > 0.0 && df_of_mean > 0.0) {
            let given = format!("{values} values in {points} points");
            return Err(WrongRequest::new("baseline.values", given, Need::DegreeOfFreedom));
        }
        let of_mean = 1.0 / if between { points } else { values };
        Ok(Uncertainty { of_mean, df_of_mean: Some(df_of_mean), df_of_sigma: Some(df) })
    }

    fn values(&self, told: Option<Baseline>) -> Result<(MeanTest, Option<SigmaTest>), WrongRequest> {
        let (center, sigma) = self.frozen(self.phase.figures.sigma)?;
        let uncertain = self.uncertainty(told)?;
        let charted = self.chart.charted();
        let points: Vec<&[f64]> = self.checked.iter().map(|&i| charted.get(i)).map(Point::values).collect();
        let between =
            (self.chart.chart == ChartKind::BetweenWithin).then(|| self.phase.figures.sigma_between.unwrap_or(0.0));
        let all: Vec<f64> = points.concat();
        // What the mean is of, sigma of one of it, and sigma that a shift is told in.
        let (of, spread, unit) = match between {
            None => (all.clone(), sigma, sigma),
            Some(between) => {
                let n = all.len() as f64 / points.len() as f64;
                let means = points.iter().filter_map(|values| mean(values)).collect();
                (means, (between.powi(2) + sigma.powi(2) / n).sqrt(), between.hypot(sigma))
            }
        };
        let moved = mean(&of).unwrap_or(center) - center;
        let t = moved / (spread * (1.0 / of.len() as f64 + uncertain.of_mean).sqrt());
        let mean = MeanTest {
            t,
            df: uncertain.df_of_mean,
            p: student_two_sided(t, uncertain.df_of_mean),
            shift: moved / unit,
        };
        // Single values have no spread within, so theirs is taken about their own mean.
        let singles = between.is_none() && points.iter().all(|values| values.len() == 1);
        let (squares, df) = if singles {
            (squares(&all), all.len() - 1)
        } else {
            (points.iter().map(|values| squares(values)).sum(), all.len() - points.len())
        };
        if df == 0 {
            return Ok((mean, None));
        }
        let f = squares / (df as f64 * sigma * sigma);
        let (lower, upper) = f_tails(f, df as f64, uncertain.df_of_sigma);
        let p = (2.0 * lower.min(upper)).min(1.0);
        Ok((mean, Some(SigmaTest { f, df, df0: uncertain.df_of_sigma, p, ratio: f.sqrt() })))
    }

    fn counts(&self, told: Option<Baseline>) -> Result<MeanTest, WrongRequest> {
        let counted = match self.chart.chart {
            ChartKind::P | ChartKind::PPrime => Counted::Proportion,
            ChartKind::Np => Counted::Units,
            ChartKind::C => Counted::Nonconformities,
            _ => Counted::Rate,
        };
        let corrected = matches!(self.chart.chart, ChartKind::PPrime | ChartKind::UPrime);
        let spread = if corrected { self.phase.figures.sigma } else { Some(1.0) };
        let of_one =
            self.phase.figures.center.zip(spread).map(|(center, spread)| spread * counted.sigma_of_one(center));
        let (center, of_one) = self.frozen(of_one)?;
        let of_mean = self.baseline(told)?.map_or(0.0, |(_, size)| 1.0 / size);
        let counts = || self.checked.iter().map(|&i| self.chart.points.get(i).count());
        let n = match counted {
            Counted::Nonconformities => self.checked.len() as f64,
            _ => counts().map(|count| count.size).sum(),
        };
        let shift = (counted.center(counts()).0.unwrap_or(center) - center) / of_one;
        let t = shift / (1.0 / n + of_mean).sqrt();
        Ok(MeanTest { t, df: None, p: student_two_sided(t, None), shift })
    }

    fn signals(&self) -> Result<SignalCount, WrongRequest> {
        let first = self.answer.panels[0].statistic;
        let looked_at = |panel: Statistic| panel == first || panel == Statistic::CusumDown;
        let seen = self.answer.signals.iter().filter(|s| looked_at(s.panel) && self.checked.contains(&s.at)).count();
        let apart = !matches!(first, Statistic::Ewma | Statistic::CusumUp | Statistic::MovingAverage);
        let k = self.chart.limits[self.number].k;
        let rules = self.chart.rules.iter().flat_map(|set| set.of_location(k));
        let suits = |listed: &ListedRule| apart && (first.is_location() || listed.rule.suits_dispersion());
        let rules: Vec<ListedRule> = rules.filter(suits).collect();
        let arl = match *rules.as_slice() {
            [] => None,
            // Exact where one limit alone is looked at, however far out it lies.
            [ListedRule { rule: Rule::Beyond { k }, .. }] => Some(0.5 / normal::cdf(-k)),
            _ => Some(in_control(RuleSet::List(rules))?),
        };
        Ok(SignalCount { seen, expected: arl.map(|arl| self.checked.len() as f64 / arl) })
    }
}

/// Sum of squares about their own mean.
fn squares(values: &[f64]) -> f64 {
    sd(values).map_or(0.0, |sd| sd * sd * (values.len() - 1) as f64)
}

impl Baseline {
    /// m₀ and N₀, where they can be.
    fn check(&self, chart: &ChartRequest) -> Result<(f64, f64), WrongRequest> {
        let counts = chart.chart.records() == Recorded::Counts;
        let least = if counts { 1 } else { 2 };
        if self.points < least {
            return Err(WrongRequest::new("baseline.points", self.points, Expected::whole_from(least)));
        }
        let points = self.points as f64;
        match (counts, self.values, self.size) {
            (true, None, Some(size)) if size > 0.0 && size.is_finite() => {
                Ok((points, if chart.chart == ChartKind::C { points } else { size }))
            }
            (true, None, Some(size)) => Err(WrongRequest::new("baseline.size", size, Expected::POSITIVE)),
            // A c chart has the same area everywhere, and needs no size.
            (true, None, None) if chart.chart == ChartKind::C => Ok((points, points)),
            (true, None, None) => Err(WrongRequest::missing("baseline.size", Expected::POSITIVE)),
            (true, Some(_), _) => {
                Err(WrongRequest::new("baseline.values", "present", Expected::only_with("charts of values")))
            }
            (false, _, Some(_)) => {
                Err(WrongRequest::new("baseline.size", "present", Expected::only_with("charts of counts")))
            }
            (false, None, None) => Err(WrongRequest::missing("baseline.values", Expected::whole_from(self.points))),
            (false, Some(values), None) => {
                let single = chart.chart == ChartKind::IMr;
                if values < self.points || (single && values > self.points) {
                    let expected = if single {
                        Expected::whole(self.points, self.points)
                    } else {
                        Expected::whole_from(self.points)
                    };
                    return Err(WrongRequest::new("baseline.values", values, expected));
                }
                Ok((points, values as f64))
            }
        }
    }
}
