//! Judging points as they arrive, under figures in force.

use super::answer::Signal;
use super::figures::Figures;
use super::gather::Signals;
use super::judged::{PANELS_AT_MOST, PanelRules};
use super::kinds::{Visit, visit};
use super::lines::Placed;
use super::panel_point::PanelPoint;
use super::plot::{Chart, Plot};
use super::request::{ChartKind, ChartOptions, Limits, LimitsBasis};
use super::statistic::Statistic;
use crate::points::{Point, Points};
use crate::rules::{Flag, Judge, RuleSet};
use crate::sigma::{Stretch, dispersion_for};
use crate::wrong_request::{Expected, WrongRequest};

/// A chart whose figures are in force, judged point after point. A point costs the same whatever
/// came before it: what is remembered are windows and sums.
///
/// To go on after a break, show it the last points again (as many tested ones as the longest rule
/// window, and the span or width of a moving statistic before them); an EWMA or CUSUM, which
/// remembers everything, takes its sums instead, see [`Watch::resume`].
///
/// ```
/// use spc::chart::{ChartKind, ChartOptions, Limits, Statistic, Watch};
/// use spc::points::Point;
/// use spc::rules::{Preset, RuleSet};
/// let rules = RuleSet::Preset(Preset::LimitsOnly);
/// let limits = Limits::given(4.2, 0.1, 3.0);
/// let mut watch = Watch::new(ChartKind::IMr, &limits, Some(&rules), &ChartOptions::default()).unwrap();
/// let mut beyond = vec![];
/// for x in [4.1, 4.6] {
///     watch.push(Point::Values(&[x]), false, |judged| beyond.push((judged.panel, judged.flag.at)));
/// }
/// assert_eq!(beyond, [(Statistic::Individual, 1), (Statistic::MovingRange, 1)]);
/// ```
pub struct Watch {
    statistics: &'static [Statistic],
    plot: Box<dyn Plot>,
    rules: Vec<PanelRules>,
    judges: Vec<Judge>,
    placed: [Placed; PANELS_AT_MOST],
    flagged: [bool; PANELS_AT_MOST],
    next: usize,
}

/// One place on a chart: what is plotted there, and what a person said of it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Place<'a> {
    /// What was recorded, or a gap.
    pub point: Point<'a>,
    /// Set aside: plotted, but neither used nor tested.
    pub aside: bool,
    /// Rule windows start afresh here.
    pub restart: bool,
}

impl<'a> From<Point<'a>> for Place<'a> {
    fn from(point: Point<'a>) -> Self {
        Self { point, aside: false, restart: false }
    }
}

/// What a time-weighted chart remembers after a point: average and variance of an EWMA, both sums of a CUSUM.
pub type Sums = [f64; 2];

/// A flag of the newest point.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Judged {
    /// The panel it was found in.
    pub panel: Statistic,
    /// Which rule, where, and whether an earlier signal goes on.
    pub flag: Flag,
}

/// What a stretch of points looked like under figures in force.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Watched {
    /// What each panel plots, and its points, in drawing order.
    pub panels: Vec<(Statistic, Vec<PanelPoint>)>,
    /// Sorted by `at`, then panel, rule, side.
    pub signals: Vec<Signal>,
    /// What an EWMA or CUSUM remembers after each point; empty for other charts.
    pub sums: Vec<Sums>,
}

impl Watched {
    /// Goes on with what was found from place `from` on, among the same panels.
    pub fn append(&mut self, next: Watched, from: usize) {
        if self.panels.is_empty() {
            self.panels = next.panels;
        } else {
            self.panels.iter_mut().zip(next.panels).for_each(|((_, points), (_, more))| points.extend(more));
        }
        let moved =
            |signal: Signal| Signal { at: signal.at + from, from: signal.from + from, to: signal.to + from, ..signal };
        self.signals.extend(next.signals.into_iter().map(moved));
        self.sums.extend(next.sums);
    }
}

impl Judged {
    /// The signal that begins with this flag.
    pub fn signal(&self) -> Signal {
        let Flag { rule, side, at, from, .. } = self.flag;
        Signal { panel: self.panel, rule, side, at, from, to: at }
    }
}

impl Watch {
    /// A watch at the start of a phase or window, under given limits. Between and within charts and straight
    /// limits rest on a mean n, which the figures name: here are no points to take it from.
    ///
    /// # Errors
    /// When the limits are not given (estimated ones need all their points), a needed mean n is missing, or
    /// limits, rules or options are out of their bounds.
    /// Nominals of short runs come with points, so here the caller subtracts them.
    pub fn new(
        chart: ChartKind,
        limits: &Limits,
        rules: Option<&RuleSet>,
        options: &ChartOptions,
    ) -> Result<Self, WrongRequest> {
        let LimitsBasis::Given(figures) = limits.basis else {
            return Err(WrongRequest::new("limits.basis", "estimated", Expected::one_of(["given"])));
        };
        limits.check("limits", chart, 0)?;
        options.check(chart, &Points::Counts(vec![]))?;
        if let Some(rules) = rules {
            rules.check("rules")?;
        }
        if figures.mean_n.is_none() && (chart == ChartKind::BetweenWithin || options.mean_size) {
            return Err(WrongRequest::missing("limits.mean_n", Expected::POSITIVE));
        }
        // A mean n that is not whole is one of unequal n, whose spread is told by s.
        let sizes = figures.mean_n.map(|n| [n.floor() as usize, n.ceil() as usize]);
        let dispersion = dispersion_for(sizes.into_iter().flatten());
        let (statistics, plot) = visit(chart, dispersion, Begin { figures, k: limits.k, options });
        let rules = PanelRules::of(chart, statistics, &figures, limits.k, rules);
        Ok(Self {
            statistics,
            plot,
            judges: rules.iter().map(|panel| Judge::new(panel.rules.iter().copied())).collect(),
            rules,
            placed: [Placed::NOWHERE; PANELS_AT_MOST],
            flagged: [false; PANELS_AT_MOST],
            next: 0,
        })
    }

    /// What the panels plot, in drawing order.
    pub fn statistics(&self) -> &'static [Statistic] {
        self.statistics
    }

    /// Plots and judges the next point, and tells `found` each flag it gets. The points are counted
    /// from 0 since the watch began.
    pub fn push(&mut self, point: Point, aside: bool, mut found: impl FnMut(Judged)) {
        let statistics = self.statistics;
        let placed = &mut self.placed[..statistics.len()];
        self.plot.plot(point, aside, placed);
        self.flagged = [false; PANELS_AT_MOST];
        for (number, (judge, rules)) in self.judges.iter_mut().zip(&self.rules).enumerate() {
            if placed[number].tested {
                judge.push(&rules.tested(self.next, &placed[number]), |flag| {
                    self.flagged[number] = true;
                    found(Judged { panel: statistics[number], flag });
                });
            }
        }
        self.next += 1;
    }

    /// The newest point in each panel.
    pub fn newest(&self) -> impl ExactSizeIterator<Item = PanelPoint> {
        let point =
            |number: usize| PanelPoint { flagged: self.flagged[number], ..PanelPoint::from(self.placed[number]) };
        (0..self.statistics.len()).map(point)
    }

    /// Plots and judges a stretch of places, and gathers what was found in it.
    pub fn follow<'p>(&mut self, places: impl IntoIterator<Item = Place<'p>>) -> Watched {
        let statistics = self.statistics;
        let mut panels: Vec<(Statistic, Vec<PanelPoint>)> =
            statistics.iter().map(|&statistic| (statistic, Vec::new())).collect();
        let mut signals = Signals::new(statistics);
        let mut sums = Vec::new();
        for Place { point, aside, restart } in places {
            let number = |of: Statistic| statistics.iter().position(|&statistic| statistic == of).unwrap_or(0);
            if restart {
                self.restart();
            }
            self.push(point, aside, |Judged { panel, flag }| signals.push(number(panel), flag));
            signals.take(self.next, |_, _| ());
            sums.extend(self.sums());
            for (panel, point) in panels.iter_mut().zip(self.newest()) {
                panel.1.push(point);
            }
        }
        Watched { panels, signals: signals.found, sums }
    }

    /// Plots a place that is judged elsewhere, so that what moves over the last points is right at the next.
    pub fn lead_in(&mut self, place: Place) {
        if place.restart {
            self.plot.restart();
        }
        self.plot.plot(place.point, place.aside, &mut self.placed[..self.statistics.len()]);
    }

    /// Rule windows, sums and averages start afresh with the next point.
    pub fn restart(&mut self) {
        self.plot.restart();
        self.judges.iter_mut().for_each(Judge::restart);
    }

    /// What an EWMA or CUSUM remembers after its newest point; other charts have none.
    pub fn sums(&self) -> Option<Sums> {
        self.plot.sums()
    }

    /// Goes on from the sums of an EWMA or CUSUM after the point before. Other charts take no notice: they
    /// are shown their last points again.
    pub fn resume(&mut self, sums: Sums) {
        self.plot.resume(sums);
    }
}

struct Begin<'a> {
    figures: Figures,
    k: f64,
    options: &'a ChartOptions,
}

impl Visit for Begin<'_> {
    type Output = (&'static [Statistic], Box<dyn Plot>);

    fn chart(self, chart: impl Chart) -> Self::Output {
        let none = Points::Counts(vec![]);
        let figures = chart.given(self.figures, Stretch::none(&none));
        (chart.statistics(), Box::new(chart.plot(&figures, self.k, self.options)))
    }
}
