//! Judging point after point, each from its window alone, finds what the whole chart finds.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod common;

use common::wall_thickness;
use proptest::prelude::*;
use quality::characteristic::Characteristic;
use quality::judging::{Change, Place, Standing, judge_window, reconcile};
use quality::limits::Figures;
use spc::chart::{ChartKind, ChartRequest, Signal, Statistic, compute};
use spc::points::Point;
use spc::rules::{Preset, Rule, RuleSet, Side};
use uuid::Uuid;

const FIGURES: Figures = Figures { center: 0.0, sigma: Some(1.0), k: 3.0 };

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

/// Judges the sample at `changed` from its window and applies the changes to `kept`.
fn save(characteristic: &Characteristic, series: &[Vec<f64>], changed: usize, kept: &mut Vec<Kept>) {
    // Gaps are looked past, so the window reaches so many points with values.
    let reach = |places: &mut dyn Iterator<Item = usize>, points: usize| {
        places.filter(|&i| !series[i].is_empty()).nth(points - 1)
    };
    let first = reach(&mut (0..changed).rev(), characteristic.look_back()).unwrap_or(0);
    let end = reach(&mut (changed + 1..series.len()), characteristic.look_ahead()).map_or(series.len(), |i| i + 1);
    let place = |i: usize| {
        if i < first {
            Place::Before
        } else if i >= end {
            Place::After
        } else {
            Place::At(i - first)
        }
    };
    let standing: Vec<Standing> = kept
        .iter()
        .filter(|s| !s.withdrawn)
        .map(|s| Standing {
            id: s.id,
            panel: s.finding.panel,
            rule: s.finding.rule,
            side: s.finding.side,
            at: place(s.finding.at),
            to: place(s.finding.to),
            reviewed: s.reviewed,
        })
        .collect();
    let window = series[first..end].iter().map(|values| Point::Values(values));
    let chart = judge_window(characteristic, &FIGURES, window).unwrap();
    for change in reconcile(&chart, changed - first, &standing) {
        let find = |kept: &mut Vec<Kept>, id| kept.iter().position(|s| s.id == id).unwrap();
        match change {
            Change::Raise(f) => kept.push(Kept {
                id: Uuid::from_u128(kept.len() as u128 + 1),
                finding: Signal { at: f.at + first, from: f.from + first, to: f.to + first, ..f },
                reviewed: false,
                withdrawn: false,
            }),
            Change::Grow { signal, to } => {
                let i = find(kept, signal);
                kept[i].finding.to = to + first;
            }
            Change::Reshape { signal, start, to } => {
                let i = find(kept, signal);
                kept[i].finding.to = to.map_or(kept[i].finding.to, |to| to + first);
                if let Some((from, at)) = start {
                    (kept[i].finding.from, kept[i].finding.at) = (from + first, at + first);
                }
            }
            Change::Split { signal, to, rest } => {
                let i = find(kept, signal);
                let end = std::mem::replace(&mut kept[i].finding.to, to + first);
                let id = Uuid::from_u128(kept.len() as u128 + 1);
                let finding = Signal { at: rest.at + first, from: rest.from + first, to: end, ..rest };
                kept.push(Kept { id, finding, reviewed: false, withdrawn: false });
            }
            Change::Withdraw { signal } => {
                let i = find(kept, signal);
                kept[i].withdrawn = true;
            }
        }
    }
}

fn one_by_one(characteristic: &Characteristic, series: &[Vec<f64>]) -> Vec<Kept> {
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

fn on_the_whole_chart(characteristic: &Characteristic, series: &[Vec<f64>]) -> Vec<Plain> {
    let request = ChartRequest {
        limits: vec![FIGURES.as_given()],
        rules: Some(characteristic.rule_set.clone()),
        ..ChartRequest::new(characteristic.chart, series.to_vec())
    };
    let chart = compute(&request).unwrap();
    let mut all: Vec<Plain> = chart.signals.iter().map(plain).collect();
    all.sort();
    all
}

fn sorted(kept: &[Kept]) -> Vec<Plain> {
    let mut all: Vec<Plain> = kept.iter().filter(|s| !s.withdrawn).map(|s| plain(&s.finding)).collect();
    all.sort();
    all
}

fn singles(values: &[f64]) -> Vec<Vec<f64>> {
    values.iter().map(|&x| vec![x]).collect()
}

proptest! {
    /// Steps of half a sigma make ties, long runs and signals frequent.
    #[test]
    fn point_after_point_equals_the_whole_chart(
        halves in prop::collection::vec(-8i32..=8, 1..80),
        nelson in any::<bool>(),
    ) {
        let series: Vec<Vec<f64>> = halves.iter().map(|&h| vec![f64::from(h) / 2.0]).collect();
        let characteristic = individuals(if nelson { Preset::Nelson } else { Preset::WesternElectric });
        let kept = one_by_one(&characteristic, &series);
        prop_assert!(kept.iter().all(|s| !s.withdrawn));
        prop_assert_eq!(sorted(&kept), on_the_whole_chart(&characteristic, &series));
    }

    #[test]
    fn subgroups_point_after_point_equal_the_whole_chart(
        halves in prop::collection::vec((-6i32..=6, 0i32..=8), 1..60),
    ) {
        let series: Vec<Vec<f64>> =
            halves.iter().map(|&(h, spread)| vec![f64::from(h) / 2.0, f64::from(h + spread) / 2.0]).collect();
        let characteristic = Characteristic { subgroup_size: 2, ..wall_thickness() };
        let kept = one_by_one(&characteristic, &series);
        prop_assert_eq!(sorted(&kept), on_the_whole_chart(&characteristic, &series));
    }

    /// Points beyond limits have no memory, so even late samples must give the whole chart's answer.
    #[test]
    fn late_samples_leave_limit_signals_as_on_the_whole_chart(
        halves in prop::collection::vec(-8i32..=8, 2..30),
        place in any::<prop::sample::Index>(),
    ) {
        let all: Vec<f64> = halves.iter().map(|&h| f64::from(h) / 2.0).collect();
        let late = place.index(all.len() - 1);
        let characteristic = individuals(Preset::LimitsOnly);
        let mut without = all.clone();
        without.remove(late);
        let mut kept = one_by_one(&characteristic, &singles(&without));
        for s in &mut kept {
            for i in [&mut s.finding.at, &mut s.finding.from, &mut s.finding.to] {
                *i += usize::from(*i >= late);
            }
        }
        save(&characteristic, &singles(&all), late, &mut kept);
        let places = |all: Vec<Plain>| all.into_iter().map(|p| (p.0, p.3, p.5)).collect::<Vec<_>>();
        prop_assert_eq!(places(sorted(&kept)), places(on_the_whole_chart(&characteristic, &singles(&all))));
    }
}

proptest! {
    /// Whatever becomes of a sample, the flags are those of a chart that never knew it otherwise.
    #[test]
    fn a_corrected_or_withdrawn_sample_leaves_what_the_whole_chart_finds(
        halves in prop::collection::vec(-3i32..=4, 2..60),
        place in any::<prop::sample::Index>(),
        instead in prop::option::of(-8i32..=8),
        nelson in any::<bool>(),
    ) {
        let mut series = singles(&halves.iter().map(|&h| f64::from(h) / 2.0).collect::<Vec<_>>());
        let characteristic = individuals(if nelson { Preset::Nelson } else { Preset::WesternElectric });
        let mut kept = one_by_one(&characteristic, &series);
        let changed = place.index(series.len());
        series[changed] = instead.map(|h| f64::from(h) / 2.0).into_iter().collect();
        save(&characteristic, &series, changed, &mut kept);
        let flagged = |all: Vec<Plain>| {
            let mut all: Vec<_> = all.into_iter().flat_map(|p| (p.0..=p.2).map(move |i| (i, p.3, p.4.clone(), p.5))).collect();
            // Points that a pattern looks past are not flagged.
            all.retain(|(i, ..)| !series[*i].is_empty());
            all.sort();
            all.dedup();
            all
        };
        prop_assert_eq!(flagged(sorted(&kept)), flagged(on_the_whole_chart(&characteristic, &series)));
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
