//! What can be set up, and which chart is recommended for it.

use quality::characteristic::{Bounds, Characteristic, DefectKind, Kind, Sampling, Specification, Taken};
use quality::chooser::{Asked, Caution, ChartReason, recommend};
use quality::scale::Scale;
use quality::setup::SetUpRefusal;
use quality::thresholds::Thresholds;
use rstest::rstest;
use spc::chart::{ChartKind, Statistic};
use spc::points::{Count, Points};
use uuid::Uuid;

use crate::common::{leaks, wall_thickness};

fn letter(letter: char, name: &str) -> DefectKind {
    DefectKind { id: Uuid::nil(), name: name.into(), letter }
}

fn scale(panel: Statistic, low: f64, high: f64) -> Scale {
    Scale { panel, low, high }
}

#[test]
fn what_is_whole_can_be_set_up() {
    assert_eq!(wall_thickness().check(), Ok(()));
    assert_eq!(leaks().check(), Ok(()));
}

#[rstest]
#[case::no_name(Characteristic { name: " ".into(), ..wall_thickness() }, "name")]
#[case::unit(Characteristic { unit: "x".repeat(81), ..wall_thickness() }, "unit")]
#[case::decimals_of_counts(Characteristic { decimals: 1, ..leaks() }, "decimals")]
#[case::chart_of_other_kind(Characteristic { chart: ChartKind::P, ..wall_thickness() }, "chart")]
#[case::individuals_of_three(Characteristic { chart: ChartKind::IMr, ..wall_thickness() }, "chart")]
#[case::means_of_one(Characteristic { subgroup_size: 1, ..wall_thickness() }, "chart")]
#[case::np_of_varying(Characteristic { chart: ChartKind::Np, ..leaks() }, "chart")]
#[case::varying_pieces(Characteristic { varying: true, ..wall_thickness() }, "varying")]
#[case::no_pieces(Characteristic { subgroup_size: 0, ..wall_thickness() }, "subgroup_size")]
#[case::too_many(Characteristic { subgroup_size: 201, ..wall_thickness() }, "subgroup_size")]
#[case::no_time(Characteristic { sampling: Sampling::Minutes { count: 0 }, ..wall_thickness() }, "sampling")]
#[case::bounds(Characteristic { hard_bounds: Bounds { lower: Some(2.0), upper: Some(1.0) }, ..wall_thickness() },
    "hard_bounds")]
#[case::nan(Characteristic { soft_bounds: Bounds { lower: Some(f64::NAN), upper: None }, ..wall_thickness() },
    "soft_bounds")]
#[case::spec(Characteristic {
    specification: Specification { lsl: Some(1.0), target: Some(4.0), usl: Some(3.0) }, ..wall_thickness() },
    "specification")]
#[case::empty_step(Characteristic { reaction_plan: vec!["".into()], ..wall_thickness() }, "reaction_plan")]
#[case::raised_at_once(Characteristic { escalates_after: 0, ..wall_thickness() }, "escalates_after")]
#[case::raised_after_more_than_a_day(Characteristic { escalates_after: 1441, ..wall_thickness() }, "escalates_after")]
#[case::shift_asked(Characteristic { asked_tags: vec!["shift".into()], ..wall_thickness() }, "asked_tags")]
#[case::barely_above_able(Characteristic { thresholds: Thresholds { able: 1.0, barely: 1.33 }, ..wall_thickness() },
    "thresholds")]
#[case::never_able(Characteristic { thresholds: Thresholds { able: f64::NAN, barely: 1.0 }, ..wall_thickness() },
    "thresholds")]
#[case::scale_turned(Characteristic { scales: vec![scale(Statistic::Mean, 5.0, 4.0)], ..wall_thickness() }, "scales")]
#[case::scale_without_end(Characteristic { scales: vec![scale(Statistic::Mean, 5.0, f64::INFINITY)], ..wall_thickness() },
    "scales")]
#[case::scale_twice(Characteristic {
    scales: vec![scale(Statistic::Mean, 4.0, 5.0), scale(Statistic::Mean, 4.0, 6.0)], ..wall_thickness()
}, "scales")]
#[case::twice(Characteristic { labels: vec!["a".into(), "a".into()], ..wall_thickness() }, "labels")]
#[case::kinds_of_values(Characteristic { defect_kinds: vec![letter('A', "a")], ..wall_thickness() }, "defect_kinds")]
#[case::letter_twice(Characteristic { defect_kinds: vec![letter('A', "a"), letter('A', "b")], ..leaks() },
    "defect_kinds")]
#[case::undo(Characteristic { defect_kinds: vec![letter('U', "a")], ..leaks() }, "defect_kinds")]
#[case::components_of_counts(Characteristic { components: vec!["X".into()], ..leaks() }, "components")]
fn what_cannot_be_is_named(#[case] given: Characteristic, #[case] field: &str) {
    let Err(SetUpRefusal::Fields(wrong)) = given.check() else { panic!("{field} is refused") };
    assert!(wrong.iter().any(|w| w.field == field), "{wrong:?}");
}

#[rstest]
#[case::rules_and_words(Characteristic { name: "Wall".into(), decimals: 3, ..wall_thickness() }, true)]
#[case::mean_and_s(Characteristic { chart: ChartKind::XbarS, ..wall_thickness() }, true)]
#[case::unit(Characteristic { unit: "in".into(), ..wall_thickness() }, false)]
#[case::pieces(Characteristic { subgroup_size: 4, ..wall_thickness() }, false)]
#[case::kind(leaks(), false)]
fn a_change_keeps_what_old_points_mean(#[case] after: Characteristic, #[case] keeps: bool) {
    assert_eq!(wall_thickness().may_become(&after, true).is_ok(), keeps);
    assert_eq!(wall_thickness().may_become(&after, false), Ok(()));
}

#[test]
fn a_kind_that_was_counted_stays_in_the_catalogue() {
    let fewer = Characteristic { defect_kinds: leaks().defect_kinds[..1].to_vec(), ..leaks() };
    assert_eq!(leaks().may_become(&fewer, true), Err(SetUpRefusal::HasSamples));
    assert_eq!(fewer.may_become(&leaks(), true), Ok(()));
}

const UNITS: Kind = Kind::NonconformingUnits;
const FLAWS: Kind = Kind::Nonconformities;

#[rstest]
#[case(Kind::Measured, 1, false, ChartKind::IMr, ChartReason::SingleValue)]
#[case(Kind::Measured, 2, false, ChartKind::XbarR, ChartReason::FewPieces)]
#[case(Kind::Measured, 10, false, ChartKind::XbarR, ChartReason::FewPieces)]
#[case(Kind::Measured, 11, false, ChartKind::XbarS, ChartReason::ManyPieces)]
#[case(UNITS, 200, false, ChartKind::Np, ChartReason::UnitsConstant)]
#[case(UNITS, 200, true, ChartKind::P, ChartReason::UnitsVarying)]
#[case(FLAWS, 10, false, ChartKind::C, ChartReason::FlawsConstant)]
#[case(FLAWS, 10, true, ChartKind::U, ChartReason::FlawsVarying)]
fn the_chooser_recommends(
    #[case] kind: Kind,
    #[case] pieces: u32,
    #[case] varying: bool,
    #[case] chart: ChartKind,
    #[case] reason: ChartReason,
) {
    let found = recommend(&Asked { kind, pieces, varying, taken: Taken::Consecutive }, None);
    assert_eq!((found.chart, found.reason), (chart, reason));
    assert!(!found.others.contains(&chart) && found.others.iter().all(|other| kind.charts().contains(other)));
}

/// 24 counts of 100 units, alternately `low` and `high`.
fn counts(low: f64, high: f64, samples: usize) -> Points {
    let count = |i: usize| Some(Count { count: if i.is_multiple_of(2) { low } else { high }, size: 100.0 });
    Points::Counts((0..samples).map(count).collect())
}

#[rstest]
#[case::as_chance_allows(UNITS, counts(9.0, 11.0, 24), ChartKind::P)]
#[case::far_more(UNITS, counts(2.0, 30.0, 24), ChartKind::PPrime)]
#[case::flaws(FLAWS, counts(2.0, 30.0, 24), ChartKind::UPrime)]
#[case::too_few_to_tell(UNITS, counts(2.0, 30.0, 18), ChartKind::P)]
fn counts_that_scatter_too_much_ask_for_the_corrected_chart(
    #[case] kind: Kind,
    #[case] counts: Points,
    #[case] chart: ChartKind,
) {
    let asked = Asked { kind, pieces: 100, varying: true, taken: Taken::Consecutive };
    let found = recommend(&asked, Some(counts));
    assert_eq!(found.chart, chart);
    let over = matches!(found.reason, ChartReason::OverDispersed { ratio, p, samples: 24 } if ratio > 10.0 && p < 1e-6);
    assert_eq!(over, chart != ChartKind::P);
}

#[test]
fn mixed_streams_and_few_inspected_are_pointed_out() {
    let asked = Asked { kind: Kind::Measured, pieces: 3, varying: false, taken: Taken::Streams };
    assert_eq!(recommend(&asked, None).cautions, [Caution::StreamsMixed]);
    let asked = Asked { kind: UNITS, pieces: 10, varying: false, taken: Taken::Consecutive };
    assert_eq!(recommend(&asked, None).cautions, [Caution::FewInspected]);
}
