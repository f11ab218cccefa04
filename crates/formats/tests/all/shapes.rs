//! Tables of every shape against what comes of them by an independent implementation, and whatever bytes there are.

use std::fmt::Write as _;
use std::path::Path;

use formats::shape::{CellRefusal, Content, Recipe, Shaped, WrongRecipe, shape};
use proptest::collection::vec;
use proptest::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};

/// Numbers agree within this, relative.
const RELATIVE: f64 = 1e-12;

fn shaped(recipe: &Value, table: &[u8]) -> Result<Shaped, WrongRecipe> {
    shape(&Recipe::from_json(&recipe.to_string())?, table)
}

/// Where two answers differ; an answer may hold more fields than are expected, tags and kinds may not.
fn differs(expected: &Value, got: &Value, path: &str) -> Option<String> {
    let other = || Some(format!("{path}: {expected} is expected, {got} came"));
    match (expected, got) {
        (Value::Object(fields), Value::Object(all)) => {
            let whole = path.ends_with(".tags") || path.ends_with(".kinds");
            if whole && fields.len() != all.len() {
                return other();
            }
            fields.iter().find_map(|(name, value)| match all.get(name) {
                Some(got) => differs(value, got, &format!("{path}.{name}")),
                None => other(),
            })
        }
        (Value::Array(one), Value::Array(all)) if one.len() == all.len() => {
            one.iter().zip(all).enumerate().find_map(|(i, (one, got))| differs(one, got, &format!("{path}[{i}]")))
        }
        (Value::Number(one), Value::Number(got)) => {
            let (one, got) = (one.as_f64().unwrap(), got.as_f64().unwrap());
            if (got - one).abs() <= RELATIVE * one.abs() { None } else { other() }
        }
        _ if expected == got => None,
        _ => other(),
    }
}

#[rstest]
fn a_table_becomes_the_samples_that_are_expected(
    #[files("tests/data/shape/*/recipe.json")] recipe: std::path::PathBuf,
) {
    let folder = recipe.parent().unwrap();
    let table = ["csv", "xlsx", "ods", "json"].map(|end| folder.join(format!("table.{end}")));
    let table = std::fs::read(table.iter().find(|table| table.exists()).unwrap()).unwrap();
    let text = |name: &str| std::fs::read_to_string(Path::new(folder).join(name));
    let got = Recipe::from_json(&text("recipe.json").unwrap()).and_then(|recipe| shape(&recipe, &table));
    match text("expected_error.txt") {
        Ok(path) => {
            let wrong = got.unwrap_err();
            let paths: Vec<&str> = path.trim().split('|').collect();
            assert!(paths.iter().any(|path| wrong.path.starts_with(path)), "{wrong} instead of {paths:?}");
        }
        Err(_) => {
            let expected: Value = serde_json::from_str(&text("expected.json").unwrap()).unwrap();
            let got = serde_json::to_value(got.unwrap()).unwrap();
            assert_eq!(differs(&expected, &got, ""), None);
        }
    }
}

fn across(format: &str) -> Value {
    json!({"read": {"format": format}, "shape": {"kind": "across", "values": ["x1", "x2"]}})
}

#[rstest]
#[case::a_sheet_as_text(across("csv"), b"PK\x03\x04whatever", "read.format")]
#[case::locked_by_a_password(across("xlsx"), b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", "read.format")]
#[case::text_as_a_sheet(across("ods"), b"x1,x2\n1,2\n", "read.format")]
#[case::half_an_array(across("json"), b"[{\"x1\": 1", "read.format")]
#[case::lists_in_objects(across("json"), b"[{\"x1\": [1], \"x2\": 2}]", "read.format")]
#[case::no_array(across("json"), b"{\"x1\": 1}", "read.format")]
#[case::no_rows_at_all(across("csv"), b"", "shape.values[0]")]
#[case::no_recipe(json!([1]), b"", "recipe")]
#[case::an_unknown_field(json!({"read": {"format": "csv"}, "shape": {"kind": "down"}, "order_by": 1}), b"", "order_by")]
#[case::a_tag_that_is_no_text(json!({"read": {"format": "csv"}, "shape": {"kind": "down"}, "tags": {"lot": 3}}), b"", "tags.lot")]
#[case::a_delimiter_of_two(json!({"read": {"format": "csv", "delimiter": "::"}, "shape": {"kind": "down"}}), b"", "read.delimiter")]
#[case::no_size(json!({"read": {"format": "csv"}, "shape": {"kind": "column", "value": "x", "size": 0}}), b"x\n1", "shape.size")]
fn what_is_wrong_as_a_whole_is_named_by_its_path(#[case] recipe: Value, #[case] table: &[u8], #[case] path: &str) {
    let wrong = shaped(&recipe, table).unwrap_err();
    assert_eq!(wrong.path, path, "{wrong}");
    assert!(!wrong.to_string().contains('\n'));
}

/// The bound, and one more.
#[test]
fn bounds_are_named() {
    let rows = |many: usize| format!("x1,x2\n{}", "1,2\n".repeat(many)).into_bytes();
    assert_eq!(shaped(&across("csv"), &rows(1_000_000)).unwrap().samples.len(), 1_000_000);
    let wrong = shaped(&across("csv"), &rows(1_000_001)).unwrap_err();
    assert_eq!((wrong.path.as_str(), wrong.given.as_str()), ("read", "1000001 rows"));
    let columns = |many: usize| format!("x1,x2{}\n1,2\n", ",y".repeat(many - 2)).into_bytes();
    assert_eq!(shaped(&across("csv"), &columns(1_000)).unwrap().samples.len(), 1);
    assert_eq!(shaped(&across("csv"), &columns(1_001)).unwrap_err().path, "read");
    assert_eq!(shaped(&across("csv"), &vec![b' '; 64 * 1024 * 1024 + 1]).unwrap_err().path, "read");
    let hours = json!({"read": {"format": "csv"}, "time": {"column": "t", "format": "%Y-%m-%d"},
                       "shape": {"kind": "period", "per": "hour", "how": "count"}});
    assert_eq!(shaped(&hours, b"t\n0001-01-01\n2026-01-01\n").unwrap_err().path, "shape.per");
}

/// A number too large for a double is text in JSON, and no reading.
#[test]
fn what_is_no_reading_is_refused_at_its_cell() {
    let shaped = shaped(&across("json"), br#"[{"x1": 1e400, "x2": 2}, {"x1": true, "x2": "1,5"}, {"x1": 3}]"#).unwrap();
    let refused: Vec<_> =
        shaped.refused.iter().map(|it| (it.row, it.column.as_str(), it.code, it.given.as_str())).collect();
    let no = CellRefusal::NotANumber;
    assert_eq!(refused, [(1, "x1", no, "1e400"), (2, "x1", no, "true"), (2, "x2", no, "1,5")]);
    let only = shaped.samples.get(0).unwrap();
    assert_eq!((shaped.samples.len(), only.row()), (1, Some(3)));
    assert!(matches!(only.content(), Content::Readings([x, missing]) if *x == 3.0 && missing.is_nan()));
}

fn any_recipe() -> impl Strategy<Value = Value> {
    let shape = prop_oneof![
        Just(json!({"kind": "across", "values": ["#1", "#2"]})),
        Just(json!({"kind": "down", "tag": "of"})),
        Just(json!({"kind": "column", "value": "#1", "size": 3})),
        Just(json!({"kind": "grouped", "value": "#2", "by": ["#1"], "gather": "all"})),
        Just(json!({"kind": "crossed", "rows": "#1", "row_tag": "r", "column_tag": "c", "sample": "cell"})),
        Just(json!({"kind": "counts", "kinds": {"chip": "#1"}, "inspected": "#2"})),
    ];
    let read = prop_oneof![
        ("[,;\t|§]", 0..4u8, 0..3u8).prop_map(|(delimiter, skip, header)| {
            json!({"format": "csv", "delimiter": delimiter, "skip_rows": skip, "header_rows": header})
        }),
        Just(json!({"format": "xlsx"})),
        Just(json!({"format": "ods"})),
        Just(json!({"format": "json"})),
    ];
    (read, shape).prop_map(|(read, shape)| json!({"read": read, "shape": shape, "order": "given"}))
}

proptest! {
    /// Whatever comes is read or refused, and what was read is written as JSON.
    #[test]
    fn any_bytes_are_read_or_refused(recipe in any_recipe(), bytes in prop_oneof![
        vec(any::<u8>(), 0..300),
        "[\"0-9a,;\t|§\r\n .eE+-]{0,200}".prop_map(String::into_bytes),
        "(\\[?\\{?(\"[a-c]\": ?(1|\"x\"|null|true|1e999),?\\}?,?){0,5}\\]?)".prop_map(String::into_bytes),
    ]) {
        if let Ok(shaped) = shaped(&recipe, &bytes) {
            prop_assert!(serde_json::to_string(&shaped).is_ok());
        }
    }

    /// A broken sheet is refused, wherever it is broken.
    #[test]
    fn a_sheet_broken_anywhere_is_read_or_refused(at in 0.0..1.0f64, with in any::<u8>(), cut in any::<bool>(), ods in any::<bool>()) {
        let (name, format) = if ods { ("open-sheet-repeated-cells-and-rows/table.ods", "ods") }
            else { ("sheet-of-dates-numbers-and-texts/table.xlsx", "xlsx") };
        let mut bytes = std::fs::read(format!("tests/data/shape/{name}")).unwrap();
        let place = (at * bytes.len() as f64) as usize;
        if cut { bytes.truncate(place) } else { bytes[place] = with }
        let recipe = json!({"read": {"format": format}, "shape": {"kind": "down"}});
        if let Err(wrong) = shaped(&recipe, &bytes) {
            prop_assert!(wrong.path.starts_with("read"), "{wrong}");
        }
    }

    /// Written in one shape and read by its recipe, samples are equal to the last digit.
    #[test]
    fn samples_come_back_from_each_shape(
        samples in vec(vec(prop::num::f64::NORMAL | prop::num::f64::ZERO | prop::num::f64::SUBNORMAL, 2..=2), 1..30),
        format in prop_oneof![Just("csv"), Just("json")],
    ) {
        let table = |header: &str, rows: &[Vec<String>]| -> Vec<u8> {
            let names: Vec<&str> = header.split(',').collect();
            if format == "csv" {
                rows.iter().fold(format!("{header}\n"), |mut text, row| { writeln!(text, "{}", row.join(",")).unwrap(); text })
            } else {
                let object = |row: &Vec<String>| names.iter().zip(row).map(|(name, cell)| ((*name).to_owned(), json!(cell))).collect();
                Value::Array(rows.iter().map(|row| Value::Object(object(row))).collect()).to_string()
            }
            .into_bytes()
        };
        let texts: Vec<Vec<String>> = samples.iter().map(|sample| sample.iter().map(|x| format!("{x:?}")).collect()).collect();
        let long: Vec<Vec<String>> =
            texts.iter().enumerate().flat_map(|(i, sample)| sample.iter().map(move |x| vec![i.to_string(), x.clone()])).collect();
        let read = json!({"format": format});
        let read_back = [
            (table("x1,x2", &texts), json!({"kind": "across", "values": ["x1", "x2"]})),
            (table("of,x", &long), json!({"kind": "grouped", "value": "x", "by": ["of"]})),
            (table("of,x", &long), json!({"kind": "column", "value": "x", "size": 2})),
        ];
        for (bytes, shape) in read_back {
            let shaped = shaped(&json!({"read": read, "shape": shape}), &bytes).unwrap();
            prop_assert_eq!(&shaped.refused, &[]);
            let values: Vec<Vec<f64>> = shaped.samples.iter().map(|sample| match sample.content() {
                Content::Readings(values) => values.to_vec(),
                Content::Counted { .. } => vec![],
            }).collect();
            prop_assert_eq!(&values, &samples);
        }
    }
}
