//! Runs the rules over the panels: marks flagged points and collects the signals.

use std::collections::HashSet;

use super::answer::{ChartAnswer, Panel, PanelPoint, Phase, Signal, Statistic};
use super::request::{ChartRequest, Limits};
use crate::TIE;
use crate::rules::{Beyond, Judge, Rule, RuleSet, Tested, merge};

/// Where a phase has no sigma there is no scale to measure ties in; values that differ by less
/// than this share of themselves differ only by rounding.
const ROUNDING: f64 = 1e-12;

/// The points of one panel that are tested, and where rule windows start afresh.
struct Series<'a> {
    request: &'a ChartRequest,
    /// Phase of each point.
    phase: Vec<usize>,
    tested: Vec<bool>,
    fresh: Vec<bool>,
}

pub(super) fn judge(request: &ChartRequest, phases: Vec<Phase>, mut panels: Vec<Panel>) -> ChartAnswer {
    let Some(rules) = &request.rules else {
        return ChartAnswer { panels, phases, signals: vec![] };
    };
    let count = request.points.len();
    let mut phase = Vec::with_capacity(count);
    let mut fresh = vec![false; count];
    for (number, p) in phases.iter().enumerate() {
        phase.extend(std::iter::repeat_n(number, p.end + 1 - p.start));
        fresh[p.start] = true;
    }
    for &i in &request.restarts {
        fresh[i] = true;
    }
    let excluded: HashSet<usize> = request.excluded.iter().copied().collect();
    let mut found: Vec<(usize, usize, Signal)> = Vec::new();
    for (place, panel) in panels.iter_mut().enumerate() {
        let tested = touched_by(&excluded, panel.statistic, count, request.options.span);
        let series = Series { request, phase: phase.clone(), tested, fresh: fresh.clone() };
        found.extend(judge_panel(&series, rules, panel).into_iter().map(|(rule, signal)| (place, rule, signal)));
    }
    found.sort_by_key(|(place, rule, signal)| (signal.at, *place, *rule, signal.side));
    ChartAnswer { panels, phases, signals: found.into_iter().map(|(_, _, signal)| signal).collect() }
}

/// Points that may be tested: not set aside, and for moving ranges not touching such a point.
fn touched_by(excluded: &HashSet<usize>, statistic: Statistic, count: usize, span: usize) -> Vec<bool> {
    let reach = if statistic == Statistic::MovingRange { span } else { 1 };
    let mut tested = vec![true; count];
    for &i in excluded {
        for flag in tested.iter_mut().skip(i).take(reach) {
            *flag = false;
        }
    }
    tested
}

fn judge_panel(series: &Series, rules: &RuleSet, panel: &mut Panel) -> Vec<(usize, Signal)> {
    let location = panel.statistic.is_location();
    // The rules of the first phase name the kinds; each phase's own k is put in below.
    let applied: Vec<(usize, Rule)> = rules
        .rules(series.request.limits[0].k)
        .into_iter()
        .enumerate()
        .filter(|(_, rule)| location || rule.suits_dispersion())
        .collect();
    let mut flags = Vec::new();
    let mut previous_tested = vec![None; panel.points.len()];
    let mut previous = None;
    let mut judge = Judge::new(&[]);
    for (i, point) in panel.points.iter().enumerate() {
        if series.request.phases.get(series.phase[i]) == Some(&i) {
            judge = Judge::new(&rules_of_phase(&applied, rules, &series.request.limits[series.phase[i]]));
        }
        if series.fresh[i] {
            judge.restart();
            previous = None;
        }
        let limits = &series.request.limits[series.phase[i]];
        if let Some(tested) = tested_point(i, point, limits, location).filter(|_| series.tested[i]) {
            judge.push(&tested, |flag| flags.push(flag));
            previous_tested[i] = previous;
            previous = Some(i);
        }
    }
    for flag in &flags {
        panel.points[flag.at].flagged = true;
    }
    let single = |rule: usize| matches!(applied[rule].1, Rule::Beyond { .. });
    merge(&flags, |a, b| previous_tested[b] == Some(a), single)
        .into_iter()
        .map(|run| {
            let limits = &series.request.limits[series.phase[run.at]];
            let rule = rules_of_phase(&applied, rules, limits)[run.rule];
            let signal =
                Signal { panel: panel.statistic, rule, side: run.side, at: run.at, from: run.from, to: run.to };
            (applied[run.rule].0, signal)
        })
        .collect()
}

/// A preset's `beyond` means beyond the drawn limits, so it takes their k.
fn rules_of_phase(applied: &[(usize, Rule)], rules: &RuleSet, limits: &Limits) -> Vec<Rule> {
    applied
        .iter()
        .map(|(_, rule)| match (rules, rule) {
            (RuleSet::Preset(_), Rule::Beyond { .. }) => Rule::Beyond { k: limits.k },
            _ => *rule,
        })
        .collect()
}

/// The point as rules see it; `None` when it has no statistic or no centre.
fn tested_point(index: usize, point: &PanelPoint, limits: &Limits, location: bool) -> Option<Tested> {
    let (value, center) = (point.value?, point.center?);
    let tie = match point.z {
        Some(_) => TIE,
        None => ROUNDING * value.abs().max(center.abs()),
    };
    let tie_in_units = match (point.z, point.sigma) {
        (Some(_), Some(sigma)) => TIE * sigma,
        _ => tie,
    };
    let above = |limit: f64| value - limit > tie_in_units;
    let below = |limit: f64| limit - value > tie_in_units;
    Some(Tested {
        index,
        position: point.z.unwrap_or(value - center),
        standardised: point.z.is_some(),
        tie,
        above_constant: limits.upper.filter(|_| location).map(above),
        below_constant: limits.lower.filter(|_| location).map(below),
        drawn: Beyond { above: point.upper.is_some_and(above), below: point.lower.is_some_and(below) },
    })
}
