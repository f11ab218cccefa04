//! Rows that are known again by what stands in some of their columns.

use formats::shape::{RawTable, Recipe, WrongRecipe, draw, row_keys};
use proptest::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};

fn keys(table: &str, shape: Value, key: &[&str]) -> Result<Vec<Option<Box<str>>>, WrongRecipe> {
    let recipe = json!({"read": {"format": "csv"}, "shape": shape}).to_string();
    let recipe = Recipe::from_json(&recipe).unwrap();
    let table = RawTable::open(table.as_bytes(), &recipe.read).unwrap();
    let samples = draw(&recipe, &table).unwrap().samples;
    row_keys(&table, &samples, &key.iter().map(|column| (*column).to_owned()).collect::<Vec<_>>())
}

fn across() -> Value {
    json!({"kind": "across", "values": ["x"]})
}

#[rstest]
#[case::no_such_column("a,x\n1,2\n", &["b"], "key[0]", "b")]
#[case::two_rows_alike("a,x\n1,2\n2,3\n1,4\n", &["a"], "key", "rows 2 and 4 with the same")]
#[case::nothing_there("a,x\n1,2\n,3\n", &["a"], "key", "nothing in row 3")]
fn what_cannot_tell_rows_apart_is_refused(
    #[case] table: &str,
    #[case] key: &[&str],
    #[case] path: &str,
    #[case] given: &str,
) {
    let wrong = keys(table, across(), key).unwrap_err();
    assert_eq!((wrong.path.as_str(), wrong.given.as_str()), (path, given));
}

#[test]
fn one_of_several_columns_may_be_blank_and_they_are_not_run_together() {
    let keys = keys("a,b,x\n1,,2\n,1,3\n1,1,4\n11,,5\n", across(), &["a", "b"]).unwrap();
    let apart: std::collections::BTreeSet<_> = keys.iter().collect();
    assert_eq!((keys.len(), apart.len()), (4, 4), "{keys:?}");
}

/// A sample of several rows is known by its first, and several samples of one row by that row.
#[rstest]
#[case::rows_drawn_together(json!({"kind": "grouped", "value": "x", "by": ["a"]}), 2, 2)]
#[case::a_sample_each_cell(json!({"kind": "crossed", "rows": "a", "values": ["x", "y"], "row_tag": "r", "column_tag": "c",
    "sample": "cell"}), 8, 4)]
fn samples_go_with_their_first_row(#[case] shape: Value, #[case] samples: usize, #[case] apart: usize) {
    let key: &[&str] = if samples == 2 { &["a"] } else { &["n"] };
    let keys = keys("n,a,x,y\n1,p,1,1\n2,p,2,2\n3,q,3,3\n4,q,4,4\n", shape, key).unwrap();
    assert_eq!(keys.len(), samples);
    assert_eq!(keys.iter().collect::<std::collections::BTreeSet<_>>().len(), apart);
}

proptest! {
    /// Whatever the order of the rows, the row of a key keeps it.
    #[test]
    fn rows_keep_their_keys_wherever_they_stand(order in Just((0..40).collect::<Vec<u32>>()).prop_shuffle()) {
        let line = |n: &u32| format!("lot {n},{n}\n");
        let table = order.iter().fold("a,x\n".to_owned(), |table, n| table + &line(n));
        let of = |n: u32| format!("{}:lot {n}", format!("lot {n}").len());
        let keys: Vec<String> = keys(&table, across(), &["a"]).unwrap().into_iter().map(|key| key.unwrap().into()).collect();
        prop_assert_eq!(keys, order.iter().map(|n| of(*n)).collect::<Vec<_>>());
    }
}
