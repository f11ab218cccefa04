//! Names of files, and texts as they come in.

use rstest::rstest;

#[rstest]
#[case::plain("Wall thickness", "wall-thickness.csv")]
#[case::signs("Ø 3/8\" \r\n..\\ (left)", "3-8-left.csv")]
#[case::nothing_left("厚度", "table.csv")]
fn a_file_is_named_after_what_it_holds(#[case] of: &str, #[case] named: &str) {
    assert_eq!(formats::file_name(of, "csv"), named);
}

#[rstest]
#[case::zero(r#"{"text": "a\u0000b"}"#, true)]
#[case::at_the_end(r#""\u0000""#, true)]
#[case::after_a_backslash(r#""\\\u0000""#, true)]
#[case::written_out(r#""\\u0000""#, false)]
#[case::another(r#""\u0001\n""#, false)]
#[case::cut_off(r#""\"#, false)]
#[case::none("{}", false)]
fn a_zero_character_is_seen(#[case] json: &str, #[case] seen: bool) {
    assert_eq!(formats::json::holds_zero(json.as_bytes()), seen);
}
