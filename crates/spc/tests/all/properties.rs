//! What must hold for every series, whatever its figures.

use proptest::prelude::*;
use spc::chart::{ChartKind, ChartRequest, Limits, Signal, Statistic, compute, signals};
use spc::points::Points;
use spc::rules::{Rule, RuleSet};

use crate::common::{
    by_nelson, close, counting, counts, figures_close, measured, mirrored, of_location, options_close, rule_sets,
    series,
};

fn each(points: &[Vec<f64>], change: impl Fn(f64) -> f64) -> Vec<Vec<f64>> {
    points.iter().map(|values| values.iter().map(|&x| change(x)).collect()).collect()
}

proptest! {
    #[test]
    fn shifting_shifts_the_limits_and_changes_no_signal(
        (chart, pieces) in measured(),
        values in prop::collection::vec(-40i32..40, 12..120),
        shift in -1000i32..1000,
    ) {
        let points = series(&values, pieces);
        let shift = f64::from(shift);
        let plain = compute(&by_nelson(chart, points.clone())).unwrap();
        let shifted = compute(&by_nelson(chart, each(&points, |x| x + shift))).unwrap();
        prop_assert_eq!(&plain.signals, &shifted.signals);
        prop_assert!(options_close(plain.phases[0].figures.center.map(|c| c + shift), shifted.phases[0].figures.center));
        prop_assert!(options_close(plain.phases[0].figures.sigma, shifted.phases[0].figures.sigma));
        // The sums of a CUSUM are about its target, and do not move with it.
        let moves = if chart == ChartKind::Cusum { 0.0 } else { shift };
        for (a, b) in plain.panels[0].points().zip(shifted.panels[0].points()) {
            prop_assert!(options_close(a.upper.get().map(|x| x + moves), b.upper.get()));
            prop_assert!(options_close(a.lower.get().map(|x| x + moves), b.lower.get()));
        }
    }

    #[test]
    fn scaling_scales_the_limits_and_changes_no_signal(
        (chart, pieces) in measured(),
        values in prop::collection::vec(-40i32..40, 12..120),
        power in -8i32..8,
    ) {
        let points = series(&values, pieces);
        let scale = 2f64.powi(power);
        let plain = compute(&by_nelson(chart, points.clone())).unwrap();
        let scaled = compute(&by_nelson(chart, each(&points, |x| x * scale))).unwrap();
        prop_assert_eq!(&plain.signals, &scaled.signals);
        let grows = if chart == ChartKind::Cusum { 1.0 } else { scale };
        for (a, b) in plain.panels.iter().zip(&scaled.panels) {
            for (a, b) in a.points().zip(b.points()) {
                prop_assert!(options_close(a.upper.get().map(|x| x * grows), b.upper.get()));
                prop_assert!(figures_close(a.z, b.z));
            }
        }
    }

    #[test]
    fn reversing_signs_swaps_the_sides(
        (chart, pieces) in measured(),
        values in prop::collection::vec(-40i32..40, 12..120),
    ) {
        // The two sums of a CUSUM are two panels; theirs are compared below.
        prop_assume!(chart != ChartKind::Cusum);
        let points = series(&values, pieces);
        let plain = compute(&by_nelson(chart, points.clone())).unwrap();
        let reversed = compute(&by_nelson(chart, each(&points, |x| -x))).unwrap();
        let mut expected: Vec<Signal> = of_location(&plain).iter().map(mirrored).collect();
        expected.sort_by_key(|s| (s.at, format!("{:?}", s.rule), s.side));
        prop_assert_eq!(of_location(&reversed), expected);
    }

    #[test]
    fn reversing_signs_swaps_the_sums_of_a_cusum(values in prop::collection::vec(-40i32..40, 12..120)) {
        let points = series(&values, 2);
        let plain = compute(&by_nelson(ChartKind::Cusum, points.clone())).unwrap();
        let reversed = compute(&by_nelson(ChartKind::Cusum, each(&points, |x| -x))).unwrap();
        for (up, down) in plain.panels[0].points().zip(reversed.panels[1].points()) {
            prop_assert!(options_close(up.value.get(), down.value.get().map(|x| -x)));
        }
        let count = |signals: &[Signal], panel| signals.iter().filter(|s| s.panel == panel).count();
        prop_assert_eq!(
            count(&plain.signals, Statistic::CusumUp),
            count(&reversed.signals, Statistic::CusumDown)
        );
    }

    #[test]
    fn a_point_set_aside_counts_like_one_that_is_not_there(
        chart in prop::sample::select(vec![ChartKind::XbarR, ChartKind::MedianR, ChartKind::Ewma, ChartKind::MovingAverage]),
        values in prop::collection::vec(-40i32..40, 12..90),
        place in any::<prop::sample::Index>(),
    ) {
        let points = series(&values, 3);
        let aside = place.index(points.len());
        let mut without = points.clone();
        without.remove(aside);
        compare_without(chart, points.into(), without.into(), aside)?;
    }

    #[test]
    fn a_count_set_aside_counts_like_one_that_is_not_there(
        chart in prop::sample::select(vec![ChartKind::P, ChartKind::Np, ChartKind::C, ChartKind::U]),
        pairs in prop::collection::vec((0u32..30, 1u32..60), 5..60),
        place in any::<prop::sample::Index>(),
    ) {
        let aside = place.index(pairs.len());
        let mut without = pairs.clone();
        without.remove(aside);
        compare_without(chart, counts(&pairs), counts(&without), aside)?;
    }

    #[test]
    fn set_aside_and_restored_gives_the_first_answer_back(
        (chart, pieces) in measured(),
        values in prop::collection::vec(-40i32..40, 24..90),
        place in any::<prop::sample::Index>(),
    ) {
        let points = series(&values, pieces);
        let aside = place.index(points.len());
        let mut request = by_nelson(chart, points);
        let first = compute(&request).unwrap();
        request.excluded = vec![aside];
        let between = compute(&request).unwrap();
        prop_assert!(!between.panels.iter().any(|panel| panel.point(aside).flagged));
        prop_assert_eq!(between.phases[0].used, first.phases[0].used - 1);
        request.excluded.clear();
        prop_assert_eq!(compute(&request).unwrap(), first);
    }

    #[test]
    fn limits_of_counts_stay_where_counts_can_be(
        chart in counting(),
        pairs in prop::collection::vec((0u32..30, 1u32..60), 2..60),
        k in 0.1f64..6.0,
    ) {
        let points = counts(&pairs);
        let limits = vec![Limits { k, ..Limits::ESTIMATED }];
        let answer = compute(&ChartRequest { limits, ..by_nelson(chart, points) }).unwrap();
        for (point, (_, size)) in answer.panels[0].points().zip(&pairs) {
            let most = match chart {
                ChartKind::P | ChartKind::PPrime => 1.0,
                ChartKind::Np => f64::from(*size),
                _ => f64::INFINITY,
            };
            prop_assert!(point.lower.get().is_none_or(|lower| lower >= 0.0));
            prop_assert!(point.upper.get().is_none_or(|upper| upper <= most));
            if let (Some(lower), Some(center), Some(upper)) = (point.lower.get(), point.center.get(), point.upper.get()) {
                prop_assert!(lower <= center && center <= upper);
            }
        }
    }

    #[test]
    fn the_conforming_share_is_the_other_side_of_the_same_chart(
        pairs in prop::collection::vec((0u32..30, 1u32..60), 2..60),
    ) {
        let plain = by_nelson(ChartKind::P, counts(&pairs));
        let mut other = plain.clone();
        other.options.conforming = true;
        let (plain, other) = (compute(&plain).unwrap(), compute(&other).unwrap());
        prop_assert_eq!(of_location(&other), {
            let mut expected: Vec<Signal> = of_location(&plain).iter().map(mirrored).collect();
            expected.sort_by_key(|s| (s.at, format!("{:?}", s.rule), s.side));
            expected
        });
        for (a, b) in plain.panels[0].points().zip(other.panels[0].points()) {
            prop_assert!(options_close(a.lower.get().map(|x| 1.0 - x), b.upper.get()));
        }
    }

    /// Longer than what is judged at a time.
    #[test]
    fn judging_alone_finds_what_the_whole_answer_finds(
        (chart, pieces) in measured(),
        values in prop::collection::vec(-40i32..40, 12..4000),
        rules in rule_sets(),
        restart in any::<prop::sample::Index>(),
    ) {
        let points = series(&values, pieces);
        let restarts = vec![restart.index(points.len())];
        let request = ChartRequest { rules: Some(rules), restarts, ..ChartRequest::new(chart, points) };
        prop_assert_eq!(signals(&request).unwrap(), compute(&request).unwrap().signals);
    }

    #[test]
    fn phases_are_estimated_each_from_its_own_points(
        values in prop::collection::vec(-40i32..40, 40..90),
        split in 10usize..30,
    ) {
        let points = series(&values, 1);
        let both = compute(&ChartRequest {
            phases: vec![0, split],
            limits: vec![Limits::ESTIMATED; 2],
            ..by_nelson(ChartKind::IMr, points.clone())
        })
        .unwrap();
        let first = compute(&by_nelson(ChartKind::IMr, points[..split].to_vec())).unwrap();
        let second = compute(&by_nelson(ChartKind::IMr, points[split..].to_vec())).unwrap();
        let moved = second.signals.iter().map(|s| Signal { at: s.at + split, from: s.from + split, to: s.to + split, ..*s });
        let mut expected: Vec<Signal> = first.signals.iter().copied().chain(moved).collect();
        expected.sort_by_key(|s| s.at);
        let mut found = both.signals.clone();
        found.sort_by_key(|s| s.at);
        prop_assert_eq!(found, expected);
        prop_assert!(options_close(both.phases[1].figures.sigma, second.phases[0].figures.sigma));
    }

    #[test]
    fn nominals_are_taken_off_before_anything_else(
        values in prop::collection::vec(-40i32..40, 12..60),
        nominal in -100i32..100,
    ) {
        let points = series(&values, 1);
        let plain = compute(&by_nelson(ChartKind::IMr, points.clone())).unwrap();
        let nominal = f64::from(nominal);
        let mut short_runs = by_nelson(ChartKind::IMr, each(&points, |x| 4.0 * x + nominal));
        short_runs.options.nominal = Some(vec![Some(nominal); points.len()]);
        short_runs.options.part_sigma = Some(vec![Some(4.0); points.len()]);
        let short_runs = compute(&short_runs).unwrap();
        prop_assert_eq!(&plain.signals, &short_runs.signals);
        prop_assert!(close(plain.phases[0].figures.center.unwrap(), short_runs.phases[0].figures.center.unwrap()));
    }
}

fn compare_without(chart: ChartKind, points: Points, without: Points, aside: usize) -> Result<(), TestCaseError> {
    let with = compute(&ChartRequest { excluded: vec![aside], ..by_nelson(chart, points) }).unwrap();
    let without = compute(&by_nelson(chart, without)).unwrap();
    prop_assert!(options_close(with.phases[0].figures.center, without.phases[0].figures.center));
    prop_assert!(options_close(with.phases[0].figures.sigma, without.phases[0].figures.sigma));
    prop_assert!(!with.panels[0].point(aside).flagged);
    let moved = |i: usize| i + usize::from(i >= aside);
    let expected: Vec<Signal> = without
        .signals
        .iter()
        .map(|s| Signal { at: moved(s.at), from: moved(s.from), to: moved(s.to), ..*s })
        .collect();
    prop_assert_eq!(with.signals, expected);
    Ok(())
}

/// Equal readings have no spread: there is no z, and rounding of the mean must not make a run.
#[test]
fn equal_readings_raise_no_signal() {
    let answer = compute(&by_nelson(ChartKind::XbarR, vec![vec![0.1, 0.1, 0.1]; 30])).unwrap();
    assert_eq!(answer.phases[0].figures.sigma, Some(0.0));
    assert!(answer.panels[0].points().all(|p| p.z.get().is_none()));
    assert_eq!(answer.signals, []);
}

#[test]
fn a_restart_makes_rule_windows_start_afresh_and_leaves_limits_alone() {
    let points: Vec<Vec<f64>> = (0..10).map(|i| vec![1.0 + f64::from(i % 2) / 4.0]).collect();
    let given = |restarts: Vec<usize>| ChartRequest {
        limits: vec![Limits::given(0.0, 1.0, 3.0)],
        rules: Some(RuleSet::of(vec![Rule::OneSide { n: 6 }])),
        restarts,
        ..ChartRequest::new(ChartKind::IMr, points.clone())
    };
    let plain = compute(&given(vec![])).unwrap();
    assert_eq!(plain.signals.iter().filter(|s| s.panel.is_location()).count(), 1);
    let restarted = compute(&given(vec![5])).unwrap();
    assert_eq!(restarted.signals.iter().filter(|s| s.panel.is_location()).count(), 0);
    assert_eq!(restarted.phases, plain.phases);
}
