//! Plots and judges one point after another. Batch and incremental charts are both made of this, so
//! that what a technician sees while typing is what the whole chart says later.

use super::answer::{PanelPoint, Signal, Statistic};
use super::plot::Plot;
use super::request::{ChartKind, Limits};
use crate::TIE;
use crate::points::Point;
use crate::rules::{Beyond, Flag, Judge, Rule, RuleSet, Side, Tested};

/// Where a phase has no sigma there is no scale to measure ties in; values that differ by less
/// than this share of themselves differ only by rounding.
const ROUNDING: f64 = 1e-12;

/// No chart has more panels.
pub(super) const PANELS_AT_MOST: usize = 3;

/// One phase under way.
pub(super) struct Monitor<P> {
    plot: P,
    judges: Vec<Judge>,
    limits: Limits,
    chart: ChartKind,
    /// What ties are measured in where a point has no sigma of its own: a CUSUM counts in sigma.
    unit: Option<f64>,
}

impl<P: Plot> Monitor<P> {
    pub fn new(chart: ChartKind, statistics: &[Statistic], plot: P, limits: &Limits, rules: Option<&RuleSet>) -> Self {
        let judge = |statistic: &Statistic| {
            Judge::new(rules.map_or_else(Vec::new, |rules| applied(chart, *statistic, rules, limits.k)))
        };
        let unit = (chart == ChartKind::Cusum).then_some(1.0);
        Self { plot, judges: statistics.iter().map(judge).collect(), limits: *limits, chart, unit }
    }

    pub fn restart(&mut self) {
        self.plot.restart();
        self.judges.iter_mut().for_each(Judge::restart);
    }

    pub fn resume(&mut self, last: &[PanelPoint]) {
        self.plot.resume(last);
    }

    /// Plots and judges the next point; `found` is told the panel of each flag.
    #[inline]
    pub fn push(
        &mut self,
        index: usize,
        point: Point,
        aside: bool,
        panels: &mut [PanelPoint],
        mut found: impl FnMut(usize, Flag),
    ) {
        self.plot.plot(point, aside, panels);
        for (number, (judge, plotted)) in self.judges.iter_mut().zip(panels).enumerate() {
            if plotted.tested {
                // Constants stand in the first panel alone.
                let constants = (number == 0).then_some(&self.limits);
                let at_drawn_limits = self.chart.judged_at_drawn_limits();
                judge.push(&tested(index, plotted, constants, at_drawn_limits, self.unit), |flag| {
                    plotted.flagged = true;
                    found(number, flag);
                });
            }
        }
    }
}

/// The rules of a set that apply to a panel, each with its place in the set.
fn applied(chart: ChartKind, statistic: Statistic, rules: &RuleSet, k: f64) -> Vec<(usize, Rule)> {
    let limits_alone = matches!(statistic, Statistic::Ewma | Statistic::CusumUp | Statistic::CusumDown);
    let mut drawn = false;
    rules
        .rules(k)
        .into_iter()
        .enumerate()
        .filter(|(_, rule)| match rule {
            Rule::Beyond { .. } => !(chart.judged_at_drawn_limits() && std::mem::replace(&mut drawn, true)),
            _ if limits_alone => false,
            rule => statistic.is_location() || rule.suits_dispersion(),
        })
        .collect()
}

/// The point as rules see it.
#[inline]
fn tested(
    index: usize,
    point: &PanelPoint,
    constants: Option<&Limits>,
    at_drawn_limits: bool,
    unit: Option<f64>,
) -> Tested {
    let (value, center, z) = (point.value.raw(), point.center.raw(), point.z.raw());
    let standardised = !z.is_nan() && !at_drawn_limits;
    let tie_of_values = || match point.sigma.get().or(unit) {
        Some(sigma) if sigma > 0.0 => TIE * sigma,
        _ => ROUNDING * value.abs().max(center.abs()),
    };
    let mut seen = Tested {
        index,
        position: z,
        standardised,
        tie: TIE,
        above_constant: None,
        below_constant: None,
        drawn: Beyond::default(),
    };
    if !standardised {
        let tie = tie_of_values();
        (seen.position, seen.tie) = (value - center, tie);
        // A limit that is not there is NaN, beyond which nothing lies.
        seen.drawn = Beyond { above: value - point.upper.raw() > tie, below: point.lower.raw() - value > tie };
    }
    if let Some(limits) = constants {
        seen.above_constant = limits.upper.map(|limit| value - limit > tie_of_values());
        seen.below_constant = limits.lower.map(|limit| limit - value > tie_of_values());
    }
    seen
}

/// Panel, place of the rule, side.
type Key = (usize, usize, Option<Side>);

/// Gathers flags into signals.
#[derive(Debug, Default)]
pub(super) struct Signals {
    /// Panel and place of the rule beside each signal, by which they are sorted at last.
    found: Vec<(usize, usize, Signal)>,
    /// The signal that each rule of each panel last flagged on each side.
    going: Vec<(Key, usize)>,
}

impl Signals {
    pub fn flag(&mut self, panel: usize, statistic: Statistic, flag: &Flag) {
        let key = (panel, flag.place, flag.side);
        let going = self.going.iter_mut().find(|(of, _)| *of == key);
        match going {
            Some((_, signal)) if flag.goes_on => {
                self.found[*signal].2.to = flag.at;
                return;
            }
            Some((_, signal)) => *signal = self.found.len(),
            None => self.going.push((key, self.found.len())),
        }
        let Flag { rule, side, at, from, .. } = *flag;
        self.found.push((panel, flag.place, Signal { panel: statistic, rule, side, at, from, to: at }));
    }

    /// Sorted by `at`, then panel, rule, side.
    pub fn finish(mut self) -> Vec<Signal> {
        self.found.sort_unstable_by_key(|(panel, place, signal)| (signal.at, *panel, *place, signal.side));
        self.found.into_iter().map(|(_, _, signal)| signal).collect()
    }
}
