//! Judging points as they arrive, under figures in force.

use super::answer::Signal;
use super::gather::Signals;
use super::judged::{PANELS_AT_MOST, PanelRules};
use super::kinds::{Visit, visit};
use super::lines::{Estimate, Placed};
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
/// remembers everything, takes its last panels instead, see [`Watch::resume`].
///
/// ```
/// use spc::chart::{ChartKind, ChartOptions, Limits, Statistic, Watch};
/// use spc::points::Point;
/// use spc::rules::{Preset, RuleSet};
/// let rules = RuleSet::Preset(Preset::LimitsOnly);
/// let limits = Limits::given(4.2, 0.1, 3.0);
/// let mut watch = Watch::new(ChartKind::IMr, &limits, None, Some(&rules), &ChartOptions::default()).unwrap();
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

/// A flag of the newest point.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Judged {
    /// The panel it was found in.
    pub panel: Statistic,
    /// Which rule, where, and whether an earlier signal goes on.
    pub flag: Flag,
}

/// What a stretch of points looked like under figures in force.
#[derive(Debug, Clone, PartialEq)]
pub struct Watched {
    /// What each panel plots, and its points, in drawing order.
    pub panels: Vec<(Statistic, Vec<PanelPoint>)>,
    /// Sorted by `at`, then panel, rule, side.
    pub signals: Vec<Signal>,
}

impl Judged {
    /// The signal that begins with this flag.
    pub fn signal(&self) -> Signal {
        let Flag { rule, side, at, from, .. } = self.flag;
        Signal { panel: self.panel, rule, side, at, from, to: at }
    }
}

impl Watch {
    /// A watch at the start of a phase or window, under given limits. `mean_size` is the mean n of
    /// the points, which between and within charts and straight limits rest on; others need none.
    ///
    /// # Errors
    /// When the limits are not given (estimated ones need all their points, and so does a t chart),
    /// a needed `mean_size` is missing, or limits, rules or options are out of their bounds.
    /// Nominals of short runs come with points, so here the caller subtracts them.
    pub fn new(
        chart: ChartKind,
        limits: &Limits,
        mean_size: Option<f64>,
        rules: Option<&RuleSet>,
        options: &ChartOptions,
    ) -> Result<Self, WrongRequest> {
        let LimitsBasis::Given { center, sigma, sigma_between } = limits.basis else {
            return Err(WrongRequest::new("limits.basis", "estimated", Expected::one_of(["given"])));
        };
        limits.check("limits", chart, 0)?;
        options.check(chart, &Points::Counts(vec![]))?;
        if let Some(rules) = rules {
            rules.check("rules")?;
        }
        let between_within = chart == ChartKind::BetweenWithin;
        let sized = mean_size.is_some_and(|size| size > 0.0 && size.is_finite());
        if !sized && (between_within || options.mean_size || mean_size.is_some()) {
            return Err(WrongRequest::new("mean_size", format!("{mean_size:?}"), Expected::POSITIVE));
        }
        let dispersion = dispersion_for(mean_size.map(|size| size.ceil() as usize).into_iter());
        let figures = Estimate { center: Some(center), sigma, sigma_between, mean_size, ..Estimate::default() };
        let (statistics, plot) = visit(chart, dispersion, Begin { figures, limits, options });
        let rules = PanelRules::of(chart, statistics, limits, rules);
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

    /// Plots and judges a stretch of points, none set aside, and gathers what was found in it.
    pub fn follow<'p>(&mut self, points: impl IntoIterator<Item = Point<'p>>) -> Watched {
        let statistics = self.statistics;
        let mut panels: Vec<(Statistic, Vec<PanelPoint>)> =
            statistics.iter().map(|&statistic| (statistic, Vec::new())).collect();
        let mut signals = Signals::default();
        for point in points {
            let place = |of: Statistic| statistics.iter().position(|&statistic| statistic == of).unwrap_or(0);
            self.push(point, false, |judged| signals.flag(place(judged.panel), judged.panel, &judged.flag));
            for (panel, point) in panels.iter_mut().zip(self.newest()) {
                panel.1.push(point);
            }
        }
        Watched { panels, signals: signals.finish() }
    }

    /// Rule windows, sums and averages start afresh with the next point.
    pub fn restart(&mut self) {
        self.plot.restart();
        self.judges.iter_mut().for_each(Judge::restart);
    }

    /// Goes on from where the panels of an EWMA or CUSUM stood after the point before. Other charts
    /// take no notice: they are shown their last points again.
    pub fn resume(&mut self, last: &[PanelPoint]) {
        self.plot.resume(&last.iter().map(Placed::from).collect::<Vec<_>>());
    }
}

struct Begin<'a> {
    figures: Estimate,
    limits: &'a Limits,
    options: &'a ChartOptions,
}

impl Visit for Begin<'_> {
    type Output = (&'static [Statistic], Box<dyn Plot>);

    fn chart(self, chart: impl Chart) -> Self::Output {
        let none = Points::Counts(vec![]);
        let figures = chart.sized(self.figures, Stretch::none(&none));
        (chart.statistics(), Box::new(chart.plot(&figures, self.limits, self.options)))
    }
}
