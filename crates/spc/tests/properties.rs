//! What must hold for every series, whatever its figures.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use proptest::prelude::*;
use spc::chart::{ChartAnswer, ChartKind, ChartRequest, Limits, SigmaMethod, Signal, compute};
use spc::rules::{Preset, Rule, RuleSet, Side};

/// Steps that are exact in binary, so that shifting and scaling by powers of two change no digit.
fn series(values: &[i32], pieces: usize) -> Vec<Vec<f64>> {
    values.chunks(pieces).map(|chunk| chunk.iter().map(|&x| f64::from(x) / 4.0).collect()).collect()
}

fn request(chart: ChartKind, points: Vec<Vec<f64>>) -> ChartRequest {
    ChartRequest { rules: Some(RuleSet::Preset(Preset::Nelson)), ..ChartRequest::new(chart, points) }
}

fn charts() -> impl Strategy<Value = (ChartKind, usize)> {
    prop_oneof![Just((ChartKind::XbarR, 3)), Just((ChartKind::IMr, 1))]
}

fn each(points: &[Vec<f64>], change: impl Fn(f64) -> f64) -> Vec<Vec<f64>> {
    points.iter().map(|values| values.iter().map(|&x| change(x)).collect()).collect()
}

fn close(a: Option<f64>, b: Option<f64>) -> bool {
    match (a, b) {
        (Some(a), Some(b)) => (a - b).abs() <= 1e-9 * a.abs().max(b.abs()).max(1.0),
        (a, b) => a == b,
    }
}

fn mirrored(signal: &Signal) -> Signal {
    let side = signal.side.map(|side| match side {
        Side::Above => Side::Below,
        Side::Below => Side::Above,
        Side::Rising => Side::Falling,
        Side::Falling => Side::Rising,
    });
    Signal { side, ..*signal }
}

fn of_location(answer: &ChartAnswer) -> Vec<Signal> {
    let mut found: Vec<Signal> = answer.signals.iter().filter(|s| s.panel.is_location()).copied().collect();
    found.sort_by_key(|s| (s.at, format!("{:?}", s.rule), s.side));
    found
}

proptest! {
    #[test]
    fn shifting_shifts_the_centre_and_changes_no_signal(
        (chart, pieces) in charts(),
        values in prop::collection::vec(-40i32..40, 9..120),
        shift in -1000i32..1000,
    ) {
        let points = series(&values, pieces);
        let shift = f64::from(shift);
        let plain = compute(&request(chart, points.clone())).unwrap();
        let shifted = compute(&request(chart, each(&points, |x| x + shift))).unwrap();
        prop_assert_eq!(&plain.signals, &shifted.signals);
        prop_assert!(close(plain.phases[0].center.map(|c| c + shift), shifted.phases[0].center));
        prop_assert!(close(plain.phases[0].sigma, shifted.phases[0].sigma));
    }

    #[test]
    fn scaling_scales_the_limits_and_changes_no_signal(
        (chart, pieces) in charts(),
        values in prop::collection::vec(-40i32..40, 9..120),
        power in -8i32..8,
    ) {
        let points = series(&values, pieces);
        let scale = 2f64.powi(power);
        let plain = compute(&request(chart, points.clone())).unwrap();
        let scaled = compute(&request(chart, each(&points, |x| x * scale))).unwrap();
        prop_assert_eq!(&plain.signals, &scaled.signals);
        for (a, b) in plain.panels.iter().zip(&scaled.panels) {
            for (a, b) in a.points.iter().zip(&b.points) {
                prop_assert!(close(a.upper.map(|x| x * scale), b.upper));
                prop_assert!(close(a.z, b.z));
            }
        }
    }

    #[test]
    fn reversing_signs_swaps_the_sides(
        (chart, pieces) in charts(),
        values in prop::collection::vec(-40i32..40, 9..120),
    ) {
        let points = series(&values, pieces);
        let plain = compute(&request(chart, points.clone())).unwrap();
        let reversed = compute(&request(chart, each(&points, |x| -x))).unwrap();
        let mut expected: Vec<Signal> = of_location(&plain).iter().map(mirrored).collect();
        expected.sort_by_key(|s| (s.at, format!("{:?}", s.rule), s.side));
        prop_assert_eq!(of_location(&reversed), expected);
    }

    #[test]
    fn a_point_set_aside_counts_like_one_that_is_not_there(
        values in prop::collection::vec(-40i32..40, 12..90),
        place in any::<prop::sample::Index>(),
    ) {
        let points = series(&values, 3);
        let aside = place.index(points.len());
        let mut without = points.clone();
        without.remove(aside);
        let with = compute(&ChartRequest { excluded: vec![aside], ..request(ChartKind::XbarR, points) }).unwrap();
        let without = compute(&request(ChartKind::XbarR, without)).unwrap();
        prop_assert!(close(with.phases[0].center, without.phases[0].center));
        prop_assert!(close(with.phases[0].sigma, without.phases[0].sigma));
        prop_assert!(!with.panels[0].points[aside].flagged);
        let moved = |i: usize| i + usize::from(i >= aside);
        let expected: Vec<Signal> = without
            .signals
            .iter()
            .map(|s| Signal { at: moved(s.at), from: moved(s.from), to: moved(s.to), ..*s })
            .collect();
        prop_assert_eq!(with.signals, expected);
    }

    /// Nothing a person can write makes the core panic or answer with what is no number.
    #[test]
    fn any_request_is_refused_or_answered_with_finite_numbers(
        (chart, pieces) in charts(),
        values in prop::collection::vec(prop_oneof![any::<f64>(), -1e3..1e3f64], 0..30),
        phases in prop::collection::vec(0usize..12, 0..4),
        excluded in prop::collection::vec(0usize..12, 0..3),
        restarts in prop::collection::vec(0usize..12, 0..3),
        k in any::<f64>(),
        rule in prop_oneof![
            (0usize..5).prop_map(|n| Rule::Trend { n }),
            (0usize..5, 0usize..5, any::<f64>()).prop_map(|(m, n, k)| Rule::MOfN { m, n, k }),
            any::<f64>().prop_map(|k| Rule::Beyond { k }),
        ],
        overall in any::<bool>(),
    ) {
        let points: Vec<Vec<f64>> = values.chunks(pieces).map(<[f64]>::to_vec).collect();
        let mut request = ChartRequest::new(chart, points);
        request.phases = std::iter::once(0).chain(phases).collect();
        request.limits = vec![Limits { k, ..Limits::ESTIMATED }; request.phases.len()];
        (request.excluded, request.restarts) = (excluded, restarts);
        request.rules = Some(RuleSet::List(vec![rule]));
        if overall {
            request.options.sigma_method = SigmaMethod::Overall;
        }
        if let Ok(answer) = compute(&request) {
            for point in answer.panels.iter().flat_map(|panel| &panel.points) {
                for figure in [point.value, point.center, point.lower, point.upper, point.sigma, point.z] {
                    prop_assert!(figure.is_none_or(f64::is_finite));
                }
            }
        }
    }
}

/// Equal readings have no spread: there is no z, and rounding of the mean must not make a run.
#[test]
fn equal_readings_raise_no_signal() {
    let answer = compute(&request(ChartKind::XbarR, vec![vec![0.1, 0.1, 0.1]; 30])).unwrap();
    assert_eq!(answer.phases[0].sigma, Some(0.0));
    assert!(answer.panels[0].points.iter().all(|p| p.z.is_none()));
    assert_eq!(answer.signals, []);
}

#[test]
fn a_restart_makes_rule_windows_start_afresh_and_leaves_limits_alone() {
    let points: Vec<Vec<f64>> = (0..10).map(|i| vec![1.0 + f64::from(i % 2) / 4.0]).collect();
    let given = |restarts: Vec<usize>| ChartRequest {
        limits: vec![Limits::given(0.0, 1.0, 3.0)],
        rules: Some(RuleSet::List(vec![Rule::OneSide { n: 6 }])),
        restarts,
        ..ChartRequest::new(ChartKind::IMr, points.clone())
    };
    let plain = compute(&given(vec![])).unwrap();
    assert_eq!(plain.signals.iter().filter(|s| s.panel.is_location()).count(), 1);
    let restarted = compute(&given(vec![5])).unwrap();
    assert_eq!(restarted.signals.iter().filter(|s| s.panel.is_location()).count(), 0);
    assert_eq!(restarted.phases, plain.phases);
}
