//! Distributions at their edges, where a fit or a capability study would mislead if they were wrong.

use proptest::prelude::*;
use rstest::rstest;
use spc::distribution::{
    Distribution, Family, Filter, FitRequest, HistogramRequest, PlotRequest, Tally, anderson_darling, fit, fit_one,
    histogram, normality, probability_plot, thinned_plot,
};
use spc::normal;

fn families() -> impl Strategy<Value = Distribution> {
    let spread = 0.05f64..20.0;
    let shape = 0.3f64..40.0;
    let place = -50.0f64..50.0;
    prop_oneof![
        (place.clone(), spread.clone()).prop_map(|(mean, sd)| Distribution::Normal { mean, sd }),
        (-2.0f64..3.0, 0.05f64..1.5).prop_map(|(mu, sigma)| Distribution::Lognormal { mu, sigma }),
        (-2.0f64..3.0, 0.05f64..1.5, place.clone()).prop_map(|(mu, sigma, location)| Distribution::Lognormal3 {
            mu,
            sigma,
            location
        }),
        (shape.clone(), spread.clone()).prop_map(|(shape, scale)| Distribution::Weibull { shape, scale }),
        (shape.clone(), spread.clone(), place.clone()).prop_map(|(shape, scale, location)| Distribution::Weibull3 {
            shape,
            scale,
            location
        }),
        (shape, spread.clone()).prop_map(|(shape, scale)| Distribution::Gamma { shape, scale }),
        spread.clone().prop_map(|mean| Distribution::Exponential { mean }),
        (place.clone(), spread.clone()).prop_map(|(location, scale)| Distribution::Logistic { location, scale }),
        (place, spread).prop_map(|(location, scale)| Distribution::Gumbel { location, scale }),
    ]
}

proptest! {
    #[test]
    fn a_quantile_is_where_its_probability_lies(of in families(), p in 0.001f64..0.999) {
        let x = of.quantile(p, 1.0 - p);
        // A quantile next to a location loses digits to it: its probability is known less well.
        prop_assert!((of.cdf(x) - p).abs() <= 1e-7, "{of:?}: F({x}) is {} not {p}", of.cdf(x));
        prop_assert!((of.cdf(x) + of.upper_tail(x) - 1.0).abs() <= 1e-12);
    }

    #[test]
    fn the_density_is_the_slope_of_the_distribution_function(of in families(), p in 0.05f64..0.95) {
        let x = of.quantile(p, 1.0 - p);
        // By what lies around, not by the whole width: skewed densities bend within that.
        let step = 1e-2 * (of.quantile(p + 0.01, 0.99 - p) - of.quantile(p - 0.01, 1.01 - p));
        prop_assume!(of.cdf(x - step) > 0.0);
        let slope = (of.cdf(x + step) - of.cdf(x - step)) / (2.0 * step);
        let density = of.log_density(x).exp();
        prop_assert!((slope / density - 1.0).abs() <= 5e-3, "{of:?} at {x}: {slope} is not {density}");
    }

    #[test]
    fn anderson_darling_of_equal_values_is_that_of_each_by_its_rank(
        values in prop::collection::vec(-3.0f64..3.0, 2..200),
        (mean, sd) in (-0.5f64..0.5, 0.5f64..2.0),
    ) {
        let mut sorted: Vec<f64> = values.into_iter().map(|x| (4.0 * x).round() / 4.0).collect();
        sorted.sort_by(f64::total_cmp);
        let (n, of) = (sorted.len() as f64, Distribution::Normal { mean, sd });
        let each = sorted.iter().zip(sorted.iter().rev()).enumerate();
        let sum: f64 = each
            .map(|(i, (low, high))| (2.0 * i as f64 + 1.0) * (of.cdf(*low).ln() + of.upper_tail(*high).ln()))
            .sum();
        let by_rank = -n - sum / n;
        let found = anderson_darling(&Tally::of(&sorted), &of).unwrap();
        prop_assert!((found - by_rank).abs() <= 1e-10 * n, "{found} is not {by_rank}");
    }

    #[test]
    fn no_other_parameters_are_likelier_than_those_of_the_fit(
        values in prop::collection::vec(0.5f64..30.0, 8..60),
        factor in prop::sample::select(vec![0.999, 1.001]),
    ) {
        // Rounded, as what is measured is: several values are alike.
        let values: Vec<f64> = values.into_iter().map(|x| (2.0 * x).round().max(1.0) / 2.0).collect();
        for family in Family::TWO_PARAMETERS {
            let Some(found) = fit_one(family, &Tally::of(&values)) else { continue };
            for other in neighbours(found.distribution, factor) {
                let likelihood: f64 = values.iter().map(|&x| other.log_density(x)).sum();
                prop_assert!(likelihood <= found.log_likelihood + 1e-9 * found.log_likelihood.abs(), "{other:?}");
            }
        }
    }
}

/// The same distribution with one parameter a little larger or smaller.
fn neighbours(of: Distribution, factor: f64) -> Vec<Distribution> {
    use Distribution::{Exponential, Gamma, Gumbel, Logistic, Lognormal, Normal, Weibull};
    match of {
        Normal { mean, sd } => vec![Normal { mean: mean * factor, sd }, Normal { mean, sd: sd * factor }],
        Lognormal { mu, sigma } => vec![Lognormal { mu: mu * factor, sigma }, Lognormal { mu, sigma: sigma * factor }],
        Weibull { shape, scale } => {
            vec![Weibull { shape: shape * factor, scale }, Weibull { shape, scale: scale * factor }]
        }
        Gamma { shape, scale } => vec![Gamma { shape: shape * factor, scale }, Gamma { shape, scale: scale * factor }],
        Exponential { mean } => vec![Exponential { mean: mean * factor }],
        Logistic { location, scale } => {
            vec![Logistic { location: location * factor, scale }, Logistic { location, scale: scale * factor }]
        }
        Gumbel { location, scale } => {
            vec![Gumbel { location: location * factor, scale }, Gumbel { location, scale: scale * factor }]
        }
        _ => vec![],
    }
}

#[rstest]
#[case::lognormal(Distribution::Lognormal { mu: 0.0, sigma: 1.0 })]
#[case::weibull(Distribution::Weibull { shape: 2.0, scale: 1.0 })]
#[case::gamma(Distribution::Gamma { shape: 2.0, scale: 1.0 })]
#[case::exponential(Distribution::Exponential { mean: 1.0 })]
fn nothing_lies_below_where_a_family_begins(#[case] of: Distribution) {
    assert_eq!((of.cdf(-1.0), of.upper_tail(-1.0), of.cdf(0.0)), (0.0, 1.0, 0.0));
    assert_eq!(of.log_density(-1.0), f64::NEG_INFINITY);
}

/// Tails of the normal distribution as printed to ten digits: Φ(−6) = 9.865876450e-10, Φ⁻¹(1e-10) = −6.361340902.
#[test]
fn far_tails_of_the_normal_distribution_hold() {
    assert!((normal::cdf(-6.0) / 9.865_876_450e-10 - 1.0).abs() < 1e-9);
    assert!((normal::quantile(1e-10) / -6.361_340_902 - 1.0).abs() < 1e-9);
    assert_eq!(normal::quantile(0.5), 0.0);
    assert_eq!((normal::quantile(0.0), normal::quantile(1.0)), (f64::NEG_INFINITY, f64::INFINITY));
}

/// Skewed to the left, so that no location makes it lognormal; of shape below 1, so that none makes it Weibull.
#[rstest]
#[case(Family::Lognormal3, &[1.0, 5.0, 7.0, 8.0, 8.5, 8.8, 9.0, 9.1, 9.15])]
#[case(Family::Weibull3, &[1.0, 1.01, 1.02, 1.05, 1.1, 1.3, 2.0, 5.0, 14.0, 60.0])]
fn without_an_interior_maximum_a_family_is_left_out(#[case] family: Family, #[case] values: &[f64]) {
    let request = FitRequest { values: values.to_vec(), families: Some(vec![family, Family::Normal]), filter: None };
    let answer = fit(&request).unwrap();
    assert_eq!(answer.fits.len(), 1);
    assert_eq!(answer.chosen, Some(Family::Normal));
}

#[test]
fn a_filter_keeps_values_equal_to_its_bounds() {
    let filter = |filter| FitRequest { values: vec![1.0, 2.0, 3.0, 4.0, 50.0], families: None, filter: Some(filter) };
    let constants = Filter { low: Some(2.0), high: Some(4.0), ..Filter::default() };
    assert_eq!(fit(&filter(constants)).unwrap().left_out, 2);
    // Ranks 0.2·6 = 1.2 and 4.8: from 1.2 to 40.8.
    let percentile = Filter { percentile: Some(0.2), ..Filter::default() };
    assert_eq!(fit(&filter(percentile)).unwrap().left_out, 2);
}

#[rstest]
#[case::both(Filter { percentile: Some(0.1), low: Some(1.0), high: None }, "filter")]
#[case::half(Filter { percentile: Some(0.5), low: None, high: None }, "filter.percentile")]
#[case::reversed(Filter { percentile: None, low: Some(3.0), high: Some(2.0) }, "filter.low")]
#[case::leaves_nothing(Filter { percentile: None, low: Some(3.5), high: Some(3.6) }, "filter")]
fn a_filter_that_cannot_be_is_refused(#[case] filter: Filter, #[case] field: &str) {
    let request = FitRequest { values: vec![1.0, 2.0, 3.0, 4.0], families: None, filter: Some(filter) };
    assert_eq!(fit(&request).unwrap_err().path, field);
}

/// A very large A*² lies beyond the vertex of the printed parabola, where p must not rise again.
#[test]
fn what_is_far_from_normal_has_no_probability() {
    let values: Vec<f64> = (0..2000).map(|i| if i < 1000 { 0.0 } else { 1.0 }).collect();
    let found = normality(&values).unwrap();
    assert!(found.a2_star > 150.0 && found.p < 1e-100, "{found:?}");
    assert_eq!(normality(&[3.0; 10]), None);
}

/// Bins of whole units: each holds as many values that can be read, and ends between two of them.
#[rstest]
#[case::as_many_as_the_spread_asks(None)]
#[case::asked_for(Some(7))]
fn bars_of_a_measuring_unit_do_not_stand_like_the_teeth_of_a_comb(#[case] bins: Option<usize>) {
    // As often at each hundredth from 6.00 to 6.34.
    let values: Vec<f64> = (0..35).flat_map(|i| [f64::from(600 + i) / 100.0; 20]).collect();
    let plain = histogram(&HistogramRequest { values: values.clone(), bins, unit: None }).unwrap();
    let found = histogram(&HistogramRequest { values, bins, unit: Some(0.01) }).unwrap();
    let full = &found.counts[..found.counts.len() - 1];
    assert!(full.iter().all(|count| *count == full[0]), "{:?}", found.counts);
    assert_eq!(found.counts.iter().sum::<usize>(), 700);
    assert!((found.edges[0] - 5.995).abs() < 1e-12);
    for edge in &found.edges {
        let hundredths = edge * 100.0;
        assert!(((hundredths - hundredths.floor()) - 0.5).abs() < 1e-6, "{edge}");
    }
    if bins.is_none() {
        assert!(plain.counts.iter().any(|count| *count != plain.counts[0]), "nothing to mend: {:?}", plain.counts);
    } else {
        assert_eq!(found.counts.len(), 7);
    }
}

#[test]
fn a_unit_that_is_none_is_refused_and_equal_values_are_one_bar() {
    let one = |unit| histogram(&HistogramRequest { values: vec![2.0; 5], bins: None, unit });
    assert_eq!(one(Some(0.5)).unwrap().edges, [1.75, 2.25]);
    for unit in [0.0, -1.0, f64::NAN] {
        assert_eq!(one(Some(unit)).unwrap_err().path, "unit");
    }
}

#[test]
fn a_thinned_plot_keeps_both_ends_and_its_points_lie_where_those_of_the_whole_do() {
    let normal = Distribution::Normal { mean: 10.0, sd: 2.0 };
    let sorted: Vec<f64> = (1..=5_000)
        .map(|i| normal.quantile((f64::from(i) - 0.5) / 5_000.0, 1.0 - (f64::from(i) - 0.5) / 5_000.0))
        .collect();
    let request = PlotRequest {
        values: sorted.clone(),
        family: Family::Normal,
        parameters: Some(serde_json::json!({"mean": 10.0, "sd": 2.0})),
    };
    let whole = probability_plot(&request).unwrap();
    let thinned = thinned_plot(&sorted, normal, 200).unwrap();
    assert!((150..=200).contains(&thinned.points.len()), "{}", thinned.points.len());
    assert_eq!(thinned.points.first(), whole.points.first());
    assert_eq!(thinned.points.last(), whole.points.last());
    for (point, band) in thinned.points.iter().zip(&thinned.band) {
        let at = whole.points.iter().position(|one| one == point).unwrap();
        assert_eq!(whole.band[at], *band);
    }
    // The tails are where a fit fails: they are there one by one.
    let ranks: Vec<f64> = thinned.points.iter().take(5).map(|point| point.rank).collect();
    assert_eq!(ranks, whole.points.iter().take(5).map(|point| point.rank).collect::<Vec<f64>>());
}
