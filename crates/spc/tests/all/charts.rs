//! Charts worked by hand, at the places where points are missing, set aside or start afresh.

use rstest::rstest;
use spc::chart::{ChartKind, ChartOptions, ChartRequest, Figures, Limits, LimitsBasis, Panel, Recorded, compute};
use spc::points::{Count, Points, Readings};
use spc::rules::{Preset, RuleSet};

const RELATIVE: f64 = 1e-12;

fn values(panel: &Panel) -> Vec<Option<f64>> {
    panel.points().map(|point| point.value.get()).collect()
}

fn assert_values(panel: &Panel, expected: &[Option<f64>]) {
    let got = values(panel);
    assert_eq!(got.len(), expected.len());
    for (i, (got, want)) in got.into_iter().zip(expected).enumerate() {
        match (got, want) {
            (Some(got), Some(want)) => {
                assert!((got - want).abs() <= RELATIVE * want.abs() + f64::EPSILON, "point {i}: {got} is not {want}");
            }
            (got, want) => assert_eq!(got, *want, "point {i}"),
        }
    }
}

/// Centre 10, sigma 1; point 2 is missing, point 3 set aside, and all starts afresh at point 4.
fn request(chart: ChartKind, options: ChartOptions) -> ChartRequest {
    let points = [Some(11.0), Some(12.0), None, Some(20.0), Some(9.0), Some(10.5)];
    ChartRequest {
        excluded: vec![3],
        restarts: vec![4],
        limits: vec![Limits::given(10.0, 1.0, 3.0)],
        options,
        ..ChartRequest::new(chart, points.into_iter().collect::<Readings>())
    }
}

/// z = 0.5x̄ + 0.5z: 10.5, 11.25, nothing, 11.25 as it stood, afresh 9.5, 10.0.
/// v: 0.25, 0.3125, …, 0.25, 0.3125.
#[test]
fn an_ewma_looks_past_what_is_missing_and_starts_afresh() {
    let options = ChartOptions { lambda: 0.5, ..ChartOptions::default() };
    let answer = compute(&request(ChartKind::Ewma, options)).unwrap();
    let panel = &answer.panels[0];
    assert_values(panel, &[Some(10.5), Some(11.25), None, Some(11.25), Some(9.5), Some(10.0)]);
    let sigma: Vec<f64> = [0, 1, 3, 4, 5].map(|i| panel.point(i).sigma.get().unwrap()).to_vec();
    assert_eq!(sigma, [0.5, 0.3125f64.sqrt(), 0.3125f64.sqrt(), 0.5, 0.3125f64.sqrt()]);
    assert!(!panel.point(3).tested);
}

/// u = 1, 2; C⁺ from h/2 = 2.5: 3.0, 4.5, nothing, 4.5, afresh 2.5 − 1 − 0.5 = 1.0, then 1.0.
#[test]
fn a_cusum_looks_past_what_is_missing_and_starts_afresh_at_half_its_interval() {
    let options = ChartOptions { fast_start: true, ..ChartOptions::default() };
    let answer = compute(&request(ChartKind::Cusum, options)).unwrap();
    assert_values(&answer.panels[0], &[Some(3.0), Some(4.5), None, Some(4.5), Some(1.0), Some(1.0)]);
    // C⁻: 2.5 − 1 − 0.5 = 1, 0, …, 2.5 + 1 − 0.5 = 3, 2; drawn below zero.
    assert_values(&answer.panels[1], &[Some(-1.0), Some(0.0), None, Some(0.0), Some(-3.0), Some(-2.0)]);
    assert_eq!((answer.panels[1].point(0).lower.get(), answer.panels[1].point(0).upper.get()), (Some(-5.0), None));
}

/// Width 2: 11, 11.5, nothing, 11.5 of the two before, afresh 9, 9.75; sigma 1/√n of what is in the window.
#[test]
fn a_moving_average_looks_past_what_is_missing_and_starts_afresh() {
    let options = ChartOptions { width: 2, ..ChartOptions::default() };
    let answer = compute(&request(ChartKind::MovingAverage, options)).unwrap();
    let panel = &answer.panels[0];
    assert_values(panel, &[Some(11.0), Some(11.5), None, Some(11.5), Some(9.0), Some(9.75)]);
    assert_eq!(panel.point(4).sigma.get(), Some(1.0));
    assert_eq!(panel.point(5).sigma.get(), Some(1.0 / 2f64.sqrt()));
}

/// A restart leaves moving ranges alone; a gap and a point set aside do not.
#[rstest]
#[case::of_two(2, &[None, Some(1.0), None, None, Some(11.0), Some(1.5)], &[1, 5])]
#[case::of_three(3, &[None, None, None, None, None, Some(11.0)], &[])]
fn moving_ranges_need_neighbours_that_count(
    #[case] span: usize,
    #[case] expected: &[Option<f64>],
    #[case] tested: &[usize],
) {
    let answer = compute(&request(ChartKind::IMr, ChartOptions { span, ..ChartOptions::default() })).unwrap();
    let panel = &answer.panels[1];
    assert_values(panel, expected);
    let found: Vec<usize> = (0..panel.len()).filter(|&i| panel.point(i).tested).collect();
    assert_eq!(found, tested);
}

/// p = 1/(1 + 3) = ¼: exceeded with 0.75^(x+1). ½ at x = 2 (0.42), Φ(−3) at 22 (0.75²³ = 0.00134), Φ(3) at 0.
#[test]
fn limits_of_g_are_whole_quantiles() {
    let points = Points::Between([0.0, 3.0, 6.0].map(Some).to_vec());
    let answer = compute(&ChartRequest::new(ChartKind::G, points)).unwrap();
    let point = answer.panels[0].point(0);
    assert_eq!(answer.phases[0].figures.center, Some(3.0));
    assert_eq!((point.lower.get(), point.center.get(), point.upper.get()), (Some(0.0), Some(2.0), Some(22.0)));
    assert_eq!((point.sigma.get(), point.z.get()), (None, None));
}

/// p̄ = 0.1: 0.1 ± 3·0.03 of a hundred units, 0.1 ± 3·0.1 of nine; constants stand where they are given.
#[test]
fn limits_of_counts_follow_each_n_and_constants_replace_a_side() {
    let count = |count, size| Some(Count { count, size });
    let points = Points::Counts(vec![count(10.0, 100.0), None, count(1.0, 9.0)]);
    let basis = |upper| LimitsBasis::Given(Figures { upper, ..Figures::centered(0.1) });
    let limits = |upper| vec![Limits { basis: basis(upper), k: 3.0 }];
    let chart = |upper| {
        let request = ChartRequest { limits: limits(upper), ..ChartRequest::new(ChartKind::P, points.clone()) };
        compute(&request).unwrap().panels.remove(0)
    };
    let uppers = |panel: &Panel| [0, 2].map(|i| panel.point(i).upper.get().unwrap());
    let [hundred, nine] = uppers(&chart(None));
    assert!((hundred - 0.19).abs() < RELATIVE && (nine - 0.4).abs() < RELATIVE);
    assert_eq!(chart(None).point(2).lower.get(), Some(0.0));
    assert_eq!(chart(None).point(1).upper.get(), None);
    assert_eq!(uppers(&chart(Some(0.25))), [0.25, 0.25]);
}

/// Points of one size are kept without their bounds until one of another size comes.
#[test]
fn readings_give_back_what_was_put_in() {
    let points: Vec<Vec<f64>> = vec![vec![1.0, 2.0], vec![3.0, 4.0], vec![], vec![5.0], vec![6.0, 7.0]];
    for count in 0..=points.len() {
        let readings: Readings = points[..count].iter().map(|values| values.iter().copied()).collect();
        assert_eq!(readings.len(), count);
        let back: Vec<Vec<f64>> = (0..count).map(|i| readings.get(i).to_vec()).collect();
        assert_eq!(back, points[..count]);
        assert_eq!(readings.equal_size().is_some(), count <= 2);
    }
}

#[rstest]
fn a_chart_of_gaps_alone_is_drawn_without_figures(
    #[values(
        ChartKind::XbarR,
        ChartKind::XbarS,
        ChartKind::MedianR,
        ChartKind::IMr,
        ChartKind::Run,
        ChartKind::Ewma,
        ChartKind::Cusum,
        ChartKind::MovingAverage,
        ChartKind::BetweenWithin,
        ChartKind::P,
        ChartKind::Np,
        ChartKind::C,
        ChartKind::U,
        ChartKind::PPrime,
        ChartKind::UPrime,
        ChartKind::G,
        ChartKind::T
    )]
    chart: ChartKind,
) {
    let points: Points = match chart.records() {
        Recorded::Values => vec![vec![], vec![]].into(),
        Recorded::Counts => Points::Counts(vec![None, None]),
        Recorded::Between => Points::Between(vec![None, None]),
    };
    let request = ChartRequest { rules: Some(RuleSet::Preset(Preset::Nelson)), ..ChartRequest::new(chart, points) };
    let answer = compute(&request).unwrap();
    assert!(answer.signals.is_empty());
    assert_eq!((answer.phases[0].used, answer.phases[0].figures.center), (0, None));
    assert!(answer.panels.iter().flat_map(|panel| panel.points()).all(|point| point.value.get().is_none()));
}
