//! Judging point after point, each from its window alone, finds what the whole chart finds.

use proptest::prelude::*;
use quality::characteristic::Characteristic;
use quality::judging::{Change, End, Ground, Judgement, Lies, StandingSignal, judge_window, reach, reconcile};
use quality::place::{Place, points, where_so};
use quality::sample::Plotted;
use quality::scheme::Schemes;
use spc::chart::{
    ChartAnswer, ChartKind, ChartRequest, Figures, Limits, LimitsBasis, Signal, Statistic, Watched, compute,
};
use spc::rules::{Preset, Rule, RuleSet, Side};
use uuid::Uuid;

use crate::common::wall_thickness;

const FIGURES: Figures = Figures::new(0.0, 1.0);

fn measured(values: Vec<f64>) -> Place {
    Place::of(Plotted::Values(values))
}

/// One scheme for all places, and another just like it, which is a restart where it begins.
fn schemes(characteristic: &Characteristic) -> Schemes {
    Schemes::new(vec![(chrono::DateTime::UNIX_EPOCH, characteristic.scheme())], characteristic.scheme())
}

fn individuals(preset: Preset) -> Characteristic {
    Characteristic { chart: ChartKind::IMr, subgroup_size: 1, rule_set: RuleSet::Preset(preset), ..wall_thickness() }
}

/// Signals of a series in places of the whole series, kept up as a store would.
#[derive(Debug, Clone, PartialEq)]
struct Kept {
    id: Uuid,
    finding: Signal,
    reviewed: bool,
    withdrawn: bool,
}

/// The window of the point at `changed`, wide enough to judge it: from where, to where, and its chart.
fn window(characteristic: &Characteristic, series: &[Place], changed: usize) -> (usize, usize, Watched) {
    let schemes = schemes(characteristic);
    let ground = Ground { figures: Some(FIGURES), schemes: &schemes };
    let mut wide = schemes.usual_reach();
    loop {
        // Gaps are looked past, so the window reaches so many points with values.
        let edge = |places: &mut dyn Iterator<Item = usize>| {
            places.filter(|&i| !series[i].plotted.point().is_gap()).nth(wide - 1)
        };
        let first = edge(&mut (0..changed).rev());
        let end = edge(&mut (changed + 1..series.len()));
        let (from, to) = (first.unwrap_or(0), end.map_or(series.len(), |i| i + 1));
        let places: Vec<&Place> = series[from..to].iter().collect();
        let chart = judge_window(&ground, &places, None).unwrap();
        let reach = reach(&schemes, &places, &chart, changed - from, changed - from);
        if (reach.back || first.is_none()) && (reach.ahead || end.is_none()) {
            return (from, to, chart);
        }
        wide *= 2;
    }
}

/// Judges the sample at `changed` from its window and applies the changes to `kept`.
fn save(characteristic: &Characteristic, series: &[Place], changed: usize, kept: &mut Vec<Kept>) {
    let (first, end, chart) = window(characteristic, series, changed);
    let place = |i: usize| {
        if i < first {
            Lies::Before
        } else if i >= end {
            Lies::After
        } else {
            Lies::At(i - first)
        }
    };
    let standing: Vec<StandingSignal> = kept
        .iter()
        .map(|s| StandingSignal {
            id: s.id,
            panel: s.finding.panel,
            rule: s.finding.rule,
            side: s.finding.side,
            from: place(s.finding.from),
            at: place(s.finding.at),
            to: place(s.finding.to),
            reviewed: s.reviewed,
            withdrawn: s.withdrawn,
        })
        .collect();
    let ends: Vec<(Uuid, usize)> = kept.iter().map(|s| (s.id, s.finding.to)).collect();
    let end_of = |end: End| match end {
        End::At(i) => i + first,
        End::Of(id) => ends.iter().find(|(of, _)| *of == id).unwrap().1,
    };
    let places: Vec<&Place> = series[first..end].iter().collect();
    let judgement =
        Judgement { window: &chart, places: &places, changed: changed - first, ends_here: end == series.len() };
    for change in reconcile(&judgement, &standing) {
        let find = |kept: &mut Vec<Kept>, id| kept.iter().position(|s| s.id == id).unwrap();
        match change {
            Change::Raise { finding, end } => kept.push(Kept {
                id: Uuid::from_u128(kept.len() as u128 + 1),
                finding: Signal { at: finding.at + first, from: finding.from + first, to: end_of(end), ..finding },
                reviewed: false,
                withdrawn: false,
            }),
            Change::Grow { signal, end } => {
                let i = find(kept, signal);
                kept[i].finding.to = end_of(end);
            }
            Change::Reshape { signal, start, end } => {
                let i = find(kept, signal);
                kept[i].finding.to = end.map_or(kept[i].finding.to, end_of);
                if let Some((from, at)) = start {
                    (kept[i].finding.from, kept[i].finding.at) = (from + first, at + first);
                }
            }
            Change::TakeUp { signal, start: (from, at), end } => {
                let i = find(kept, signal);
                kept[i].withdrawn = false;
                kept[i].finding = Signal { from: from + first, at: at + first, to: end_of(end), ..kept[i].finding };
            }
            Change::Withdraw { signal, .. } => {
                let i = find(kept, signal);
                kept[i].withdrawn = true;
            }
        }
    }
}

fn one_by_one(characteristic: &Characteristic, series: &[Place]) -> Vec<Kept> {
    let mut kept = Vec::new();
    for last in 0..series.len() {
        save(characteristic, &series[..=last], last, &mut kept);
    }
    kept
}

type Plain = (usize, usize, usize, Statistic, String, Option<Side>);

fn plain(f: &Signal) -> Plain {
    (f.at, f.from, f.to, f.panel, format!("{:?}", f.rule), f.side)
}

fn whole(characteristic: &Characteristic, series: &[Place]) -> ChartAnswer {
    let mut restarts = where_so(series, |place| place.restart);
    restarts.extend(series.iter().position(|place| place.scheme == 1));
    let request = ChartRequest {
        limits: vec![Limits { basis: LimitsBasis::Given(FIGURES), k: 3.0 }],
        rules: Some(characteristic.rule_set.clone()),
        excluded: where_so(series, |place| place.aside),
        restarts,
        ..ChartRequest::new(characteristic.chart, points(characteristic.kind, series))
    };
    compute(&request).unwrap()
}

fn on_the_whole_chart(characteristic: &Characteristic, series: &[Place]) -> Vec<Plain> {
    let mut all: Vec<Plain> = whole(characteristic, series).signals.iter().map(plain).collect();
    all.sort();
    all
}

fn sorted(kept: &[Kept]) -> Vec<Plain> {
    let mut all: Vec<Plain> = kept.iter().filter(|s| !s.withdrawn).map(|s| plain(&s.finding)).collect();
    all.sort();
    all
}

fn singles(values: &[f64]) -> Vec<Place> {
    values.iter().map(|&x| measured(vec![x])).collect()
}

proptest! {
    /// Steps of half a sigma make ties, long runs and signals frequent.
    #[test]
    fn point_after_point_equals_the_whole_chart(
        halves in prop::collection::vec(-8i32..=8, 1..80),
        nelson in any::<bool>(),
    ) {
        let series: Vec<Place> = halves.iter().map(|&h| measured(vec![f64::from(h) / 2.0])).collect();
        let characteristic = individuals(if nelson { Preset::Nelson } else { Preset::WesternElectric });
        let kept = one_by_one(&characteristic, &series);
        prop_assert!(kept.iter().all(|s| !s.withdrawn));
        prop_assert_eq!(sorted(&kept), on_the_whole_chart(&characteristic, &series));
    }

    #[test]
    fn subgroups_point_after_point_equal_the_whole_chart(
        halves in prop::collection::vec((-6i32..=6, 0i32..=8), 1..60),
    ) {
        let series: Vec<Place> =
            halves.iter().map(|&(h, spread)| measured(vec![f64::from(h) / 2.0, f64::from(h + spread) / 2.0])).collect();
        let characteristic = Characteristic { subgroup_size: 2, ..wall_thickness() };
        let kept = one_by_one(&characteristic, &series);
        prop_assert_eq!(sorted(&kept), on_the_whole_chart(&characteristic, &series));
    }
}

/// What can happen to a series.
#[derive(Debug, Clone)]
enum Step {
    /// A sample or a gap is saved, at the end or late.
    Save(Option<prop::sample::Index>, Option<i32>),
    /// A sample is corrected or withdrawn.
    Change(prop::sample::Index, Option<i32>),
    /// A signal is reviewed.
    Review(prop::sample::Index),
    /// A sample is set aside, or taken back.
    Aside(prop::sample::Index),
    /// Rules start afresh at a sample, or do so no more.
    Restart(prop::sample::Index),
}

fn step() -> impl Strategy<Value = Step> {
    // Values mostly on one side, and gaps in series, make long patterns that are then cut and joined.
    let value = || prop_oneof![4 => (1i32..=4).prop_map(Some), 2 => (-8i32..=8).prop_map(Some), 1 => Just(None)];
    let place = any::<prop::sample::Index>;
    prop_oneof![
        12 => (Just(None), value()).prop_map(|(at, value)| Step::Save(at, value)),
        2 => (place().prop_map(Some), value()).prop_map(|(at, value)| Step::Save(at, value)),
        4 => (place(), value()).prop_map(|(at, value)| Step::Change(at, value)),
        1 => place().prop_map(Step::Review),
        2 => place().prop_map(Step::Aside),
        1 => place().prop_map(Step::Restart),
    ]
}

fn starts_afresh(series: &[Place], i: usize) -> bool {
    series[i].restart || i > 0 && series[i].scheme != series[i - 1].scheme
}

/// The findings of the whole chart without the points that a reviewed signal covers.
fn not_reviewed(characteristic: &Characteristic, series: &[Place], kept: &[Kept]) -> Vec<Plain> {
    let chart = whole(characteristic, series);
    let same = |a: &Signal, b: &Signal| (a.panel, a.rule, a.side) == (b.panel, b.rule, b.side);
    let mut all = Vec::new();
    for f in &chart.signals {
        let panel = chart.panels.iter().find(|panel| panel.statistic == f.panel).unwrap();
        let restart = (0..=f.at).rev().find(|&i| starts_afresh(series, i)).unwrap_or(0);
        let tested: Vec<usize> = (restart..series.len()).filter(|&i| panel.point(i).tested).collect();
        let covered = |i: usize| {
            let covers = |s: &&Kept| same(&s.finding, f) && s.finding.at <= i && i <= s.finding.to;
            kept.iter().filter(|s| s.reviewed && !s.withdrawn).any(|s| covers(&s))
        };
        let mut goes_on = false;
        for (n, &i) in tested.iter().enumerate().filter(|(_, i)| f.at <= **i && **i <= f.to) {
            if covered(i) {
                goes_on = false;
            } else if goes_on {
                let last: &mut Signal = all.last_mut().unwrap();
                last.to = i;
            } else {
                all.push(Signal { from: tested[(n + 1).saturating_sub(f.rule.window())], at: i, to: i, ..*f });
                goes_on = true;
            }
        }
    }
    let mut all: Vec<Plain> = all.iter().map(plain).collect();
    all.sort();
    all
}

fn take(characteristic: &Characteristic, step: &Step, series: &mut Vec<Place>, kept: &mut Vec<Kept>) {
    let values = |value: &Option<i32>| value.map(|h| f64::from(h) / 2.0).into_iter().collect::<Vec<_>>();
    match step {
        Step::Save(at, value) => {
            let at = at.map_or(series.len(), |at| at.index(series.len() + 1));
            // The second scheme holds from the twentieth sample on, and from there on it stays.
            let scheme = if at == series.len() { usize::from(at >= 20) } else { series[at].scheme };
            series.insert(at, Place { scheme, ..measured(values(value)) });
            for place in kept.iter_mut().flat_map(|s| [&mut s.finding.from, &mut s.finding.at, &mut s.finding.to]) {
                *place += usize::from(*place >= at);
            }
            save(characteristic, series, at, kept);
        }
        Step::Change(at, value) if !series.is_empty() => {
            let at = at.index(series.len());
            series[at].plotted = Plotted::Values(values(value));
            save(characteristic, series, at, kept);
        }
        Step::Aside(at) if !series.is_empty() => {
            let at = at.index(series.len());
            series[at].aside = !series[at].aside;
            save(characteristic, series, at, kept);
        }
        Step::Restart(at) if !series.is_empty() => {
            let at = at.index(series.len());
            series[at].restart = !series[at].restart;
            save(characteristic, series, at, kept);
        }
        Step::Review(at) if kept.iter().any(|s| !s.withdrawn) => {
            let standing: Vec<usize> = (0..kept.len()).filter(|&i| !kept[i].withdrawn).collect();
            kept[*at.get(&standing)].reviewed = true;
        }
        _ => {}
    }
}

proptest! {
    /// Whatever is saved, skipped, corrected, withdrawn or reviewed: what stands is what one judgement of
    /// the whole finds, less what was reviewed.
    #[test]
    fn whatever_happens_the_whole_chart_stands(
        steps in prop::collection::vec(step(), 1..120),
        nelson in any::<bool>(),
    ) {
        let characteristic = individuals(if nelson { Preset::Nelson } else { Preset::WesternElectric });
        let (mut series, mut kept) = (Vec::new(), Vec::new());
        for step in &steps {
            take(&characteristic, step, &mut series, &mut kept);
            if series.is_empty() {
                continue;
            }
            let open: Vec<Kept> = kept.iter().filter(|s| !s.reviewed).cloned().collect();
            prop_assert_eq!(sorted(&open), not_reviewed(&characteristic, &series, &kept));
        }
    }
}

/// The signals of the panel of single values; the moving ranges of a quiet run have their own.
fn of_values(kept: &[Kept]) -> Vec<&Kept> {
    kept.iter().filter(|s| s.finding.panel == Statistic::Individual).collect()
}

const RUN: &[f64] = &[0.5, 0.4, 0.5, 0.3, 0.5, 0.4, 0.5, 0.3, 0.4, 0.5];

#[test]
fn while_a_run_goes_on_its_signal_grows() {
    let kept = one_by_one(&individuals(Preset::WesternElectric), &singles(RUN));
    let kept = of_values(&kept);
    assert_eq!(kept.len(), 1);
    let f = kept[0].finding;
    assert_eq!((f.rule, f.side, f.from, f.at, f.to), (Rule::OneSide { n: 8 }, Some(Side::Above), 0, 7, 9));
}

#[test]
fn after_its_review_a_run_that_goes_on_is_a_new_signal_and_that_one_grows() {
    let characteristic = individuals(Preset::WesternElectric);
    let mut kept = one_by_one(&characteristic, &singles(&RUN[..8]));
    kept[0].reviewed = true;
    save(&characteristic, &singles(&RUN[..9]), 8, &mut kept);
    save(&characteristic, &singles(RUN), 9, &mut kept);
    let spans: Vec<_> = of_values(&kept).iter().map(|s| (s.finding.from, s.finding.at, s.finding.to)).collect();
    assert_eq!(spans, [(0, 7, 7), (1, 8, 9)]);
}

#[test]
fn a_late_sample_that_breaks_a_run_withdraws_its_signal() {
    let characteristic = individuals(Preset::WesternElectric);
    let mut kept = one_by_one(&characteristic, &singles(&RUN[..8]));
    let mut broken = RUN[..8].to_vec();
    broken.insert(4, -0.5);
    for signal in &mut kept {
        (signal.finding.at, signal.finding.to) = (signal.finding.at + 1, signal.finding.to + 1);
    }
    save(&characteristic, &singles(&broken), 4, &mut kept);
    let kept = of_values(&kept);
    assert_eq!(kept.len(), 1);
    assert!(kept[0].withdrawn);
}

#[test]
fn every_point_beyond_a_limit_is_its_own_signal() {
    let kept = one_by_one(&individuals(Preset::LimitsOnly), &singles(&[0.0, 3.5, 3.6, 0.5]));
    let places: Vec<_> = of_values(&kept).iter().map(|s| s.finding.at).collect();
    assert_eq!(places, [1, 2]);
}

/// What was withdrawn because a point was set aside is the same signal when the point is taken back.
#[test]
fn taking_a_point_back_takes_its_signals_up_again() {
    let characteristic = individuals(Preset::WesternElectric);
    let mut series = singles(RUN);
    let mut kept = one_by_one(&characteristic, &series);
    let first_state = kept.clone();
    for aside in [true, false] {
        for at in [3, 9] {
            series[at].aside = aside;
            save(&characteristic, &series, at, &mut kept);
        }
        assert!(!of_values(&kept)[0].withdrawn, "eight are left");
        series[1].aside = aside;
        save(&characteristic, &series, 1, &mut kept);
        assert_eq!(of_values(&kept)[0].withdrawn, aside);
    }
    assert_eq!(kept, first_state);
}

#[test]
fn a_restart_parts_a_run_and_keeps_moving_ranges() {
    let characteristic = individuals(Preset::WesternElectric);
    let mut series = singles(&[RUN, RUN].concat());
    series[10].restart = true;
    let kept = one_by_one(&characteristic, &series);
    let spans: Vec<_> = of_values(&kept).iter().map(|s| (s.finding.from, s.finding.at, s.finding.to)).collect();
    assert_eq!(spans, [(0, 7, 9), (10, 17, 19)]);
    let (first, _, chart) = window(&characteristic, &series, 10);
    assert!((chart.panels[1].1[10 - first].value.get().unwrap()).abs() < 1e-9, "0.5 after 0.5");
}
