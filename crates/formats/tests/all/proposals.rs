//! Recipes proposed for tables that nobody has described.

use std::fmt::Write as _;

use formats::shape::{Recipe, ShapeReason, Shaped, propose, shape};
use rstest::rstest;
use serde_json::{Value, json};

fn proposed(table: &[u8]) -> (Value, ShapeReason, Shaped) {
    let proposal = propose(table, None).unwrap();
    let recipe = Recipe::from_json(&proposal.recipe.to_string()).unwrap();
    (proposal.recipe, proposal.reason, shape(&recipe, table).unwrap())
}

fn table(header: &str, rows: usize, row: impl Fn(usize) -> String) -> Vec<u8> {
    let mut text = format!("{header}\r\n");
    (0..rows).for_each(|i| write!(text, "{}\r\n", row(i)).unwrap());
    text.into_bytes()
}

#[test]
fn pieces_beside_each_other_below_a_title_with_decimal_commas() {
    let rows = table("Kiln log\r\n\r\ntaken;lot;x1;x2;note", 20, |i| {
        format!("04.05.2026 {:02}:00;K-{};12,{i:02};12,0{};note {i}", i % 24, i / 10, i % 10)
    });
    let (recipe, reason, shaped) = proposed(&rows);
    assert_eq!(reason, ShapeReason::ReadingsBesideEachOther);
    let read = json!({"format": "csv", "delimiter": ";", "decimal": ",", "skip_rows": 2, "header_rows": 1});
    assert_eq!(recipe["read"], read);
    assert_eq!(recipe["shape"], json!({"kind": "across", "values": ["x1", "x2"]}));
    assert_eq!(recipe["time"], json!({"column": "taken", "format": "%d.%m.%Y %H:%M"}));
    assert_eq!(recipe["tags"], json!({"lot": "lot"}), "a remark of its own in each row is no tag");
    assert_eq!((shaped.samples.len(), shaped.refused.len()), (20, 0));
}

#[rstest]
#[case::neighbours_agree("batch,x", |i: usize| format!("B{},{}.5", i / 4, 10 + i % 3), ShapeReason::NeighboursAgree, 10)]
#[case::one_reading_a_row("no,x", |i: usize| format!("{},{}.5", i + 1, 10 + i % 3), ShapeReason::OneReadingARow, 40)]
#[case::counts("date,failed,inspected", |i: usize| format!("2026-05-{:02},{},{}", i % 28 + 1, i % 3, 50 + i % 2), ShapeReason::CountsOfInspected, 40)]
#[case::several_measures("date,temperature,pressure", |i: usize| format!("2026-05-{:02},{}.5,0.0{}", i % 28 + 1, 1180 + i, i % 9 + 1), ShapeReason::SeveralMeasures, 40)]
fn the_likeliest_shape_is_taken(
    #[case] header: &str,
    #[case] row: fn(usize) -> String,
    #[case] expected: ShapeReason,
    #[case] samples: usize,
) {
    let (recipe, reason, shaped) = proposed(&table(header, 40, row));
    assert_eq!((reason, shaped.samples.len(), shaped.refused.len()), (expected, samples, 0), "{recipe}");
}

#[test]
fn columns_longer_than_rows_are_samples() {
    let header = (1..=14).map(|i| format!("h{i}")).collect::<Vec<_>>().join("\t");
    let row = |i: usize| (0..14).map(|column| format!("5.{}{i}", column % 7)).collect::<Vec<_>>().join("\t");
    let (recipe, reason, shaped) = proposed(&table(&header, 5, row));
    assert_eq!((reason, shaped.samples.len()), (ShapeReason::ColumnsLongerThanRows, 14));
    assert_eq!(recipe["read"]["delimiter"], "\t");
}

/// Every table of the cases for shapes is proposed something that can be tried, or is refused as a whole.
#[rstest]
fn whatever_table_there_is(#[files("tests/data/shape/*/table.*")] path: std::path::PathBuf) {
    let bytes = std::fs::read(&path).unwrap();
    match propose(&bytes, None) {
        Ok(proposal) => {
            let recipe = Recipe::from_json(&proposal.recipe.to_string()).unwrap();
            let tried = shape(&recipe, &bytes);
            assert!(tried.is_ok() || proposal.reason == ShapeReason::NoNumbers, "{tried:?} by {}", proposal.recipe);
        }
        Err(wrong) => assert_eq!(wrong.path, "read.format"),
    }
}
