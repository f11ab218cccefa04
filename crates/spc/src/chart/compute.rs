//! The whole chart: figures of each phase, then every point plotted and judged.

use std::borrow::Cow;

use super::answer::{ChartAnswer, Panel, PanelPoint, Phase, Signal, Statistic};
use super::kinds::{Visit, visit};
use super::lines::{Estimate, Stretch, usable};
use super::monitor::{Monitor, PANELS_AT_MOST, Signals};
use super::plot::Chart;
use super::request::{ChartRequest, LimitsBasis, Problem};
use super::time_weighted::dispersion_for;
use crate::points::Points;
use crate::rules::Flag;

/// Computes a control chart.
///
/// ```
/// use spc::chart::{ChartKind, ChartRequest, compute};
/// let readings = vec![vec![4.1], vec![4.3], vec![4.2]];
/// let answer = compute(&ChartRequest::new(ChartKind::IMr, readings)).unwrap();
/// let sigma = answer.phases[0].sigma.unwrap();
/// assert!((sigma - 0.15 / 1.128379167).abs() < 1e-9); // mean moving range / d2
/// ```
///
/// # Errors
/// What is wrong with the request: which field, what was given, what is allowed. A request that
/// passes [`ChartRequest::check`] is always answered.
pub fn compute(request: &ChartRequest) -> Result<ChartAnswer, Problem> {
    request.check()?;
    let count = request.points.len();
    let whole = Whole { panels: vec![], count, dispersion: (f64::NAN, false), signals: Signals::default() };
    let (whole, phases) = run(request, whole);
    Ok(ChartAnswer {
        panels: whole.panels,
        phases,
        signals: whole.signals.finish(),
        straight: request.options.mean_size,
    })
}

/// The signals of a chart without its panels: for a long history that is judged, not drawn.
///
/// # Errors
/// As [`compute`].
pub fn signals(request: &ChartRequest) -> Result<Vec<Signal>, Problem> {
    request.check()?;
    let (signals, _) = run(request, Signals::default());
    Ok(signals.finish())
}

/// What becomes of plotted points and flags.
trait Sink {
    fn begin(&mut self, statistics: &[Statistic]);
    fn flagged(&mut self, panel: usize, statistic: Statistic, flag: &Flag);
    fn plotted(&mut self, panels: &[PanelPoint]);
    /// The centre that the dispersion panel had all through the phase that ends.
    fn dispersion_center(&mut self) -> Option<f64>;
}

impl Sink for Signals {
    fn begin(&mut self, _: &[Statistic]) {}

    fn flagged(&mut self, panel: usize, statistic: Statistic, flag: &Flag) {
        self.flag(panel, statistic, flag);
    }

    #[inline]
    fn plotted(&mut self, _: &[PanelPoint]) {}

    fn dispersion_center(&mut self) -> Option<f64> {
        None
    }
}

/// Keeps everything.
struct Whole {
    panels: Vec<Panel>,
    count: usize,
    /// Centre of the dispersion panel in this phase, and whether it has stepped.
    dispersion: (f64, bool),
    signals: Signals,
}

impl Sink for Whole {
    fn begin(&mut self, statistics: &[Statistic]) {
        let panel = |&statistic: &Statistic| Panel { statistic, points: Vec::with_capacity(self.count) };
        self.panels = statistics.iter().map(panel).collect();
    }

    fn flagged(&mut self, panel: usize, statistic: Statistic, flag: &Flag) {
        self.signals.flag(panel, statistic, flag);
    }

    #[inline]
    fn plotted(&mut self, points: &[PanelPoint]) {
        for (panel, point) in self.panels.iter_mut().zip(points) {
            panel.points.push(*point);
        }
        if let (Some(panel), Some(point)) = (self.panels.last(), points.last())
            && panel.statistic.is_dispersion()
            && let center = point.center.raw()
            && !center.is_nan()
        {
            self.dispersion.1 |= !self.dispersion.0.is_nan() && self.dispersion.0 != center;
            self.dispersion.0 = center;
        }
    }

    fn dispersion_center(&mut self) -> Option<f64> {
        let (center, steps) = std::mem::replace(&mut self.dispersion, (f64::NAN, false));
        (!steps && !center.is_nan()).then_some(center)
    }
}

fn run<S: Sink>(request: &ChartRequest, sink: S) -> (S, Vec<Phase>) {
    let mut aside = vec![false; request.points.len()];
    request.excluded.iter().for_each(|&i| aside[i] = true);
    let sizes = (0..request.points.len()).filter(|&i| !aside[i]).map(|i| request.points.get(i).values().len());
    let dispersion = dispersion_for(sizes.filter(|&n| n > 0));
    visit(request.chart, dispersion, Run { request, points: &request.charted(), aside: &aside, sink })
}

impl ChartRequest {
    /// The points as they are plotted: of short runs, as deviations from the nominal of their part.
    pub(crate) fn charted(&self) -> Cow<'_, Points> {
        match (&self.points, &self.options.nominal) {
            (Points::Values(readings), Some(nominal)) => {
                let sigma = self.options.part_sigma.as_deref();
                let deviation = |i: usize, x: f64| (x - nominal[i]) / sigma.map_or(1.0, |sigma| sigma[i]);
                Cow::Owned(readings.clone().map(deviation).into())
            }
            (points, _) => Cow::Borrowed(points),
        }
    }
}

struct Run<'a, S> {
    request: &'a ChartRequest,
    points: &'a Points,
    aside: &'a [bool],
    sink: S,
}

impl<S: Sink> Visit for Run<'_, S> {
    type Output = (S, Vec<Phase>);

    fn chart(mut self, chart: impl Chart) -> Self::Output {
        let request = self.request;
        let used = usable(request, self.aside);
        let mut restarts = request.restarts.clone();
        restarts.sort_unstable();
        let mut restarts = restarts.into_iter().peekable();
        let statistics = chart.statistics();
        self.sink.begin(statistics);
        let mut phases = Vec::with_capacity(request.phases.len());
        let mut panels = [PanelPoint::default(); PANELS_AT_MOST];
        let panels = &mut panels[..statistics.len()];
        for (number, limits) in request.limits.iter().enumerate() {
            let (start, end) = request.phase_bounds(number);
            let stretch = Stretch { points: self.points, used: &used, start, end };
            let found = match limits.basis {
                LimitsBasis::Estimated { .. } => chart.estimate(stretch, &request.options, limits),
                LimitsBasis::Given { center, sigma, sigma_between } => {
                    chart.sized(Estimate { center: Some(center), sigma, sigma_between, ..Estimate::default() }, stretch)
                }
            };
            let plot = chart.plot(&found, limits, &request.options);
            let mut monitor = Monitor::new(request.chart, statistics, plot, limits, request.rules.as_ref());
            let sink = &mut self.sink;
            for i in start..=end {
                while restarts.next_if(|&restart| restart <= i).is_some() {
                    monitor.restart();
                }
                monitor.push(i, self.points.get(i), self.aside[i], panels, |panel, flag| {
                    sink.flagged(panel, statistics[panel], &flag);
                });
                sink.plotted(panels);
            }
            phases.push(Phase {
                start,
                end,
                center: found.center,
                sigma: found.sigma,
                sigma_between: found.sigma_between,
                used: found.used,
                dispersion_center: self.sink.dispersion_center(),
            });
        }
        (self.sink, phases)
    }
}
