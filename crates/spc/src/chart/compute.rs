//! The whole chart: figures of each phase, then every point plotted and judged.

use std::borrow::Cow;
use std::ops::Range;

use super::answer::{ChartAnswer, Phase, Signal};
use super::figures::{Estimate, Figures};
use super::gather::Signals;
use super::judged::{PanelJudge, PanelRules};
use super::kinds::{Visit, visit};
use super::panel::Panel;
use super::plot::{AnyChart, Chart};
use super::request::{ChartKind, ChartRequest, LimitsBasis};
use super::used::{set_aside, usable};
use crate::bounds::SIGNALS_AT_MOST;
use crate::figure::raw;
use crate::points::Points;
use crate::sigma::{Dispersion, Stretch, dispersion_for};
use crate::stop;
use crate::wrong_request::{Need, WrongRequest};

/// Computes a control chart.
///
/// ```
/// use spc::chart::{ChartKind, ChartRequest, compute};
/// let readings = vec![vec![4.1], vec![4.3], vec![4.2]];
/// let answer = compute(&ChartRequest::new(ChartKind::IMr, readings)).unwrap();
/// let sigma = answer.phases[0].figures.sigma.unwrap();
/// assert!((sigma - 0.15 / 1.128379167).abs() < 1e-9); // mean moving range / d2
/// ```
///
/// # Errors
/// What is wrong with the request: which field, what was given, what is allowed. A request that
/// passes [`ChartRequest::check`] is answered, unless it has more signals than an answer holds.
pub fn compute(request: &ChartRequest) -> Result<ChartAnswer, WrongRequest> {
    answer(request, Keep::Panels)
}

/// The signals of a chart without its panels: for a long history that is judged, not drawn. Takes two
/// bytes of memory for each point.
///
/// # Errors
/// As [`compute`].
pub fn signals(request: &ChartRequest) -> Result<Vec<Signal>, WrongRequest> {
    answer(request, Keep::Signals).map(|answer| answer.signals)
}

/// What is wanted of the answer.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Keep {
    Panels,
    Signals,
}

fn answer(request: &ChartRequest, keep: Keep) -> Result<ChartAnswer, WrongRequest> {
    request.check()?;
    let aside = set_aside(request);
    // Only a between and within chart asks for sizes; others need not look at every point for it.
    let sizes = (0..request.points.len()).filter(|&i| !aside[i]).map(|i| request.points.get(i).values().len());
    let dispersion = match request.chart {
        ChartKind::BetweenWithin => dispersion_for(sizes.filter(|&n| n > 0)),
        _ => Dispersion::Range,
    };
    let chart = visit(request.chart, dispersion, Boxed);
    Whole { request, points: &request.charted(), aside: &aside, keep }.judged(&*chart)
}

impl ChartRequest {
    /// The points as they are plotted: of short runs, as deviations from the nominal of their part.
    pub(crate) fn charted(&self) -> Cow<'_, Points> {
        match (&self.points, &self.options.nominal) {
            (Points::Values(readings), Some(nominal)) => {
                let sigma = self.options.part_sigma.as_deref();
                // Points with values have both, which was checked.
                let deviation = |i: usize, x: f64| (x - raw(nominal[i])) / sigma.map_or(1.0, |sigma| raw(sigma[i]));
                Cow::Owned(readings.map(deviation).into())
            }
            (points, _) => Cow::Borrowed(points),
        }
    }
}

/// Points placed and judged at a time: few enough to stay in the nearest cache in between.
const AT_A_TIME: usize = 1024;

struct Whole<'a> {
    request: &'a ChartRequest,
    points: &'a Points,
    aside: &'a [bool],
    keep: Keep,
}

struct Boxed;

impl Visit for Boxed {
    type Output = Box<dyn AnyChart>;

    fn chart(self, chart: impl Chart) -> Self::Output {
        Box::new(chart)
    }
}

impl Whole<'_> {
    fn judged(self, chart: &dyn AnyChart) -> Result<ChartAnswer, WrongRequest> {
        let request = self.request;
        let used = usable(request, self.aside);
        let mut restarts = request.restarts.clone();
        restarts.sort_unstable();
        restarts.dedup();
        let statistics = chart.statistics();
        let kept = if self.keep == Keep::Panels { self.points.len() } else { AT_A_TIME };
        let mut panels: Vec<Panel> = statistics.iter().map(|&statistic| Panel::new(statistic, kept)).collect();
        let mut phases = Vec::with_capacity(request.phases.len());
        let mut signals = Signals::new(statistics);
        let gather = |signals: &mut Signals, panels: &mut [Panel], until: usize| {
            signals.take(until, |number, flag| {
                if self.keep == Keep::Panels {
                    panels[number].flag(flag.at..=flag.to);
                }
            });
            let given = format_args!("more than {SIGNALS_AT_MOST} signals");
            if signals.too_many { Err(WrongRequest::new("rules", given, Need::FewerSignals)) } else { Ok(()) }
        };
        for (number, limits) in request.limits.iter().enumerate() {
            let (start, end) = request.phase_bounds(number);
            let stretch = Stretch { points: self.points, used: &used, start, end };
            let found = match limits.basis {
                LimitsBasis::Estimated { lower, upper, .. } => {
                    let found = chart.estimate(stretch, &request.options);
                    Estimate { figures: Figures { lower, upper, ..found.figures }, ..found }
                }
                LimitsBasis::Given(figures) => chart.given(figures, stretch),
            };
            let first = restarts.partition_point(|&i| i <= start);
            let last = restarts.partition_point(|&i| i <= end);
            let mut plot = chart.begin(&found, limits.k, &request.options);
            let rules = PanelRules::of(request.chart, statistics, &found.figures, limits.k, request.rules.as_ref());
            let mut judges: Vec<PanelJudge> = rules.iter().map(PanelRules::begin).collect();
            let mut from = start;
            for until in restarts[first..last].iter().copied().chain([end + 1]) {
                while from < until {
                    stop::check()?;
                    let some = from..until.min(from + AT_A_TIME);
                    let next = Stretch { start: some.start, end: some.end - 1, ..stretch };
                    plot.place(next, self.aside, &mut panels);
                    for (number, judge) in judges.iter_mut().enumerate() {
                        judge.judge(&panels[number], some.clone(), |flag| signals.push(number, flag));
                    }
                    from = some.end;
                    let untold = judges.iter().filter_map(PanelJudge::untold).min().unwrap_or(from);
                    gather(&mut signals, &mut panels, untold)?;
                    if self.keep == Keep::Signals {
                        panels.iter_mut().for_each(Panel::forget);
                    }
                }
                for (number, judge) in judges.iter_mut().enumerate() {
                    judge.finish(|flag| signals.push(number, flag));
                }
                plot.restart();
                gather(&mut signals, &mut panels, until)?;
            }
            phases.push(Phase {
                start,
                end,
                chart: request.chart,
                figures: found.figures,
                used: found.used,
                dispersion_center: panels.last().and_then(|panel| dispersion_center(panel, start..end + 1)),
            });
        }
        Ok(ChartAnswer { panels, phases, signals: signals.found, straight: request.options.mean_size })
    }
}

/// The centre that a panel of spread has all through a phase.
fn dispersion_center(panel: &Panel, points: Range<usize>) -> Option<f64> {
    let mut centers = panel.lines(points).iter().map(|(_, lines)| lines.center).filter(|c| !c.is_nan());
    let first = centers.next().filter(|_| panel.statistic.is_dispersion())?;
    centers.all(|center| center == first).then_some(first)
}
