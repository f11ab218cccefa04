//! Rows of tables as entries: their times, what makes them known again, and what is refused.

use chrono::{DateTime, NaiveDateTime, Utc};
use chrono_tz::Europe::Prague;
use quality::characteristic::{Characteristic, DefectKind, Kind};
use quality::import::{Checked, ImportRow, ImportSource, ImportTimes, RowContent, RowRefusal, StatedTimes, check};
use quality::reading::ReadingRefusal;
use quality::sample::{Content, Defects};
use rstest::rstest;
use spc::chart::ChartKind;
use uuid::Uuid;

use crate::common::wall_thickness;

const INTO: Uuid = Uuid::from_u128(5);

fn now() -> DateTime<Utc> {
    "2026-11-29T12:00:00Z".parse().unwrap()
}

fn row(place: usize, time: &str, content: RowContent<'static>) -> ImportRow<'static> {
    let time = (!time.is_empty()).then(|| time.parse::<NaiveDateTime>().unwrap());
    ImportRow { row: Some(place as u32 + 2), key: None, place, time, content, tags: vec![] }
}

fn readings() -> RowContent<'static> {
    RowContent::Readings(vec![Some(5.0), Some(5.01), Some(5.02)])
}

fn checked(rows: Vec<ImportRow<'static>>, to: &Characteristic, stated: Option<StatedTimes>) -> Checked {
    let source = ImportSource { name: "list.csv", characteristic: INTO };
    check(rows, to, (ImportTimes { zone: Prague, stated }, now()), source).collect()
}

#[rstest]
#[case::in_winter("2026-01-05T06:00:00", "2026-01-05T05:00:00Z")]
#[case::in_summer("2026-07-05T06:00:00", "2026-07-05T04:00:00Z")]
#[case::skipped_in_spring("2026-03-29T02:30:00", "2026-03-29T01:30:00Z")]
#[case::twice_in_autumn("2026-10-25T02:30:00", "2026-10-25T00:30:00Z")]
fn times_are_those_of_the_sites_clock(#[case] local: &str, #[case] expected: &str) {
    let checked = checked(vec![row(0, local, readings())], &wall_thickness(), None);
    assert_eq!(checked.entries[0].taken_at, expected.parse::<DateTime<Utc>>().unwrap());
}

#[rstest]
#[case::untold("", RowRefusal::NoTime)]
#[case::after_now("2026-11-30T06:00:00", RowRefusal::InTheFuture { taken_at: "2026-11-30T05:00:00Z".parse().unwrap() })]
#[case::before_1970("1960-01-01T00:00:00", RowRefusal::TooEarly { taken_at: "1959-12-31T23:00:00Z".parse().unwrap() })]
fn times_that_cannot_be_are_refused(#[case] local: &str, #[case] refusal: RowRefusal) {
    let checked = checked(vec![row(0, local, readings())], &wall_thickness(), None);
    assert_eq!((checked.entries.len(), &checked.refused[0].refusal), (0, &refusal));
    assert_eq!(checked.refused[0].row, Some(2));
}

#[test]
fn stated_times_go_by_the_place_of_a_row() {
    let stated = StatedTimes { first: "2026-01-05T06:00:00".parse().unwrap(), every_seconds: 90 };
    let rows = vec![row(0, "", readings()), row(1, "", RowContent::Gap), row(2, "", readings())];
    let checked = checked(rows, &wall_thickness(), Some(stated));
    let seconds = |i: usize| (checked.entries[i].taken_at - checked.entries[0].taken_at).num_seconds();
    assert_eq!((seconds(1), seconds(2)), (90, 180));
    assert!(checked.entries[1].taken.is_none(), "a gap");
}

/// The same row of the same list is the same entry, whatever it says; what it says is another digest.
#[test]
fn a_row_is_known_by_its_list_and_number_and_changed_by_its_cells() {
    let at = "2026-01-05T06:00:00";
    let one = checked(vec![row(0, at, readings()), row(0, at, readings())], &wall_thickness(), None);
    let other = RowContent::Readings(vec![Some(5.0), Some(5.01), Some(5.03)]);
    let again = checked(vec![row(0, at, other)], &wall_thickness(), None);
    assert_eq!(one.entries[0].entry, again.entries[0].entry);
    assert_ne!(one.entries[0].digest, again.entries[0].digest);
    assert_ne!(one.entries[0].entry, one.entries[1].entry, "two that begin in one row");
    let elsewhere = ImportSource { name: "list.csv", characteristic: Uuid::from_u128(6) };
    assert_ne!(elsewhere.device(), ImportSource { name: "list.csv", characteristic: INTO }.device());
}

#[rstest]
#[case::too_few(RowContent::Readings(vec![Some(5.0)]), ReadingRefusal::WrongCount { given: 1, expected: 3 })]
#[case::another_kind(RowContent::Counted { count: 1.0, inspected: Some(50.0), kinds: vec![] }, ReadingRefusal::OtherKind)]
fn what_no_entry_can_be_is_refused(#[case] content: RowContent<'static>, #[case] refusal: ReadingRefusal) {
    let checked = checked(vec![row(0, "2026-01-05T06:00:00", content)], &wall_thickness(), None);
    let RowRefusal::Entry { refusals } = &checked.refused[0].refusal else { panic!("{:?}", checked.refused) };
    assert!(refusals.contains(&refusal), "{refusals:?}");
}

#[test]
fn a_missing_piece_is_left_out() {
    let content = RowContent::Readings(vec![Some(5.0), None, Some(5.02)]);
    let checked = checked(vec![row(0, "2026-01-05T06:00:00", content)], &wall_thickness(), None);
    let taken = checked.entries[0].taken.as_ref().unwrap();
    let Content::Readings(readings) = &taken.content else { panic!("{taken:?}") };
    assert_eq!(readings.values, [Some(5.0), None, Some(5.02)]);
}

#[rstest]
#[case::by_name(vec![("stain", 2.0), ("Crack", 1.0)], &[(Some(1), None, 2), (None, Some("Crack"), 1)])]
#[case::none_of_a_kind(vec![("Stain", 0.0)], &[])]
#[case::no_kinds_told(vec![], &[(None, Some("not told"), 3)])]
fn kinds_are_those_of_the_catalogue_or_words(
    #[case] kinds: Vec<(&'static str, f64)>,
    #[case] expected: &[(Option<u128>, Option<&str>, u32)],
) {
    let kind = |id: u128, name: &str| DefectKind { id: Uuid::from_u128(id), name: name.into(), letter: 'S' };
    let counted = Characteristic {
        kind: Kind::Nonconformities,
        chart: ChartKind::U,
        varying: true,
        defect_kinds: vec![kind(1, "Stain"), kind(2, "Chip")],
        ..wall_thickness()
    };
    let count = if kinds.is_empty() { 3.0 } else { kinds.iter().map(|(_, n)| n).sum() };
    let content = RowContent::Counted { count, inspected: Some(60.0), kinds };
    let checked = checked(vec![row(0, "2026-01-05T06:00:00", content)], &counted, None);
    assert_eq!(checked.refused, []);
    let Content::Counts(counts) = &checked.entries[0].taken.as_ref().unwrap().content else { panic!("counts") };
    let expected: Vec<Defects> = expected
        .iter()
        .map(|(kind, word, count)| Defects {
            kind: kind.map(Uuid::from_u128),
            word: word.map(str::to_owned),
            count: *count,
        })
        .collect();
    assert_eq!((counts.inspected, &counts.defects), (60, &expected));
}
