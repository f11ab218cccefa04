//! Distributions, sets side by side, and measures over time.

use chrono::{Duration, TimeZone, Utc};
use chrono_tz::Tz;
use quality::characteristic::{Characteristic, Kind};
use quality::place::Place;
use quality::sample::Plotted;
use quality::shift::{Calendar, Shift};
use quality::study::{
    BeyondSide, Columns, DistributionQuestion, Measure, OverTimeQuestion, Picked, Question, Selection, SetAsked,
    SetPicked, SideBySideQuestion, Span, Split, StudyRefusal, SumUp, TakenBecause, TakenDistribution, distribution,
    over_time, side_by_side,
};
use rstest::rstest;
use spc::distribution::{Distribution, Family, Filter};
use uuid::Uuid;

use crate::common::picked::{at, picked, steady};
use crate::common::{leaks, wall_thickness};

fn distribution_question() -> DistributionQuestion {
    DistributionQuestion {
        of: Selection::of(Uuid::nil()),
        taken: TakenDistribution::Best,
        from_a_start: false,
        filter: None,
        bins: None,
        drawn: None,
    }
}

/// Lognormal values, as evenly as values can be.
fn skewed(samples: usize) -> Vec<Picked> {
    let value = |i: usize| spc::normal::quantile((i as f64 + 0.5) / samples as f64).exp();
    picked((0..samples).map(|i| vec![value(i * 7 % samples)]))
}

#[test]
fn the_family_of_lowest_aic_is_taken_and_the_next_is_told() {
    let answer = distribution(&distribution_question(), &wall_thickness(), &skewed(100)).unwrap();
    assert_eq!(answer.taken.family(), Family::Lognormal);
    assert_eq!(answer.fits[0].distribution, answer.taken);
    let TakenBecause::LowestAic { next, by, alike } = &answer.reason else { panic!("{:?}", answer.reason) };
    assert_eq!(*next, Some(answer.fits[1].distribution.family()));
    assert_eq!(*by, Some(answer.fits[1].aic - answer.fits[0].aic));
    let near = answer.fits[1..].iter().filter(|fit| fit.aic < answer.fits[0].aic + 2.0).count();
    assert_eq!(alike.len(), near);
    // The first curve is that of what was taken; every family that holds the values has one.
    assert_eq!(answer.curves[0].family, Family::Lognormal);
    assert_eq!(answer.curves.len(), answer.fits.len());
    let median = answer.quantiles.iter().find(|quantile| quantile.share == 0.5).unwrap();
    assert!((median.fitted - 1.0).abs() < 1e-6, "{median:?}");
    assert_eq!(median.seen, 0.5);
}

#[test]
fn a_family_by_hand_is_held_against_the_best() {
    let taken = TakenDistribution::Family { family: Family::Normal };
    let question = DistributionQuestion { taken, ..distribution_question() };
    let answer = distribution(&question, &wall_thickness(), &skewed(100)).unwrap();
    assert_eq!(answer.taken.family(), Family::Normal);
    let TakenBecause::Chosen { best: Some(Family::Lognormal), by: Some(by) } = answer.reason else {
        panic!("{:?}", answer.reason)
    };
    assert!(by > 10.0);
    assert!(!answer.against.inside);
}

#[test]
fn typed_parameters_are_taken_as_they_are() {
    let typed = Distribution::Weibull { shape: 2.0, scale: 1.5 };
    let question =
        DistributionQuestion { taken: TakenDistribution::Typed { distribution: typed }, ..distribution_question() };
    let answer = distribution(&question, &wall_thickness(), &skewed(50)).unwrap();
    assert_eq!((answer.taken, answer.reason), (typed, TakenBecause::Typed));
    assert_eq!(answer.curves[0].family, Family::Weibull);
    assert!(answer.a2.unwrap() > 0.0);
}

#[test]
fn a_family_from_a_start_is_tried_when_asked() {
    let shifted: Vec<Picked> = skewed(80)
        .into_iter()
        .map(|one| Picked {
            place: Place::of(match one.place.plotted {
                Plotted::Values(values) => Plotted::Values(values.iter().map(|x| x - 3.0).collect()),
                other => other,
            }),
            ..one
        })
        .collect();
    let question = DistributionQuestion { from_a_start: true, ..distribution_question() };
    let answer = distribution(&question, &wall_thickness(), &shifted).unwrap();
    assert_eq!(answer.taken.family(), Family::Lognormal3);
    let without = distribution(&distribution_question(), &wall_thickness(), &shifted).unwrap();
    assert!(without.fits.iter().all(|fit| fit.distribution.parameters() < 3));
}

#[rstest]
#[case::constants(Filter { low: Some(2.0), high: Some(9.0), percentile: None }, (1, 1))]
#[case::one_end(Filter { low: None, high: Some(5.0), percentile: None }, (0, 6))]
// Rank 0.1·(12 + 1) = 1.3: between the first and the second value.
#[case::percentile(Filter { percentile: Some(0.1), low: None, high: None }, (1, 1))]
fn a_filter_says_what_it_left_out(#[case] filter: Filter, #[case] left_out: (usize, usize)) {
    let values = [1.0, 2.0, 3.0, 3.5, 4.0, 5.0, 6.0, 7.0, 8.0, 8.5, 9.0, 40.0];
    let question = DistributionQuestion { filter: Some(filter), drawn: Some(3), ..distribution_question() };
    let answer = distribution(&question, &wall_thickness(), &picked(values.map(|x| vec![x]))).unwrap();
    assert_eq!(answer.left_out, left_out);
    assert_eq!(answer.n, 12 - left_out.0 - left_out.1);
    // All are used though three are drawn; what was left out of those is told apart.
    assert_eq!(answer.drawn.len(), 3);
    assert_eq!(answer.drawn[2].left_out, [40.0]);
    assert_eq!(answer.extent.samples, 12);
}

#[rstest]
#[case::equal(picked([vec![1.0], vec![1.0]]), TakenDistribution::Best, StudyRefusal::AllEqual { values: 2 })]
#[case::none(vec![], TakenDistribution::Best, StudyRefusal::NoSamples)]
#[case::outside(
    picked([vec![-1.0], vec![1.0], vec![2.0]]),
    TakenDistribution::Family { family: Family::Lognormal },
    StudyRefusal::OutsideFamily { family: Some(Family::Lognormal) }
)]
#[case::typed_outside(
    picked([vec![-1.0], vec![1.0], vec![2.0]]),
    TakenDistribution::Typed { distribution: Distribution::Gamma { shape: 1.0, scale: 1.0 } },
    StudyRefusal::OutsideFamily { family: Some(Family::Gamma) }
)]
fn no_distribution_says_why(
    #[case] picked: Vec<Picked>,
    #[case] taken: TakenDistribution,
    #[case] refusal: StudyRefusal,
) {
    let question = DistributionQuestion { taken, ..distribution_question() };
    assert_eq!(distribution(&question, &wall_thickness(), &picked).unwrap_err(), refusal);
}

#[rstest]
#[case::percentile(Some(Filter { percentile: Some(0.5), low: None, high: None }), None, "percentile")]
#[case::both(Some(Filter { percentile: Some(0.1), low: Some(1.0), high: None }), None, "percentile")]
#[case::order(Some(Filter { percentile: None, low: Some(2.0), high: Some(1.0) }), None, "filter")]
#[case::drawn(None, Some(1001), "drawn")]
fn a_question_of_distribution_is_refused_by_its_field(
    #[case] filter: Option<Filter>,
    #[case] drawn: Option<u32>,
    #[case] field: &str,
) {
    let question = Question::Distribution(DistributionQuestion { filter, drawn, ..distribution_question() });
    assert_eq!(question.check().unwrap_err().field, field);
}

fn calendar() -> Calendar {
    let shift =
        |name: &str, hour| Shift { name: name.into(), begins: chrono::NaiveTime::from_hms_opt(hour, 0, 0).unwrap() };
    Calendar { zone: Tz::Europe__Vienna, shifts: vec![shift("Early", 6), shift("Late", 14), shift("Night", 22)] }
}

fn sets(names: &[&str]) -> SideBySideQuestion {
    let set = |name: &&str| SetAsked { name: Some((*name).into()), of: Selection::of(Uuid::nil()) };
    SideBySideQuestion { sets: names.iter().map(set).collect(), split: None, confidence: None }
}

#[test]
fn sets_stand_beside_the_first_in_common_bars() {
    let wall = wall_thickness();
    let set = |picked| SetPicked { characteristic: &wall, place: "Casting line 1".into(), picked };
    let both = [set(steady(20, 5.0, 0.1)), set(steady(30, 5.2, 0.1))];
    let answer = side_by_side(&sets(&["Line 1", "Line 2"]), &both).unwrap();
    let Columns::Measured { columns, edges } = &answer.columns else { panic!("{answer:?}") };
    assert_eq!(columns[0].against, None);
    let difference = columns[1].against.as_ref().unwrap().mean_difference.unwrap();
    assert!((difference.value.unwrap() - 0.2).abs() < 1e-3 && difference.p < 1e-6, "{difference:?}");
    for (column, n) in columns.iter().zip([60, 90]) {
        assert_eq!(column.bars.len(), edges.len() - 1);
        assert_eq!(column.bars.iter().sum::<u64>(), n);
        let [low, high] = column.mean_interval.unwrap();
        assert!(low < column.figures.mean && column.figures.mean < high);
    }
}

#[test]
fn a_set_is_told_apart_and_what_holds_nothing_is_named() {
    let mut samples = steady(9, 5.0, 0.1);
    for (i, one) in samples.iter_mut().enumerate() {
        one.group = Some(["M1", "M2", "M3"][i % 3].into());
        one.place.aside = i % 3 == 2;
    }
    let wall = wall_thickness();
    let set = SetPicked { characteristic: &wall, place: String::new(), picked: samples };
    let question = SideBySideQuestion { split: Some(Split::Tag { name: "mould".into() }), ..sets(&["Wall"]) };
    let answer = side_by_side(&question, &[set]).unwrap();
    let Columns::Measured { columns, .. } = &answer.columns else { panic!("{answer:?}") };
    let named: Vec<&str> = columns.iter().map(|column| column.figures.name.as_str()).collect();
    assert_eq!((named, answer.empty), (vec!["M1", "M2"], vec!["M3".to_owned()]));
    assert_eq!(columns[1].of.group.as_deref(), Some("M2"));
}

#[test]
fn what_differs_in_kind_is_not_compared() {
    let (wall, leaks) = (wall_thickness(), leaks());
    let set = |characteristic, picked| SetPicked { characteristic, place: String::new(), picked };
    let unlike = [set(&wall, steady(3, 5.0, 0.1)), set(&leaks, vec![])];
    assert_eq!(side_by_side(&sets(&["a", "b"]), &unlike).unwrap_err(), StudyRefusal::Unlike);
    let rare = Characteristic { kind: Kind::RareEvent, ..wall_thickness() };
    assert_eq!(side_by_side(&sets(&["a"]), &[set(&rare, vec![])]).unwrap_err(), StudyRefusal::OtherKind);
    assert_eq!(side_by_side(&sets(&["a"]), &[set(&wall, vec![])]).unwrap_err(), StudyRefusal::NoSamples);
}

fn over(measure: Measure, summary: SumUp, per: Span) -> OverTimeQuestion {
    OverTimeQuestion { of: Selection::of(Uuid::nil()), measure, summary, per, k: 3.0 }
}

/// One value an hour.
fn hourly(values: impl IntoIterator<Item = f64>) -> Vec<Picked> {
    let mut samples = picked(values.into_iter().map(|x| vec![x]));
    for (i, one) in (0..).zip(&mut samples) {
        one.taken_at = at(60 * i);
    }
    samples
}

#[test]
fn values_are_summed_up_by_the_day_of_the_site_and_judged_like_individuals() {
    // Ten days from 07:00 of the site on, the ninth far off.
    let values = (0..240).map(|hour| if (185..209).contains(&hour) { 9.0 } else { 5.0 + f64::from(hour % 5) / 100.0 });
    let samples = hourly(values);
    let question = over(Measure::Value, SumUp::Mean, Span::Day);
    let answer = over_time(&question, &wall_thickness(), &samples, &calendar(), at(60 * 24 * 30)).unwrap();
    assert_eq!(answer.periods[0].name, "2026-03-02");
    assert_eq!(answer.periods[0].samples, 17);
    assert_eq!(answer.periods[1].samples, 24);
    let limits = answer.limits.unwrap();
    assert_eq!(limits.used, answer.periods.len());
    let mean = spc::subgroup::mean(&answer.periods.iter().filter_map(|period| period.value).collect::<Vec<_>>());
    assert!((limits.center - mean.unwrap()).abs() < 1e-12);
    assert!((limits.upper - limits.center - 3.0 * limits.sigma).abs() < 1e-12);
    let beyond: Vec<&str> = answer
        .periods
        .iter()
        .filter(|period| period.beyond == Some(BeyondSide::Above))
        .map(|p| p.name.as_str())
        .collect();
    assert_eq!((beyond.len(), answer.beyond), (1, 1));
}

#[test]
fn the_period_that_goes_on_still_moves_no_limits() {
    let samples = hourly((0..240).map(|hour| 5.0 + f64::from(hour % 5) / 100.0));
    let question = over(Measure::Sample, SumUp::Number, Span::Day);
    let now = at(60 * 239 + 1);
    let answer = over_time(&question, &wall_thickness(), &samples, &calendar(), now).unwrap();
    let last = answer.periods.last().unwrap();
    assert!(last.running && last.value == Some(7.0), "{last:?}");
    assert_eq!(last.beyond, None);
    assert_eq!(answer.limits.unwrap().used, answer.periods.len() - 1);
}

#[test]
fn a_period_without_a_sample_counts_as_none_of_a_number_and_as_nothing_of_a_mean() {
    let mut samples = hourly([1.0, 2.0]);
    samples[1].taken_at = at(60 * 72);
    let of = |summary| {
        let question = over(Measure::Value, summary, Span::Day);
        over_time(&question, &wall_thickness(), &samples, &calendar(), at(60 * 24 * 30)).unwrap()
    };
    let values = |summary| of(summary).periods.iter().map(|period| period.value).collect::<Vec<_>>();
    assert_eq!(values(SumUp::Number), [Some(1.0), Some(0.0), Some(0.0), Some(1.0)]);
    assert_eq!(values(SumUp::Mean), [Some(1.0), None, None, Some(2.0)]);
    assert_eq!(of(SumUp::Mean).limits, None);
}

#[test]
fn a_tag_is_a_column_where_it_is_a_number() {
    let mut samples = hourly([1.0, 1.0, 1.0]);
    for (one, tag) in samples.iter_mut().zip(["1180", "1 190,5", "hot"]) {
        one.group = Some(tag.replace(' ', ""));
    }
    let question = over(Measure::Tag { name: "oven".into() }, SumUp::Largest, Span::Day);
    let answer = over_time(&question, &wall_thickness(), &samples, &calendar(), at(60 * 24 * 30)).unwrap();
    assert_eq!((answer.periods[0].value, answer.no_numbers), (Some(1190.5), 1));
}

#[rstest]
#[case::rate_of_values(Measure::Rate, StudyRefusal::OtherKind)]
#[case::count_of_values(Measure::Count, StudyRefusal::OtherKind)]
fn a_column_that_the_data_have_not_is_refused(#[case] measure: Measure, #[case] refusal: StudyRefusal) {
    let question = over(measure, SumUp::Mean, Span::Day);
    let answer = over_time(&question, &wall_thickness(), &hourly([1.0, 2.0]), &calendar(), at(0));
    assert_eq!(answer.unwrap_err(), refusal);
}

#[test]
fn too_many_periods_and_no_shifts_are_said() {
    let mut samples = hourly([1.0, 2.0]);
    samples[1].taken_at = at(60 * 3000);
    let wall = wall_thickness();
    let asked = |per, calendar: &Calendar| {
        over_time(&over(Measure::Value, SumUp::Mean, per), &wall, &samples, calendar, at(60 * 4000)).unwrap_err()
    };
    assert_eq!(asked(Span::Hour, &calendar()), StudyRefusal::TooManyPeriods { most: 2000 });
    assert_eq!(asked(Span::Shift, &Calendar { shifts: vec![], ..calendar() }), StudyRefusal::NoShifts);
}

#[rstest]
#[case::day(Span::Day, "2026-03-29", 23)]
#[case::night_of_the_day_before(Span::Shift, "2026-03-28 Night", 7)]
#[case::week(Span::Week, "2026-W13", 167)]
#[case::month(Span::Month, "2026-03", 743)]
#[case::hour(Span::Hour, "2026-03-29 01:00", 1)]
fn periods_follow_the_clock_of_the_site(#[case] span: Span, #[case] name: &str, #[case] hours: i64) {
    // Half an hour before clocks are put forward.
    let half_past_one = Utc.with_ymd_and_hms(2026, 3, 29, 0, 30, 0).unwrap();
    let period = span.holding(half_past_one, &calendar()).unwrap();
    assert_eq!((period.name.as_str(), period.ends - period.began), (name, Duration::hours(hours)));
    assert!(period.began <= half_past_one && half_past_one < period.ends);
}

#[rstest]
#[case(Split::Shift, Some("Night"))]
#[case(Split::Week, Some("2026-W13"))]
#[case(Split::Phase, None)]
fn parts_by_time_are_named(#[case] split: Split, #[case] name: Option<&str>) {
    let at = Utc.with_ymd_and_hms(2026, 3, 29, 0, 30, 0).unwrap();
    assert_eq!(split.part(at, &calendar()).as_deref(), name);
}
