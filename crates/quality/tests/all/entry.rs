//! What is typed becomes the content of a sample, or a refusal with its facts.

use proptest::prelude::*;
use quality::characteristic::{Bounds, Characteristic, Kind};
use quality::entry::{Accepted, EntryRefusal, Origin, Tags, Typed, Usual, accept, read_so_far};
use quality::part::Part;
use quality::reading::{ReadingRefusal, number};
use quality::sample::{Content, Counts, Defects, RareEvent, Readings};
use rstest::rstest;
use spc::chart::ChartKind;
use uuid::Uuid;

use crate::common::{leaks, wall_thickness};

/// What comes of an entry that nobody is asked about.
fn read(characteristic: &Characteristic, typed: &Typed) -> Result<Content, Vec<ReadingRefusal>> {
    match accept(characteristic, &Usual::EVERYTHING, typed, Origin::Instrument) {
        Ok(accepted) => Ok(accepted.content),
        Err(EntryRefusal::Readings(refusals)) => Err(refusals),
        Err(EntryRefusal::Unusual(unusual)) => panic!("{unusual:?} was asked about"),
    }
}

fn typed(texts: &[&str]) -> Typed {
    Typed { readings: texts.iter().map(|t| (*t).to_owned()).collect(), ..Typed::default() }
}

#[rstest]
#[case("3.21", 3.21)]
#[case("3,21", 3.21)]
#[case(" 3.2 ", 3.2)]
#[case("+3", 3.0)]
#[case(".5", 0.5)]
#[case("4.", 4.0)]
#[case("0003.10", 3.10)]
#[case("3.2 mm", 3.2)]
#[case("+0003.21MM", 3.21)]
fn decimal_point_and_comma_and_the_unit_of_a_gauge_are_read(#[case] text: &str, #[case] value: f64) {
    assert_eq!(number(&wall_thickness(), 1, text), Ok(value));
}

#[rstest]
#[case("")]
#[case(" ")]
fn a_blank_piece_is_left_out_of_the_pencil_point(#[case] text: &str) {
    let Ok(Some(Content::Readings(readings))) = read_so_far(&wall_thickness(), &typed(&[text, "3.2"])) else {
        panic!("a pencil point");
    };
    assert_eq!(readings.values, [None, Some(3.2)]);
}

#[rstest]
#[case("abc")]
#[case("3.2.1")]
#[case("3,2.1")]
#[case("1e3")]
#[case("NaN")]
#[case("inf")]
#[case("--3")]
#[case(".")]
#[case("-")]
#[case("٣")]
#[case("3 2")]
#[case("mm")]
#[case("0.000000000000000000000000000000001")]
fn what_is_not_a_number_is_refused(#[case] text: &str) {
    let refusal = number(&wall_thickness(), 1, text).unwrap_err();
    assert!(matches!(&refusal, ReadingRefusal::NotANumber { piece: 1, .. }), "{refusal:?}");
}

#[test]
fn a_gauge_set_to_another_unit_is_refused() {
    let refusal = number(&wall_thickness(), 2, "0.126 in").unwrap_err();
    assert_eq!(refusal, ReadingRefusal::OtherUnit { piece: 2, given: "in".into(), expected: "mm".into() });
}

#[test]
fn more_decimals_than_the_unit_allows_are_refused_not_rounded() {
    let refusals = read_so_far(&wall_thickness(), &typed(&["3.21", "3.214"])).unwrap_err();
    assert_eq!(refusals, [ReadingRefusal::TooManyDecimals { piece: 2, given: "3.214".into(), allowed: 2 }]);
}

#[test]
fn a_value_on_a_hard_bound_can_be_measured_and_one_beyond_cannot() {
    assert!(read_so_far(&wall_thickness(), &typed(&["0.5", "9"])).is_ok());
    let refusals = read_so_far(&wall_thickness(), &typed(&["9.01"])).unwrap_err();
    assert_eq!(
        refusals,
        [ReadingRefusal::OutsideHardBounds { piece: 1, given: 9.01, lower: Some(0.5), upper: Some(9.0) }]
    );
}

#[test]
fn every_refusal_comes_at_once() {
    let refusals = read(&wall_thickness(), &typed(&["x", "12"])).unwrap_err();
    assert_eq!(refusals.len(), 3, "{refusals:?}");
    assert_eq!(refusals[0], ReadingRefusal::WrongCount { given: 2, expected: 3 });
}

#[test]
fn too_many_readings_are_refused() {
    let refusals = read(&wall_thickness(), &typed(&["3.2"; 4])).unwrap_err();
    assert_eq!(refusals, [ReadingRefusal::WrongCount { given: 4, expected: 3 }]);
}

#[test]
fn a_missing_piece_is_left_out_only_on_purpose() {
    let blank = typed(&["3.2", "", "3.1"]);
    assert_eq!(read(&wall_thickness(), &blank), Err(vec![ReadingRefusal::Blank { piece: 2 }]));
    let on_purpose = Typed { left_out: vec![2], ..blank };
    let kept = Content::Readings(Readings { values: vec![Some(3.2), None, Some(3.1)], components: vec![] });
    assert_eq!(read(&wall_thickness(), &on_purpose), Ok(kept));
    let nothing = Typed { left_out: vec![1, 2, 3], ..typed(&["", "", ""]) };
    assert_eq!(read(&wall_thickness(), &nothing), Err(vec![ReadingRefusal::NothingRecorded]));
}

#[test]
fn components_are_kept_beside_the_readings_without_their_bounds() {
    let position = Characteristic { components: vec!["X".into(), "Y".into()], ..wall_thickness() };
    let given = Typed { components: vec!["-12.5".into()], ..typed(&["3.2", "3.1", "3.3"]) };
    let Ok(Content::Readings(readings)) = read(&position, &given) else { panic!("readings") };
    assert_eq!(readings.components, [Some(-12.5), None]);
    let wrong = Typed { components: vec!["x".into()], ..given };
    assert_eq!(read(&position, &wrong), Err(vec![ReadingRefusal::NotANumber { piece: 4, given: "x".into() }]));
}

fn usual() -> Usual {
    Usual::set(&wall_thickness()).unwrap()
}

/// A hand is asked once; a device cannot be, and what is brought in was looked at before.
#[rstest]
#[case::hand(Origin::Hand { confirmed: false }, false)]
#[case::confirmed(Origin::Hand { confirmed: true }, true)]
#[case::instrument(Origin::Instrument, true)]
#[case::import(Origin::Import, true)]
fn an_unusual_reading_is_kept_by_its_origin(#[case] origin: Origin, #[case] kept: bool) {
    let unusual = typed(&["3.2", "4.5", "3.1"]);
    match accept(&wall_thickness(), &usual(), &unusual, origin) {
        Ok(Accepted { content, .. }) => assert!(kept && content == Content::readings([3.2, 4.5, 3.1])),
        Err(EntryRefusal::Unusual(asked)) => assert!(!kept && asked.len() == 1),
        Err(refused) => panic!("{refused:?}"),
    }
    let impossible = accept(&wall_thickness(), &usual(), &typed(&["3.2", "99", "4.5"]), origin);
    assert!(matches!(impossible, Err(EntryRefusal::Readings(_))), "refused before anything is asked");
}

fn counted(inspected: &str, defects: &[(u128, u32)]) -> Typed {
    let defects = defects.iter().map(|&(kind, count)| Defects { kind: Some(Uuid::from_u128(kind)), word: None, count });
    Typed { inspected: Some(inspected.into()), defects: defects.collect(), ..Typed::default() }
}

#[test]
fn counts_by_kind_add_up() {
    let mut given = counted(" 48 ", &[(1, 2), (2, 1)]);
    given.defects.push(Defects { kind: None, word: Some(" seam ".into()), count: 1 });
    let Ok(Content::Counts(counts)) = read(&leaks(), &given) else { panic!("counts") };
    assert_eq!((counts.inspected, counts.count(), counts.defects[2].word.as_deref()), (48, 4, Some("seam")));
}

#[rstest]
#[case::no_number(counted("", &[]), ReadingRefusal::Inspected { given: "".into(), expected: None })]
#[case::a_fraction(counted("4.5", &[]), ReadingRefusal::Inspected { given: "4.5".into(), expected: None })]
#[case::nothing_inspected(counted("0", &[]), ReadingRefusal::Inspected { given: "0".into(), expected: None })]
#[case::more_than_there_were(counted("2", &[(1, 3)]), ReadingRefusal::MoreThanInspected { given: 3, inspected: 2 })]
#[case::unknown_kind(counted("9", &[(7, 1)]), ReadingRefusal::Defects)]
#[case::none_of_a_kind(counted("9", &[(1, 0)]), ReadingRefusal::Defects)]
#[case::readings_too(Typed { readings: vec!["3".into()], ..counted("9", &[]) }, ReadingRefusal::OtherKind)]
#[case::other_without_a_word(
    Typed { defects: vec![Defects { kind: None, word: Some(" ".into()), count: 1 }], ..counted("9", &[]) },
    ReadingRefusal::Defects)]
fn counts_are_refused_with_their_facts(#[case] given: Typed, #[case] refusal: ReadingRefusal) {
    assert_eq!(read(&leaks(), &given), Err(vec![refusal]));
}

#[test]
fn flaws_may_be_more_than_the_units_and_a_fixed_number_need_not_be_typed() {
    let pinholes = Characteristic {
        kind: Kind::Nonconformities,
        chart: ChartKind::C,
        subgroup_size: 10,
        varying: false,
        ..leaks()
    };
    let given = Typed { inspected: None, ..counted("", &[(1, 14)]) };
    assert_eq!(
        read_so_far(&pinholes, &given).unwrap().map(|c| c.plotted(None)),
        read(&pinholes, &given).ok().map(|c| c.plotted(None))
    );
    let Ok(Content::Counts(Counts { inspected: 10, .. })) = read(&pinholes, &given) else {
        panic!("ten are inspected")
    };
    let other = read(&pinholes, &counted("12", &[])).unwrap_err();
    assert_eq!(other, [ReadingRefusal::Inspected { given: "12".into(), expected: Some(10) }]);
}

#[test]
fn there_is_no_pencil_point_before_the_number_inspected_is_known() {
    assert_eq!(read_so_far(&leaks(), &counted("", &[(1, 1)])), Ok(None));
}

#[test]
fn only_tags_that_are_asked_are_kept_and_blank_ones_are_not() {
    let with = |name: &str, value: &str| Typed {
        tags: [(name.to_owned(), value.to_owned())].into(),
        ..typed(&["3.2", "3.2", "3.2"])
    };
    assert!(read(&wall_thickness(), &with("lot", "K-17")).is_ok());
    let tags = |typed: &Typed| {
        accept(&wall_thickness(), &Usual::EVERYTHING, typed, Origin::Instrument).map(|accepted| accepted.tags)
    };
    assert_eq!(tags(&with("lot", " K-17 ")).unwrap()["lot"], "K-17");
    assert_eq!(tags(&with("lot", " ")), Ok(Tags::default()));
    for (name, value) in [("colour", "red"), ("lot", "a\nb"), ("lot", &"x".repeat(81))] {
        assert_eq!(
            read(&wall_thickness(), &with(name, value)),
            Err(vec![ReadingRefusal::Tag { tag: name.to_owned() }])
        );
    }
}

proptest! {
    /// Nothing that can be typed panics, and what is accepted is a number within the bounds.
    #[test]
    fn any_text_is_read_or_refused(text in "\\PC*", digits in "[-+−]?[0-9]{0,5}[.,]?[0-9]{0,4} ?(mm|in)?") {
        for text in [text, digits] {
            if let Ok(x) = number(&wall_thickness(), 1, &text) {
                prop_assert!(wall_thickness().hard_bounds.hold(x));
            }
        }
    }
}

fn rare(chart: ChartKind) -> Characteristic {
    Characteristic { kind: Kind::RareEvent, chart, subgroup_size: 1, decimals: 0, ..wall_thickness() }
}

#[rstest]
#[case::units(ChartKind::G, Some("120"), Ok(Some(120.0)))]
#[case::at_once(ChartKind::G, Some(" 0 "), Ok(Some(0.0)))]
#[case::nothing(ChartKind::G, None, Err(ReadingRefusal::Between { given: String::new() }))]
#[case::less_than_none(ChartKind::G, Some("-3"), Err(ReadingRefusal::Between { given: "-3".into() }))]
#[case::its_time_says_all(ChartKind::T, None, Ok(None))]
#[case::more_than_its_time(ChartKind::T, Some("4"), Err(ReadingRefusal::OtherKind))]
fn rare_events(
    #[case] chart: ChartKind,
    #[case] between: Option<&str>,
    #[case] becomes: Result<Option<f64>, ReadingRefusal>,
) {
    let typed = Typed { between: between.map(str::to_owned), ..Typed::default() };
    let expected = becomes.map(|between| Content::Event(RareEvent { between })).map_err(|refusal| vec![refusal]);
    assert_eq!(read(&rare(chart), &typed), expected);
    // Nothing else is recorded of an event.
    let readings = Typed { readings: vec!["3".into()], ..typed };
    assert!(read(&rare(chart), &readings).unwrap_err().contains(&ReadingRefusal::OtherKind));
}

fn short_run() -> Characteristic {
    let part = |name: &str, nominal| Part { name: name.into(), nominal, sigma: Some(0.1) };
    let free = Bounds::default();
    Characteristic {
        parts: vec![part("C-8", 3.0), part("C-40", 9.0)],
        hard_bounds: free,
        soft_bounds: free,
        ..wall_thickness()
    }
}

#[rstest]
#[case::none_named(&[], Some(""))]
#[case::unknown(&[("part", "C-9")], Some("C-9"))]
#[case::known(&[("part", "C-40")], None)]
fn a_sample_of_a_short_run_names_its_part(#[case] tags: &[(&str, &str)], #[case] refused: Option<&str>) {
    let tags = tags.iter().map(|(name, value)| ((*name).to_owned(), (*value).to_owned())).collect();
    let given = Typed { tags, ..typed(&["9.0", "9.1", "8.9"]) };
    let expected = refused.map(|given| vec![ReadingRefusal::Part { given: given.into() }]);
    assert_eq!(read(&short_run(), &given).err(), expected);
}

/// Limits speak of deviations; what is asked about is a reading.
#[test]
fn what_is_usual_of_a_part_lies_about_its_own_nominal() {
    let usual = Usual::by_limits(&spc::chart::Figures::new(0.0, 1.0)).unwrap();
    let tags = Tags::from([("part".to_owned(), "C-40".to_owned())]);
    let given = Typed { tags, ..typed(&["9.0", "90.1", "8.9"]) };
    let Err(EntryRefusal::Unusual(asked)) = accept(&short_run(), &usual, &given, Origin::Hand { confirmed: false })
    else {
        panic!("it is asked about")
    };
    assert_eq!((asked.len(), asked[0].piece, asked[0].likely.as_deref()), (1, 2, Some("9.01")));
    assert!((asked[0].lower.unwrap() - 8.2).abs() < 1e-9 && (asked[0].upper.unwrap() - 9.8).abs() < 1e-9);
}
