//! What a characteristic has to be for the samples of a table.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use formats::shape::{Recipe, shape};
use intake::{Suits, suits};
use quality::characteristic::Kind;
use rstest::rstest;
use serde_json::{Value, json};

fn of(table: &str, recipe: &Value) -> Suits {
    let recipe = Recipe::from_json(&recipe.to_string()).unwrap();
    suits(&shape(&recipe, table.as_bytes()).unwrap().samples)
}

fn across(values: &[&str]) -> Value {
    json!({"read": {"format": "csv"}, "shape": {"kind": "across", "values": values}, "tags": {"lot": "lot"}})
}

#[rstest]
#[case::whole("x,lot\n12,a\n7,b\n", &["x"], 1, 0)]
#[case::the_one_with_most_decimals("x,lot\n12.10,a\n7.125,b\n3,c\n", &["x"], 1, 3)]
#[case::no_more_than_a_unit_can_have("x,lot\n0.1234567890123,a\n", &["x"], 1, 9)]
#[case::several("x,y,lot\n1.5,2.25,a\n1,2,b\n", &["x", "y"], 2, 2)]
#[case::missing_ones_have_a_place("x,y,lot\n1.5,,a\n1,2,b\n", &["x", "y"], 2, 1)]
#[case::gaps_say_nothing("x,y,lot\n,,a\n,,b\n", &["x", "y"], 1, 0)]
fn readings(#[case] table: &str, #[case] values: &[&str], #[case] pieces: u32, #[case] decimals: u8) {
    let found = of(table, &across(values));
    assert_eq!((found.kind, found.pieces, found.decimals, found.varying), (Kind::Measured, pieces, decimals, false));
}

/// Where the last sample is shorter the others say how many pieces there are.
#[test]
fn the_commonest_size_is_the_samples_size() {
    let recipe = json!({"read": {"format": "csv"}, "shape": {"kind": "column", "value": "x", "size": 3}});
    assert_eq!(of("x\n1\n2\n3\n4\n5\n6\n7\n", &recipe).pieces, 3);
}

#[rstest]
#[case::units("2,50\n0,50\n", Kind::NonconformingUnits, 50, false)]
#[case::units_out_of_many("2,50\n0,48\n1,48\n", Kind::NonconformingUnits, 48, true)]
#[case::more_flaws_than_pieces("7,5\n0,5\n", Kind::Nonconformities, 5, false)]
#[case::of_nothing_told("7,\n0,\n", Kind::Nonconformities, 1, false)]
fn counts(#[case] rows: &str, #[case] kind: Kind, #[case] pieces: u32, #[case] varying: bool) {
    let recipe = json!({"read": {"format": "csv"}, "shape": {"kind": "counts", "count": "found", "inspected": "of"}});
    let found = of(&format!("found,of\n{rows}"), &recipe);
    assert_eq!((found.kind, found.pieces, found.varying), (kind, pieces, varying));
}

#[test]
fn kinds_and_tags_with_their_values() {
    let recipe = json!({"read": {"format": "csv"}, "shape": {"kind": "counts", "kinds": {"chip": "c", "crack": "k"}},
                        "tags": {"line": "line", "serial": "n"}});
    let rows: String = (0..60).map(|n| format!("1,0,L{},{n}\n", n % 2)).collect();
    let found = of(&format!("c,k,line,n\n{rows}"), &recipe);
    assert_eq!(found.kinds, ["chip", "crack"]);
    let [line, serial] = &found.tags[..] else { panic!("{:?}", found.tags) };
    assert_eq!((line.name.as_str(), line.values.as_slice()), ("line", ["L0".to_owned(), "L1".to_owned()].as_slice()));
    assert_eq!((serial.name.as_str(), serial.values.len()), ("serial", 0), "more than can be told apart by hand");
}
