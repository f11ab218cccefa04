//! Each rule at its edges, on series of z (centre 0, sigma 1), through the whole chart.

use rstest::rstest;
use spc::chart::{ChartKind, ChartRequest, Limits, LimitsBasis, Signal, Statistic, compute};
use spc::rules::{ListedRule, Panels, Preset, Rule, RuleSet, Side};

const Z: Limits = Limits::given(0.0, 1.0, 3.0);

fn on_values(rule: Rule, z: &[f64]) -> Vec<Signal> {
    let request = ChartRequest {
        limits: vec![Z],
        rules: Some(RuleSet::of([rule])),
        ..ChartRequest::new(ChartKind::IMr, z.iter().map(|&x| vec![x]).collect::<Vec<_>>())
    };
    compute(&request).unwrap().signals.into_iter().filter(|s| s.panel.is_location()).collect()
}

/// (side, from, at, to) of each signal.
fn spans(rule: Rule, z: &[f64]) -> Vec<(Option<Side>, usize, usize, usize)> {
    on_values(rule, z).iter().map(|s| (s.side, s.from, s.at, s.to)).collect()
}

const ABOVE: Option<Side> = Some(Side::Above);
const BELOW: Option<Side> = Some(Side::Below);
const RISING: Option<Side> = Some(Side::Rising);
const FALLING: Option<Side> = Some(Side::Falling);

/// A rule of a list looks at the panels that it names.
#[rstest]
#[case::all(None, &[Statistic::Individual, Statistic::MovingRange])]
#[case::of_the_location(Some(Panels::Location), &[Statistic::Individual])]
#[case::of_the_spread(Some(Panels::Dispersion), &[Statistic::MovingRange])]
fn a_rule_may_be_narrowed_to_some_panels(#[case] panels: Option<Panels>, #[case] expected: &[Statistic]) {
    let rules = RuleSet::List(vec![ListedRule { rule: Rule::Beyond { k: 3.0 }, panels }]);
    let points = vec![vec![0.0], vec![9.0]];
    let request = ChartRequest { limits: vec![Z], rules: Some(rules), ..ChartRequest::new(ChartKind::IMr, points) };
    let panels: Vec<Statistic> = compute(&request).unwrap().signals.iter().map(|signal| signal.panel).collect();
    assert_eq!(panels, expected);
}

#[rstest]
#[case::on_the_limit_is_not_beyond(&[3.0, -3.0], &[])]
#[case::within_rounding_of_the_limit(&[3.0 + 5e-10], &[])]
#[case::just_beyond(&[3.0 + 2e-9, 0.0, -3.1], &[(ABOVE, 0, 0, 0), (BELOW, 2, 2, 2)])]
#[case::each_its_own(&[4.0, 4.0], &[(ABOVE, 0, 0, 0), (ABOVE, 1, 1, 1)])]
fn beyond(#[case] z: &[f64], #[case] expected: &[(Option<Side>, usize, usize, usize)]) {
    assert_eq!(spans(Rule::Beyond { k: 3.0 }, z), expected);
}

#[rstest]
#[case::one_too_short(&[0.1, 0.2, 0.1], &[])]
#[case::just_long_enough(&[-0.1, 0.1, 0.2, 0.1, 0.5], &[(ABOVE, 1, 4, 4)])]
#[case::goes_on(&[0.1, 0.2, 0.1, 0.5, 0.3, 0.2], &[(ABOVE, 0, 3, 5)])]
#[case::a_point_on_the_line_breaks_it(&[0.1, 0.2, 0.0, 0.5, 0.3], &[])]
#[case::a_change_of_side_starts_anew(&[0.1, 0.2, -0.1, -0.5, -0.3, -0.2], &[(BELOW, 2, 5, 5)])]
fn one_side_of_four(#[case] z: &[f64], #[case] expected: &[(Option<Side>, usize, usize, usize)]) {
    assert_eq!(spans(Rule::OneSide { n: 4 }, z), expected);
}

#[rstest]
#[case::points_not_steps(&[0.0, 0.1, 0.2, 0.3], &[(RISING, 0, 3, 3)])]
#[case::one_step_too_few(&[0.5, 0.1, 0.2, 0.3], &[])]
#[case::equal_neighbours_break_it(&[0.0, 0.1, 0.1, 0.2, 0.3], &[])]
#[case::the_turning_point_counts_both_ways(&[0.0, 0.1, 0.2, 0.3, 0.2, 0.1, 0.0],
    &[(RISING, 0, 3, 3), (FALLING, 3, 6, 6)])]
fn trend_of_four(#[case] z: &[f64], #[case] expected: &[(Option<Side>, usize, usize, usize)]) {
    assert_eq!(spans(Rule::Trend { n: 4 }, z), expected);
}

#[rstest]
#[case::up_down_up(&[0.0, 0.2, 0.1, 0.3], &[(None, 0, 3, 3)])]
#[case::needs_no_centre(&[5.0, 5.2, 5.1, 5.3], &[(None, 0, 3, 3)])]
#[case::a_tie_breaks_it(&[0.0, 0.2, 0.2, 0.3, 0.1], &[])]
#[case::two_steps_one_way_start_anew(&[0.0, 0.2, 0.3, 0.1, 0.4], &[(None, 1, 4, 4)])]
fn alternating_of_four(#[case] z: &[f64], #[case] expected: &[(Option<Side>, usize, usize, usize)]) {
    assert_eq!(spans(Rule::Alternating { n: 4 }, z), expected);
}

#[rstest]
#[case::only_the_point_beyond_is_flagged(&[2.5, 0.0, 2.5, 0.0], &[(ABOVE, 0, 2, 2)])]
#[case::fewer_at_the_start(&[2.5, 2.5], &[(ABOVE, 0, 1, 1)])]
#[case::sides_do_not_add(&[2.5, -2.5, 0.0, -2.5], &[(BELOW, 1, 3, 3)])]
#[case::out_of_the_window(&[2.5, 0.0, 0.0, 2.5], &[])]
fn two_of_three_beyond_two(#[case] z: &[f64], #[case] expected: &[(Option<Side>, usize, usize, usize)]) {
    assert_eq!(spans(Rule::MOfN { m: 2, n: 3, k: 2.0 }, z), expected);
}

#[rstest]
#[case::close(&[0.9, -0.9, 0.5], &[(None, 0, 2, 2)])]
#[case::on_one_sigma_is_not_close(&[0.9, -1.0, 0.5, 0.1], &[])]
fn hugging_of_three(#[case] z: &[f64], #[case] expected: &[(Option<Side>, usize, usize, usize)]) {
    assert_eq!(spans(Rule::Hugging { n: 3, k: 1.0 }, z), expected);
}

#[rstest]
#[case::both_sides(&[1.1, -1.2, 1.5], &[(None, 0, 2, 2)])]
#[case::on_one_sigma_is_not_away(&[1.1, -1.0, 1.5, 1.1], &[])]
fn avoiding_of_three(#[case] z: &[f64], #[case] expected: &[(Option<Side>, usize, usize, usize)]) {
    assert_eq!(spans(Rule::Avoiding { n: 3, k: 1.0 }, z), expected);
}

#[rstest]
#[case(Preset::LimitsOnly, 1, 1)]
#[case(Preset::WesternElectric, 4, 8)]
#[case(Preset::Nelson, 8, 15)]
#[case(Preset::SevenPoint, 3, 7)]
fn presets_hold_their_rules_and_follow_the_limits(
    #[case] preset: Preset,
    #[case] count: usize,
    #[case] longest: usize,
) {
    let rules = preset.rules(2.5);
    assert_eq!((rules.len(), rules[0]), (count, Rule::Beyond { k: 2.5 }));
    assert_eq!(RuleSet::Preset(preset).longest_window(), longest);
    assert!(rules.iter().all(|rule| rule.check().is_ok()));
}

#[rstest]
#[case::phase_start(|r: &mut ChartRequest| r.phases = vec![1], "phases")]
#[case::phases_twice(|r: &mut ChartRequest| r.phases = vec![0, 1, 1], "phases")]
#[case::excluded(|r: &mut ChartRequest| r.excluded = vec![4], "excluded")]
#[case::restarts(|r: &mut ChartRequest| r.restarts = vec![9], "restarts")]
#[case::limits_missing(|r: &mut ChartRequest| r.limits = vec![], "limits")]
#[case::k(|r: &mut ChartRequest| r.limits[0].k = 0.0, "limits.k")]
#[case::k_is_no_number(|r: &mut ChartRequest| r.limits[0].k = f64::NAN, "limits.k")]
#[case::sigma(|r: &mut ChartRequest| r.limits[0] = Limits::given(0.0, 0.0, 3.0), "limits.sigma")]
#[case::sides_crossed(|r: &mut ChartRequest| r.limits[0].basis = LimitsBasis::Estimated { from: None, to: None, lower: Some(2.0), upper: Some(1.0) }, "limits.lower")]
#[case::range_reversed(
    |r: &mut ChartRequest| r.limits[0].basis = LimitsBasis::Estimated { from: Some(2), to: Some(1), lower: None, upper: None }, "limits.from")]
#[case::span(|r: &mut ChartRequest| r.options.span = 11, "options.span")]
#[case::lambda(|r: &mut ChartRequest| r.options.lambda = 0.0, "options.lambda")]
#[case::width(|r: &mut ChartRequest| r.options.width = 0, "options.width")]
#[case::kappa(|r: &mut ChartRequest| r.options.kappa = -0.1, "options.kappa")]
#[case::h(|r: &mut ChartRequest| r.options.h = f64::NAN, "options.h")]
#[case::conforming(|r: &mut ChartRequest| r.options.conforming = true, "options.conforming")]
#[case::nominal(|r: &mut ChartRequest| r.options.nominal = Some(vec![Some(1.0)]), "options.nominal")]
#[case::nominal_missing(|r: &mut ChartRequest| r.options.nominal = Some(vec![None; 4]), "options.nominal[0]")]
#[case::part_sigma_alone(|r: &mut ChartRequest| r.options.part_sigma = Some(vec![Some(1.0); 4]), "options.part_sigma")]
#[case::rules_without_end(|r: &mut ChartRequest| r.rules = Some(RuleSet::of(vec![Rule::Trend { n: 6 }; 101])), "rules.list")]
#[case::rule(|r: &mut ChartRequest| r.rules = Some(RuleSet::of(vec![Rule::Trend { n: 1 }])), "rules.list[0].n")]
#[case::too_many_values(|r: &mut ChartRequest| r.points = vec![vec![1.0], vec![1.0, 2.0]].into(), "points[1].values")]
#[case::nothing(|r: &mut ChartRequest| r.points = Vec::<Vec<f64>>::new().into(), "points")]
fn a_field_out_of_bounds_is_named(#[case] spoil: fn(&mut ChartRequest), #[case] field: &str) {
    let mut request = ChartRequest { limits: vec![Z], ..ChartRequest::new(ChartKind::IMr, vec![vec![1.0]; 4]) };
    assert!(request.check().is_ok());
    spoil(&mut request);
    assert_eq!(request.check().unwrap_err().path, field);
    assert!(compute(&request).is_err());
}

/// Single readings on a chart of subgroups give no sigma: without z, a run and a trend are still looked
/// for about the centre, and rules that need a sigma do not apply.
#[rstest]
#[case::from_the_start(0)]
#[case::after_a_stretch_of_gaps(2000)]
fn without_a_sigma_runs_and_trends_are_still_found(#[case] gaps: usize) {
    let rising = (0..6).map(|i| vec![f64::from(i)]);
    let steady = [7.0, 7.5, 7.0, 7.5, 7.0].map(|x| vec![x]);
    let points: Vec<Vec<f64>> = vec![vec![]; gaps].into_iter().chain(rising).chain(steady).collect();
    let rules =
        vec![Rule::Trend { n: 6 }, Rule::OneSide { n: 5 }, Rule::Hugging { n: 2, k: 9.0 }, Rule::Beyond { k: 3.0 }];
    let request = ChartRequest { rules: Some(RuleSet::of(rules)), ..ChartRequest::new(ChartKind::XbarR, points) };
    let answer = compute(&request).unwrap();
    assert_eq!(answer.phases[0].figures.sigma, None);
    let found: Vec<_> = answer.signals.iter().map(|s| (s.side, s.from - gaps, s.at - gaps, s.to - gaps)).collect();
    // x̄ = 51/11 = 4.64: five below it, then six above.
    assert_eq!(found, [(BELOW, 0, 4, 4), (RISING, 0, 5, 7), (ABOVE, 5, 9, 10)]);
}
