//! The command as a shell runs it: exit codes, one line on standard error, nothing else.

use std::io::Write;
use std::process::{Command, Output, Stdio};

use rstest::rstest;
use serde_json::{Value, json};

fn analyze(arguments: &[&str], input: &str) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_nuvek"))
        .arg("analyze")
        .args(arguments)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(input.as_bytes()).unwrap();
    child.wait_with_output().unwrap()
}

fn individuals(values: &[f64]) -> Value {
    let points: Vec<Value> = values.iter().map(|x| json!({"values": [x]})).collect();
    json!({"task": "chart", "chart": "i_mr", "points": points})
}

fn center(answer: &Value) -> f64 {
    answer["phases"][0]["center"].as_f64().unwrap()
}

#[test]
fn one_request_gets_one_answer_from_standard_input_or_a_file() {
    let request = individuals(&[1.0, 2.0, 3.0]).to_string();
    let output = analyze(&[], &request);
    assert!(output.status.success());
    assert_eq!(center(&serde_json::from_slice(&output.stdout).unwrap()), 2.0);
    let file = tempfile::NamedTempFile::new().unwrap();
    std::fs::write(file.path(), &request).unwrap();
    assert_eq!(analyze(&[file.path().to_str().unwrap()], "").stdout, output.stdout);
}

#[test]
fn several_requests_are_answered_in_kind() {
    let (one, two) = (individuals(&[1.0, 3.0]), individuals(&[5.0, 7.0]));
    let list: Value = serde_json::from_slice(&analyze(&["-"], &json!([one, two]).to_string()).stdout).unwrap();
    assert_eq!((center(&list[0]), center(&list[1])), (2.0, 6.0));
    let output = analyze(&["--lines"], &format!("{one}\n{two}\n"));
    let lines: Vec<Value> =
        String::from_utf8(output.stdout).unwrap().lines().map(|line| serde_json::from_str(line).unwrap()).collect();
    assert_eq!(lines.iter().map(center).collect::<Vec<_>>(), [2.0, 6.0]);
}

#[rstest]
#[case::no_json("{", "request")]
#[case::no_object("3", "request")]
#[case::no_task("{}", "task")]
#[case::unknown_task(r#"{"task": "chrat"}"#, "task")]
#[case::infinite(r#"{"task": "chart", "chart": "i_mr", "points": [{"values": [1e999]}]}"#, "request")]
#[case::too_large(r#"{"task": "chart", "chart": "i_mr", "points": [{"values": [1e200]}]}"#, "points[0].values")]
#[case::two_values(r#"{"task": "chart", "chart": "i_mr", "points": [{"values": [1, 2]}]}"#, "points[0].values")]
#[case::line_break("{\"task\": \"a\\nb\"}", "task")]
fn a_wrong_request_gets_exit_code_2_and_one_line_that_names_the_field(#[case] request: &str, #[case] field: &str) {
    let output = analyze(&[], request);
    let line = String::from_utf8(output.stderr).unwrap();
    assert_eq!(output.status.code(), Some(2), "{line}");
    assert!(output.stdout.is_empty());
    assert_eq!(line.lines().count(), 1, "{line}");
    assert!(line.starts_with(field), "{line}");
}

#[test]
fn one_wrong_request_among_several_answers_none_and_says_which() {
    let output = analyze(&["--lines"], &format!("{}\n{{\"task\": \"x\"}}\n", individuals(&[1.0, 2.0])));
    assert_eq!(output.status.code(), Some(2));
    assert!(output.stdout.is_empty());
    assert!(String::from_utf8(output.stderr).unwrap().starts_with("[1].task"));
}
