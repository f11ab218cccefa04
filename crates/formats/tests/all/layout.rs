//! Samples laid out: what each shape looks like, and that what goes out comes in again equal to the last digit.

use std::collections::BTreeMap;

use chrono::{Duration, NaiveDate, NaiveDateTime};
use formats::layout::{CellOf, Layout, OutSample, Outgoing, Recorded, Written, WrongLayout, lay, recipe};
use formats::shape::{Content, Recipe, Shaped, shape};
use formats::table::{Cell, Table};
use formats::{csv, json, open_document, sheet};
use proptest::prelude::*;
use rstest::rstest;

fn at(minutes: i64) -> NaiveDateTime {
    NaiveDate::from_ymd_opt(2026, 5, 4).unwrap().and_hms_opt(6, 0, 7).unwrap() + Duration::minutes(minutes)
}

fn sample(number: i64, recorded: Recorded, tags: &[(&str, &str)]) -> OutSample {
    let tags = tags.iter().map(|(name, text)| ((*name).to_owned(), (*text).to_owned())).collect();
    OutSample { of: None, number, taken_at: at(number), recorded, tags, beside: vec![] }
}

fn readings(values: &[Option<f64>]) -> Recorded {
    Recorded::Readings(values.to_vec())
}

fn out(samples: Vec<OutSample>) -> Outgoing {
    Outgoing { title: "Bead weight".into(), about: vec![], beside: vec![], samples }
}

fn weights() -> Outgoing {
    out(vec![
        sample(1, readings(&[Some(6.1), None, Some(0.1 + 0.2)]), &[("lot", "K-17"), ("mould", "M1")]),
        sample(2, Recorded::Nothing, &[("lot", "K-17")]),
        sample(4, readings(&[Some(-6.3), Some(1e-12), Some(6.5)]), &[("mould", "M2"), ("lot", "K-18")]),
    ])
}

fn written(table: &Table, as_what: Written) -> Vec<u8> {
    match as_what {
        Written::Csv => csv::write(table).unwrap(),
        Written::Xlsx => sheet::write(table).unwrap(),
        Written::Ods => open_document::write(table).unwrap(),
        Written::Json => json::write(table).unwrap(),
    }
}

/// Time, tags and readings (or count, inspected and kinds) of each sample, as it came in again.
type Again = (Option<NaiveDateTime>, BTreeMap<String, String>, Vec<Option<f64>>, Vec<(String, f64)>);

fn again(out: &Outgoing, layout: &Layout, as_what: Written, of: Option<&str>) -> Vec<Again> {
    let table = lay(out, layout).unwrap();
    let recipe = recipe(out, layout, as_what, of).unwrap().to_string();
    let Shaped { samples, refused, .. } =
        shape(&Recipe::from_json(&recipe).unwrap(), &written(&table, as_what)).unwrap();
    assert_eq!(refused, []);
    let one = |sample: &formats::shape::Sample<'_>| {
        let values = match sample.content() {
            Content::Readings(values) => values.iter().map(|x| (!x.is_nan()).then_some(*x)).collect(),
            Content::Counted { count, inspected } => vec![count, inspected],
        };
        let tags = sample.tags().map(|(name, text)| (name.to_owned(), text.to_owned())).collect();
        let kinds = sample.of_kinds().map(|(kind, count)| (kind.to_owned(), count)).collect();
        (sample.time(), tags, values, kinds)
    };
    samples.iter().map(|sample| one(&sample)).collect()
}

fn as_sent(sample: &OutSample, kinds: &[&str]) -> Again {
    let (values, found) = match &sample.recorded {
        Recorded::Readings(values) => (values.clone(), vec![]),
        Recorded::Counts { inspected, kinds: found } => {
            let of = |name: &str| found.iter().find(|(kind, _)| kind == name).map_or(0.0, |(_, n)| *n);
            let all = found.iter().map(|(_, n)| n).sum();
            (vec![Some(all), Some(*inspected)], kinds.iter().map(|kind| ((*kind).to_owned(), of(kind))).collect())
        }
        Recorded::Nothing => (vec![], vec![]),
    };
    (Some(sample.taken_at), sample.tags.clone(), values, found)
}

#[rstest]
fn readings_come_in_again_equal_to_the_last_digit(
    #[values(Layout::Across, Layout::Grouped)] layout: Layout,
    #[values(Written::Csv, Written::Xlsx, Written::Ods, Written::Json)] as_what: Written,
) {
    let out = weights();
    let sent: Vec<Again> = out.samples.iter().map(|sample| as_sent(sample, &[])).collect();
    assert_eq!(again(&out, &layout, as_what, None), sent);
}

#[rstest]
fn counts_come_in_again(
    #[values(Written::Csv, Written::Xlsx, Written::Ods, Written::Json)] as_what: Written,
    #[values(true, false)] with_kinds: bool,
) {
    let counted = |number, kinds: &[(&str, f64)]| {
        let kinds = kinds.iter().filter(|_| with_kinds).map(|(kind, n)| ((*kind).to_owned(), *n)).collect();
        sample(number, Recorded::Counts { inspected: 50.0, kinds }, &[("shift", "early")])
    };
    let out = out(vec![counted(1, &[("chip", 2.0), ("=dent", 1.0)]), counted(2, &[]), counted(3, &[("chip", 1.0)])]);
    let kinds: &[&str] = if with_kinds { &["=dent", "chip"] } else { &[] };
    let sent: Vec<Again> = out.samples.iter().map(|sample| as_sent(sample, kinds)).collect();
    assert_eq!(again(&out, &Layout::Across, as_what, None), sent);
}

#[test]
fn several_characteristics_stand_in_one_table_and_each_has_its_recipe() {
    let mut all = weights();
    let mut other = out(vec![sample(1, readings(&[Some(20.5)]), &[("line", "2")])]);
    all.samples.iter_mut().for_each(|sample| sample.of = Some("Bead weight".into()));
    other.samples.iter_mut().for_each(|sample| sample.of = Some("Flow, cold".into()));
    let sent: Vec<Again> = other.samples.iter().map(|sample| as_sent(sample, &[])).collect();
    all.samples.append(&mut other.samples);
    assert_eq!(again(&all, &Layout::Across, Written::Csv, Some("Flow, cold")), sent);
    assert_eq!(again(&all, &Layout::Grouped, Written::Json, Some("Bead weight")).len(), 3);
    let columns = lay(&all, &Layout::Across).unwrap().columns;
    let expected = ["characteristic", "sample", "taken_at", "reading_1", "reading_2", "reading_3"];
    assert_eq!(columns, [&expected[..], &["tag_line", "tag_lot", "tag_mould"]].concat());
}

#[test]
fn a_column_a_sample() {
    let Table { columns, rows, .. } = lay(&weights(), &Layout::Down).unwrap();
    assert_eq!(columns, ["1", "2", "4"]);
    let first: Vec<Cell> = vec![6.1.into(), Cell::Empty, (-6.3).into()];
    assert_eq!((rows.len(), &rows[0]), (3, &first));
    assert_eq!(recipe(&weights(), &Layout::Down, Written::Csv, None), None);
    let many = out((0..1_001).map(|n| sample(n, readings(&[Some(1.0)]), &[])).collect());
    assert_eq!(lay(&many, &Layout::Down), Err(WrongLayout::TooManyColumns { given: 1_001, most: 1_000 }));
}

#[rstest]
#[case::mean(CellOf::Mean, [Cell::from((6.1 + 0.1 + 0.2) / 2.0), Cell::Empty])]
#[case::smallest(CellOf::Smallest, [Cell::from(0.1 + 0.2), Cell::Empty])]
#[case::largest(CellOf::Largest, [Cell::from(6.1), Cell::Empty])]
#[case::samples(CellOf::Samples, [Cell::from(1_i64), Cell::Empty])]
fn a_matrix_of_two_tags(#[case] cell: CellOf, #[case] first: [Cell; 2]) {
    let layout = Layout::Crossed { rows: "lot".into(), columns: "mould".into(), cell };
    let Table { columns, rows, .. } = lay(&weights(), &layout).unwrap();
    // A gap without a mould is in no cell.
    assert_eq!(columns, ["lot", "M1", "M2"]);
    assert_eq!((rows.len(), &rows[0][0], &rows[1][0]), (2, &"K-17".into(), &"K-18".into()));
    let close = |a: &Cell, b: &Cell| match (a, b) {
        (Cell::Number(a), Cell::Number(b)) => (a - b).abs() <= 1e-15 * b.abs(),
        (a, b) => a == b,
    };
    assert!(rows[0][1..].iter().zip(&first).all(|(a, b)| close(a, b)), "{:?}", rows[0]);
}

#[rstest]
#[case::grouped(Layout::Grouped)]
#[case::down(Layout::Down)]
fn what_is_counted_has_no_readings_below_each_other(#[case] layout: Layout) {
    let counted = out(vec![sample(1, Recorded::Counts { inspected: 50.0, kinds: vec![] }, &[])]);
    assert_eq!(lay(&counted, &layout), Err(WrongLayout::OnlyReadings));
}

#[test]
fn what_stands_beside_a_sample_stands_on_each_of_its_rows() {
    let mut out = weights();
    out.beside = vec!["signals".into()];
    out.samples.iter_mut().for_each(|sample| sample.beside = vec![format!("of {}", sample.number).into()]);
    let Table { columns, rows, .. } = lay(&out, &Layout::Grouped).unwrap();
    assert_eq!(columns.last().unwrap(), "signals");
    let said: Vec<&Cell> = rows.iter().map(|row| row.last().unwrap()).collect();
    assert_eq!(said, [1, 1, 1, 2, 4, 4, 4].map(|n| Cell::from(format!("of {n}"))).iter().collect::<Vec<_>>());
}

/// Texts as people type them, with whatever parts cells or begins formulas, but not in CSV, where these are marked.
fn text() -> impl Strategy<Value = String> {
    "[a-zA-Z0-9ß;,\"' =+@-]{1,12}".prop_map(|text| text.trim().to_owned()).prop_filter("blank", |text| !text.is_empty())
}

proptest! {
    #[test]
    fn any_readings_and_tags_come_in_again(
        values in prop::collection::vec(prop::collection::vec(prop::option::weighted(0.9, -1e9..1e9f64), 3), 1..20),
        lots in prop::collection::vec(text(), 20),
        layout in prop_oneof![Just(Layout::Across), Just(Layout::Grouped)],
        as_what in prop_oneof![Just(Written::Csv), Just(Written::Xlsx), Just(Written::Ods), Just(Written::Json)],
    ) {
        let recorded = |values: &Vec<Option<f64>>| {
            if values.iter().all(Option::is_none) { Recorded::Nothing } else { Recorded::Readings(values.clone()) }
        };
        let lot = |text: &str| if as_what == Written::Csv { format!("L{text}") } else { text.to_owned() };
        let samples = values.iter().zip(&lots).zip(1..).map(|((values, text), number)| {
            sample(number, recorded(values), &[("lot", &lot(text))])
        });
        let out = out(samples.collect());
        let sent: Vec<Again> = out.samples.iter().map(|sample| as_sent(sample, &[])).collect();
        prop_assert_eq!(again(&out, &layout, as_what, None), sent);
    }
}
