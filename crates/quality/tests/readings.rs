//! Typed text becomes readings, or a refusal with its facts.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod common;

use common::wall_thickness;
use quality::reading::{Refusal, read, read_so_far, unusual};
use rstest::rstest;

fn typed(texts: &[&str]) -> Vec<String> {
    texts.iter().map(|t| (*t).to_owned()).collect()
}

#[rstest]
#[case("3.21", 3.21)]
#[case("3,21", 3.21)]
#[case(" 3.2 ", 3.2)]
#[case("+3", 3.0)]
#[case(".5", 0.5)]
#[case("4.", 4.0)]
#[case("0003.10", 3.10)]
fn decimal_point_and_comma_both_work(#[case] text: &str, #[case] value: f64) {
    assert_eq!(read_so_far(&wall_thickness(), &typed(&[text])), Ok(vec![value]));
}

#[rstest]
#[case("")]
#[case(" ")]
fn a_blank_piece_is_left_out_of_the_pencil_point(#[case] text: &str) {
    assert_eq!(read_so_far(&wall_thickness(), &typed(&[text, "3.2"])), Ok(vec![3.2]));
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
#[case("3.2 mm")]
#[case("0.00000000000000000000000000001")]
fn what_is_not_a_number_is_refused(#[case] text: &str) {
    let refusals = read_so_far(&wall_thickness(), &typed(&[text])).unwrap_err();
    assert!(matches!(&refusals[..], [Refusal::NotANumber { piece: 1, .. }]), "{refusals:?}");
}

#[test]
fn more_decimals_than_the_unit_allows_are_refused_not_rounded() {
    let refusals = read_so_far(&wall_thickness(), &typed(&["3.21", "3.214"])).unwrap_err();
    assert_eq!(refusals, [Refusal::TooManyDecimals { piece: 2, given: "3.214".into(), allowed: 2 }]);
}

#[test]
fn a_value_on_a_hard_bound_can_be_measured_and_one_beyond_cannot() {
    assert!(read_so_far(&wall_thickness(), &typed(&["0.5", "9"])).is_ok());
    let refusals = read_so_far(&wall_thickness(), &typed(&["9.01"])).unwrap_err();
    assert_eq!(refusals, [Refusal::OutsideHardBounds { piece: 1, given: 9.01, lower: Some(0.5), upper: Some(9.0) }]);
}

#[test]
fn every_refusal_comes_at_once() {
    let refusals = read(&wall_thickness(), &typed(&["x", "12"])).unwrap_err();
    assert_eq!(refusals.len(), 3, "{refusals:?}");
    assert_eq!(refusals[0], Refusal::WrongCount { given: 2, expected: 3 });
}

#[test]
fn too_many_readings_are_refused() {
    let refusals = read(&wall_thickness(), &typed(&["3.2"; 4])).unwrap_err();
    assert_eq!(refusals, [Refusal::WrongCount { given: 4, expected: 3 }]);
}

#[test]
fn an_improbable_value_is_asked_about() {
    let found = unusual(&wall_thickness(), &[3.2, 4.5, 2.0]);
    assert_eq!(found.iter().map(|u| (u.piece, u.given)).collect::<Vec<_>>(), [(2, 4.5)]);
}
