//! Means and standard deviations keep their digits, and rounding dust is no sigma.

use rstest::rstest;
use spc::chart::{ChartKind, ChartOptions, ChartRequest, SigmaMethod, compute};
use spc::rules::{Preset, RuleSet};
use spc::subgroup::{mean, sd};

/// NIST StRD, univariate: 1001 values about 1000000.2 and 10000000.2, alternately a tenth below and above.
#[rstest]
#[case::num_acc3(1_000_000.2, 0.1)]
#[case::num_acc4(10_000_000.2, 0.1)]
fn certified_means_are_met_to_the_last_digits(#[case] center: f64, #[case] spread: f64) {
    let pair = [center - spread, center + spread];
    let values: Vec<f64> = std::iter::once(center).chain(pair.into_iter().cycle().take(1000)).collect();
    const RELATIVE: f64 = 1e-15;
    assert!((mean(&values).unwrap() / center - 1.0).abs() <= RELATIVE);
    // The readings themselves are rounded to nine decimals of their distance.
    assert!((sd(&values).unwrap() / spread - 1.0).abs() <= 1e-8);
}

#[rstest]
#[case::means_and_s(ChartKind::XbarS, 12, 12, 0.1)]
#[case::means_and_ranges(ChartKind::XbarR, 12, 5, 0.7)]
#[case::ewma(ChartKind::Ewma, 12, 12, 0.1)]
#[case::cusum(ChartKind::Cusum, 12, 12, 0.1)]
#[case::moving_average(ChartKind::MovingAverage, 12, 6, 2.7)]
#[case::between_within(ChartKind::BetweenWithin, 12, 7, 4.1)]
#[case::individuals(ChartKind::IMr, 30, 1, 3.1)]
fn equal_readings_have_no_sigma_and_no_signals(
    #[case] chart: ChartKind,
    #[case] points: usize,
    #[case] n: usize,
    #[case] reading: f64,
    #[values(Preset::WesternElectric, Preset::Nelson)] preset: Preset,
) {
    let options = ChartOptions { sigma_method: SigmaMethod::Overall, ..ChartOptions::default() };
    let options = if chart == ChartKind::IMr { options } else { ChartOptions::default() };
    let request = ChartRequest {
        rules: Some(RuleSet::Preset(preset)),
        options,
        ..ChartRequest::new(chart, vec![vec![reading; n]; points])
    };
    let answer = compute(&request).unwrap();
    assert_eq!((answer.phases[0].figures.sigma, answer.phases[0].figures.center), (Some(0.0), Some(reading)));
    assert_eq!(answer.signals, []);
}

/// 1,000 values about 100000.2, of which 20 in a row lie on the centre: no run of nine.
#[test]
fn values_on_the_centre_line_are_no_run() {
    let pairs = [100_000.1, 100_000.3];
    let values = pairs.into_iter().cycle().take(980).chain([100_000.2; 20]);
    let request = ChartRequest {
        rules: Some(RuleSet::of(vec![spc::rules::Rule::OneSide { n: 9 }])),
        ..ChartRequest::new(ChartKind::IMr, values.map(|x| vec![x]).collect::<Vec<_>>())
    };
    let found = compute(&request).unwrap().signals;
    assert!(found.iter().all(|signal| signal.panel == spc::chart::Statistic::MovingRange), "{found:?}");
}
