//! How a placed point is judged: which rules apply to a panel, and what they see of it.

use super::answer::Statistic;
use super::lines::Placed;
use super::panel::Panel;
use super::request::{ChartKind, Limits};
use crate::TIE;
use crate::rules::{Beyond, Flag, Judge, Rule, RuleSet, Tested, WordJudge};

/// Where a phase has no sigma there is no scale to measure ties in; values that differ by less
/// than this share of themselves differ only by rounding.
const ROUNDING: f64 = 1e-12;

/// No chart has more panels.
pub(super) const PANELS_AT_MOST: usize = 3;

/// How one panel of a phase is judged.
#[derive(Debug, Clone)]
pub(super) struct PanelRules {
    /// The rules that apply, each with its place in the set.
    pub rules: Vec<(usize, Rule)>,
    chart: ChartKind,
    /// Constants stand in the first panel alone.
    lower: Option<f64>,
    upper: Option<f64>,
}

impl PanelRules {
    /// For each panel of a chart.
    pub fn of(chart: ChartKind, statistics: &[Statistic], limits: &Limits, rules: Option<&RuleSet>) -> Vec<Self> {
        let of_panel = |(number, statistic): (usize, &Statistic)| Self {
            rules: rules.map_or_else(Vec::new, |rules| applied(chart, *statistic, rules, limits.k)),
            chart,
            lower: limits.lower.filter(|_| number == 0),
            upper: limits.upper.filter(|_| number == 0),
        };
        statistics.iter().enumerate().map(of_panel).collect()
    }

    /// The point as rules see it.
    #[inline]
    pub fn tested(&self, index: usize, placed: &Placed) -> Tested {
        let Placed { value, lines, .. } = *placed;
        let z = placed.z();
        let standardised = z.is_finite() && !self.chart.judged_at_drawn_limits();
        // A CUSUM counts in sigma.
        let scale = if self.chart == ChartKind::Cusum { 1.0 } else { lines.sigma };
        let tie = if scale > 0.0 { TIE * scale } else { ROUNDING * value.abs().max(lines.center.abs()) };
        // A limit that is not there is NaN, beyond which nothing lies.
        let above = |limit: f64| value - limit > tie;
        let below = |limit: f64| limit - value > tie;
        Tested {
            index,
            position: if standardised { z } else { value - lines.center },
            standardised,
            tie: if standardised { TIE } else { tie },
            above_constant: self.upper.map(above),
            below_constant: self.lower.map(below),
            drawn: Beyond { above: above(lines.upper), below: below(lines.lower) },
        }
    }

    /// Judges the points of a panel from `start` up to `end`, where windows start and stop; `found` is
    /// told every flag.
    pub fn judge(&self, panel: &Panel, start: usize, end: usize, mut found: impl FnMut(Flag)) {
        if self.rules.is_empty() {
            return;
        }
        match self.words(panel, start, end) {
            Some(mut words) => {
                for (at, values, lines) in panel.tested_runs(start, end) {
                    words.push_all(at, values, lines.center, lines.sigma, &mut found);
                }
                words.finish(found);
            }
            None => {
                let mut judge = Judge::new(self.rules.iter().copied());
                for (at, placed) in panel.tested(start, end) {
                    judge.push(&self.tested(at, &placed), &mut found);
                }
            }
        }
    }

    /// A judge of words, where all rules fit one and every tested point has a z to be judged by.
    fn words(&self, panel: &Panel, start: usize, end: usize) -> Option<WordJudge> {
        let constants = self.lower.or(self.upper).is_some();
        let by_z = !constants && !self.chart.judged_at_drawn_limits();
        let has_z = |(_, lines): &(usize, super::lines::Lines)| lines.sigma > 0.0 || lines.center.is_nan();
        (by_z && panel.lines(start, end).iter().all(has_z)).then(|| WordJudge::new(&self.rules)).flatten()
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
