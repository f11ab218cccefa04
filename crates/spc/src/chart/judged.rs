//! How a placed point is judged: which rules apply to a panel, and what they see of it.

use std::ops::Range;

use super::figures::Figures;
use super::lines::{Lines, Placed};
use super::panel::Panel;
use super::request::ChartKind;
use super::statistic::Statistic;
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
    pub fn of(
        chart: ChartKind,
        statistics: &[Statistic],
        figures: &Figures,
        k: f64,
        rules: Option<&RuleSet>,
    ) -> Vec<Self> {
        let of_panel = |(number, statistic): (usize, &Statistic)| Self {
            rules: rules.map_or_else(Vec::new, |rules| applied(chart, *statistic, rules, k)),
            chart,
            lower: figures.lower.filter(|_| number == 0),
            upper: figures.upper.filter(|_| number == 0),
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

    /// Begins to judge a panel where rule windows start.
    pub fn begin(&self) -> PanelJudge<'_> {
        PanelJudge { rules: self, judge: None }
    }

    /// The judge of a phase whose first tested point has these lines. Within a phase either all tested
    /// points have a z or none has, and words need one.
    fn judge_for(&self, lines: &Lines) -> PointsJudge {
        let constants = self.lower.or(self.upper).is_some();
        let by_z = lines.sigma > 0.0 && !constants && !self.chart.judged_at_drawn_limits();
        match by_z.then(|| WordJudge::new(&self.rules)).flatten() {
            Some(words) => PointsJudge::Words(Box::new(words)),
            None => PointsJudge::OneByOne(Box::new(Judge::new(self.rules.iter().copied()))),
        }
    }
}

/// Judges a panel of a whole chart, some points at a time.
pub(super) struct PanelJudge<'a> {
    rules: &'a PanelRules,
    judge: Option<PointsJudge>,
}

enum PointsJudge {
    Words(Box<WordJudge>),
    OneByOne(Box<Judge>),
}

impl PanelJudge<'_> {
    /// Judges the next points of a panel; flags may come later.
    pub fn judge(&mut self, panel: &Panel, points: Range<usize>, mut found: impl FnMut(Flag)) {
        if self.rules.rules.is_empty() {
            return;
        }
        let Some((_, _, lines)) = panel.tested_runs(points.clone()).next() else { return };
        let judge = self.judge.get_or_insert_with(|| self.rules.judge_for(&lines));
        match judge {
            PointsJudge::Words(words) => {
                for (at, values, lines) in panel.tested_runs(points) {
                    words.push_all(at, values, lines.center, lines.sigma, &mut found);
                }
            }
            PointsJudge::OneByOne(judge) => {
                for (at, placed) in panel.tested(points) {
                    judge.push(&self.rules.tested(at, &placed), &mut found);
                }
            }
        }
    }

    /// The first point whose flags may still come.
    pub fn untold(&self) -> Option<usize> {
        match &self.judge {
            Some(PointsJudge::Words(words)) => words.untold(),
            _ => None,
        }
    }

    /// Windows end here.
    pub fn finish(&mut self, found: impl FnMut(Flag)) {
        match &mut self.judge {
            Some(PointsJudge::Words(words)) => words.finish(found),
            Some(PointsJudge::OneByOne(judge)) => judge.restart(),
            None => {}
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
        .filter(|(_, listed)| listed.looks_at(statistic.is_dispersion()))
        .map(|(place, listed)| (place, listed.rule))
        .filter(|(_, rule)| match rule {
            Rule::Beyond { .. } => !(chart.judged_at_drawn_limits() && std::mem::replace(&mut drawn, true)),
            _ if limits_alone => false,
            rule => statistic.is_location() || rule.suits_dispersion(),
        })
        .collect()
}
