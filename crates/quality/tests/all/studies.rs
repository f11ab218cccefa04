//! What a study answers, what it must be read with, and what may be done with it.

use quality::characteristic::{Characteristic, Kind, Specification};
use quality::sample::Plotted;
use quality::study::{
    CapabilityDoubt, CapabilityQuestion, Index, Known, Picked, Question, Selection, Split, Stage, StudyRefusal,
    capability, may_freeze, may_refresh, may_sign,
};
use quality::thresholds::{Standing, Thresholds};
use rstest::rstest;
use spc::capability::{Chosen, WithinMethod};
use spc::distribution::Family;
use uuid::Uuid;

use crate::common::picked::{at, picked, steady};
use crate::common::{leaks, wall_thickness};

fn wall() -> Characteristic {
    let specification = Specification { lsl: Some(4.4), target: Some(5.0), usl: Some(5.6) };
    Characteristic { specification, ..wall_thickness() }
}

fn question() -> CapabilityQuestion {
    CapabilityQuestion {
        of: Selection::of(Uuid::nil()),
        sigma_method: None,
        distribution: None,
        specification: None,
        thresholds: None,
        bins: None,
        split: None,
    }
}

#[test]
fn a_steady_process_within_its_specification_is_able() {
    let answer = capability(&question(), &wall(), &steady(60, 5.0, 0.1), Known::default()).unwrap();
    assert_eq!(
        (answer.extent.samples, answer.extent.set_aside, answer.extent.numbers, answer.capability.n),
        (60, 0, (1, 60), 180)
    );
    assert_eq!(answer.histogram.counts.iter().sum::<usize>(), 180);
    let verdict = answer.verdict.unwrap();
    assert_eq!((verdict.index, verdict.standing), (Index::Cpk, Standing::Able));
    assert_eq!(Some(verdict.value), answer.capability.cpk);
    // What is drawn reaches beyond the specification, so that its walls stand within.
    let xs = &answer.curves[0].x;
    assert!(xs[0] < 4.4 && xs[xs.len() - 1] > 5.6);
    assert_eq!(answer.against.fitted.len(), answer.against.plot.points.len());
    assert_eq!(answer.fits[0].distribution.family(), Family::Normal);
    let [low, high] = answer.reach.overall;
    assert!((high - low - 6.0 * answer.capability.sigma_overall).abs() < 1e-4);
}

#[rstest]
#[case::not_able(0.25, Standing::NotAble)]
#[case::barely(0.18, Standing::Barely)]
#[case::able(0.1, Standing::Able)]
fn the_verdict_is_by_the_thresholds_of_the_characteristic_or_the_question(#[case] sd: f64, #[case] standing: Standing) {
    let samples = steady(60, 5.0, sd);
    let of = |question: &CapabilityQuestion, setup: &Characteristic| {
        capability(question, setup, &samples, Known::default()).unwrap().verdict.unwrap().standing
    };
    assert_eq!(of(&question(), &wall()), standing);
    let strict = Thresholds { able: 9.0, barely: 8.0 };
    assert_eq!(of(&question(), &Characteristic { thresholds: strict, ..wall() }), Standing::NotAble);
    let own = CapabilityQuestion { thresholds: Some(Thresholds { able: 0.2, barely: 0.1 }), ..question() };
    assert_eq!(of(&own, &wall()), Standing::Able);
}

#[test]
fn what_is_set_aside_is_left_out_and_told_unless_it_is_taken_in() {
    let mut samples = steady(60, 5.0, 0.1);
    samples[10].place.plotted = Plotted::Values(vec![9.0, 9.0, 9.0]);
    samples[10].place.aside = true;
    let without = capability(&question(), &wall(), &samples, Known::default()).unwrap();
    assert_eq!((without.extent.samples, without.extent.set_aside, without.capability.n), (59, 1, 177));
    assert!(without.doubts.contains(&CapabilityDoubt::SetAside { samples: 1 }), "{:?}", without.doubts);
    let of = Selection { set_aside: true, ..Selection::of(Uuid::nil()) };
    let with = capability(&CapabilityQuestion { of, ..question() }, &wall(), &samples, Known::default()).unwrap();
    assert_eq!((with.extent.samples, with.extent.set_aside, with.capability.n), (60, 0, 180));
    assert_eq!(with.capability.ppm.observed.above, Some(1e6 * 3.0 / 180.0));
    assert!(with.capability.sigma_overall > 2.0 * without.capability.sigma_overall);
}

fn told(samples: &[Picked], known: Known) -> Vec<CapabilityDoubt> {
    capability(&question(), &wall(), samples, known).unwrap().doubts
}

#[test]
fn a_steady_process_has_nothing_against_it_and_each_doubt_is_told() {
    let none = Known::default();
    assert_eq!(told(&steady(60, 5.0, 0.1), none), []);
    let known = Known { episodes: 2, unsettled: 1, limits_stale: true };
    let episodes = CapabilityDoubt::Unstable { episodes: 2, unsettled: 1 };
    assert_eq!(told(&steady(60, 5.0, 0.1), known), [episodes, CapabilityDoubt::LimitsStale]);
    let few = CapabilityDoubt::TooFew { samples: 8, values: 24 };
    assert!(told(&steady(8, 5.0, 0.1), none).contains(&few));
    // A mean that moves halfway spreads what is delivered, and nobody has seen it yet.
    let moved: Vec<Picked> = steady(30, 4.9, 0.05).into_iter().chain(steady(30, 5.1, 0.05)).collect();
    let doubts = told(&moved, none);
    assert!(
        doubts.iter().any(|doubt| matches!(doubt, CapabilityDoubt::Unsteady { signals } if *signals > 0)),
        "{doubts:?}"
    );
    assert!(
        doubts.iter().any(|doubt| matches!(doubt, CapabilityDoubt::Drifting { ratio } if *ratio > 1.5)),
        "{doubts:?}"
    );
    let coarse = steady(60, 5.0, 0.05).into_iter().map(|mut one| {
        if let Plotted::Values(values) = &mut one.place.plotted {
            values.iter_mut().for_each(|x| *x = (*x * 10.0).round() / 10.0);
        }
        one
    });
    let doubts = told(&coarse.collect::<Vec<_>>(), none);
    assert!(
        doubts.iter().any(|doubt| matches!(doubt, CapabilityDoubt::Coarse { distinct } if *distinct < 5)),
        "{doubts:?}"
    );
}

/// Values of a lognormal, in an order that says nothing.
fn skewed() -> Vec<Picked> {
    let mut samples = steady(60, 0.0, 1.0);
    for one in &mut samples {
        if let Plotted::Values(values) = &mut one.place.plotted {
            values.iter_mut().for_each(|x| *x = 4.5 + 0.2 * (0.6 * *x).exp());
        }
    }
    samples
}

#[test]
fn values_that_are_not_normal_are_told_and_another_family_takes_its_place_on_demand() {
    let taken = capability(&question(), &wall(), &skewed(), Known::default()).unwrap();
    let said = taken.doubts.iter().find_map(|doubt| match doubt {
        CapabilityDoubt::NotNormal { p, better } => Some((*p < 0.05, *better)),
        _ => None,
    });
    assert!(matches!(said, Some((true, Some(_)))), "{:?}", taken.doubts);
    let auto = CapabilityQuestion { distribution: Some(Chosen::Auto), ..question() };
    let fitted = capability(&auto, &wall(), &skewed(), Known::default()).unwrap();
    let family = fitted.capability.distribution.distribution.family();
    assert_ne!(family, Family::Normal);
    assert_eq!(Some(family), said.unwrap().1);
    assert_eq!(fitted.verdict.unwrap().index, Index::Ppk);
    assert!(!fitted.doubts.iter().any(|doubt| matches!(doubt, CapabilityDoubt::NotNormal { .. })));
    assert!(fitted.capability.ppm.overall.above > taken.capability.ppm.overall.above);
}

#[test]
fn parts_are_answered_beside_one_another_and_one_with_too_little_has_no_figures() {
    let mut samples: Vec<Picked> = steady(30, 4.95, 0.05).into_iter().chain(steady(30, 5.1, 0.05)).collect();
    for (i, one) in samples.iter_mut().enumerate() {
        one.number = i as i64 + 1;
        one.group = Some(if i < 30 { "Before" } else { "After" }.into());
    }
    samples[59].group = Some("Alone".into());
    if let Plotted::Values(values) = &mut samples[59].place.plotted {
        values.truncate(1);
    }
    let split = CapabilityQuestion { split: Some(Split::Phase), ..question() };
    let answer = capability(&split, &wall(), &samples, Known::default()).unwrap();
    let names: Vec<(&str, (i64, i64), usize)> =
        answer.groups.iter().map(|one| (one.group.name.as_str(), one.group.numbers, one.samples)).collect();
    assert_eq!(names, [("Before", (1, 30), 30), ("After", (31, 59), 29), ("Alone", (60, 60), 1)]);
    let means: Vec<Option<f64>> = answer.groups.iter().map(|one| one.capability.as_ref().map(|c| c.mean)).collect();
    assert!((means[0].unwrap() - 4.95).abs() < 0.005 && (means[1].unwrap() - 5.1).abs() < 0.01);
    assert_eq!((means[2], answer.groups[2].standing), (None, None));
}

#[rstest]
#[case::counts(leaks(), vec![], question(), StudyRefusal::OtherKind)]
#[case::no_limit(wall_thickness(), steady(9, 5.0, 0.1), question(), StudyRefusal::NoSpecification)]
#[case::no_sample(wall(), vec![], question(), StudyRefusal::NoSamples)]
#[case::gaps_alone(wall(), picked([vec![], vec![]]), question(), StudyRefusal::NoSamples)]
#[case::all_equal(wall(), picked([vec![5.0, 5.0], vec![5.0]]), question(), StudyRefusal::AllEqual { values: 3 })]
#[case::outside_a_family(
    wall(),
    picked([vec![-1.0, 5.0], vec![5.1]]),
    CapabilityQuestion { distribution: Some(Chosen::Family(Family::Weibull)), ..question() },
    StudyRefusal::OutsideFamily { family: Some(Family::Weibull) }
)]
#[case::moving_ranges_of_threes(
    wall(),
    steady(9, 5.0, 0.1),
    CapabilityQuestion { sigma_method: Some(WithinMethod::MeanMr), ..question() },
    StudyRefusal::NotSingle
)]
fn a_question_without_an_answer_says_why(
    #[case] setup: Characteristic,
    #[case] samples: Vec<Picked>,
    #[case] asked: CapabilityQuestion,
    #[case] because: StudyRefusal,
) {
    let setup = Characteristic {
        specification: if setup.kind == Kind::Measured { setup.specification } else { Specification::default() },
        ..setup
    };
    assert_eq!(capability(&asked, &setup, &samples, Known::default()).unwrap_err(), because);
}

#[rstest]
#[case::last(Selection { last: Some(0), ..Selection::of(Uuid::nil()) }, "last")]
#[case::turned(Selection { since: Some(at(9)), until: Some(at(3)), ..Selection::of(Uuid::nil()) }, "until")]
#[case::no_value(Selection { tags: [("mould".to_owned(), vec![])].into(), ..Selection::of(Uuid::nil()) }, "tags")]
fn a_selection_that_cannot_be_is_refused_by_its_field(#[case] of: Selection, #[case] field: &str) {
    let asked = Question::Capability(CapabilityQuestion { of, ..question() });
    assert_eq!(asked.check().unwrap_err().field, field);
}

#[test]
fn a_question_is_read_as_it_is_written() {
    let text = r#"{"sort":"capability","of":{"characteristic":"00000000-0000-0000-0000-000000000000","last":50,
        "tags":{"mould":["M1","M2"]},"set_aside":true},"distribution":"auto","split":{"by":"tag","name":"mould"}}"#;
    let asked: Question = serde_json::from_str(text).unwrap();
    let Question::Capability(inner) = &asked else { panic!("{asked:?}") };
    assert_eq!(inner.distribution, Some(Chosen::Auto));
    assert_eq!(inner.split, Some(Split::Tag { name: "mould".into() }));
    let again: Question = serde_json::from_value(serde_json::to_value(&asked).unwrap()).unwrap();
    assert_eq!(again, asked);
    let weibull: CapabilityQuestion = serde_json::from_str(
        &r#"{"of":{"characteristic":"ID"},"distribution":"weibull"}"#.replace("ID", &Uuid::nil().to_string()),
    )
    .unwrap();
    assert_eq!(weibull.distribution, Some(Chosen::Family(Family::Weibull)));
}

#[test]
fn what_is_frozen_stays_and_is_signed_once_by_each() {
    assert_eq!((may_refresh(Stage::Kept), may_freeze(Stage::Kept)), (Ok(()), Ok(())));
    assert_eq!(may_refresh(Stage::Frozen), Err(StudyRefusal::Frozen));
    assert_eq!(may_freeze(Stage::Frozen), Err(StudyRefusal::Frozen));
    assert_eq!(may_sign(Stage::Kept, false), Err(StudyRefusal::NotFrozen));
    assert_eq!(may_sign(Stage::Frozen, false), Ok(()));
    assert_eq!(may_sign(Stage::Frozen, true), Err(StudyRefusal::SignedBefore));
}
