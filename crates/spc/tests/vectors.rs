//! The core against answers computed by an independent implementation, through the same entry
//! that `nuvek analyze` uses. A case names its tolerance; next to zero 1e-12 is allowed.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use rstest::rstest;
use serde_json::Value;
use spc::analysis::analyze;

/// Differences up to this are allowed whatever the relative tolerance: an exact 0 has no scale.
const NEXT_TO_ZERO: f64 = 1e-12;

/// Where `got` differs from `want`; extra fields in `got` are allowed.
fn difference(want: &Value, got: &Value, relative: f64, path: &str) -> Option<String> {
    match (want, got) {
        (Value::Object(want), Value::Object(got)) => want.iter().find_map(|(name, value)| {
            let path = format!("{path}.{name}");
            match got.get(name) {
                Some(got) => difference(value, got, relative, &path),
                None => Some(format!("{path} is missing")),
            }
        }),
        (Value::Array(want), Value::Array(got)) if want.len() == got.len() => want
            .iter()
            .zip(got)
            .enumerate()
            .find_map(|(i, (want, got))| difference(want, got, relative, &format!("{path}[{i}]"))),
        (Value::Number(want), Value::Number(got)) => {
            let (want, got) = (want.as_f64().unwrap(), got.as_f64().unwrap());
            let agree = (got - want).abs() <= (relative * want.abs()).max(NEXT_TO_ZERO);
            (!agree).then(|| format!("{path}: {got} instead of {want}"))
        }
        _ => (want != got).then(|| format!("{path}: {got} instead of {want}")),
    }
}

fn cases(text: &str) -> Vec<Value> {
    serde_json::from_str(text).unwrap()
}

fn is_supported(request: &Value) -> bool {
    request["task"] == "constants"
        || matches!(request["chart"].as_str(), Some("xbar_r" | "xbar_s" | "median_r" | "i_mr" | "run"))
}

#[rstest]
#[case::variables(include_str!("vectors/chart_variables.json"), 40)]
#[case::rules(include_str!("vectors/rules.json"), 32)]
#[case::constants(include_str!("vectors/constants.json"), 3)]
fn answers_agree_with_independent_ones(#[case] file: &str, #[case] expected_cases: usize) {
    let cases: Vec<Value> = cases(file).into_iter().filter(|case| is_supported(&case["request"])).collect();
    assert_eq!(cases.len(), expected_cases);
    for case in cases {
        let got = analyze(case["request"].clone()).unwrap_or_else(|problem| panic!("{}: {problem}", case["name"]));
        let relative = case["tolerance"]["relative"].as_f64().unwrap();
        assert_eq!(difference(&case["answer"], &got, relative, "$"), None, "{}", case["name"]);
    }
}

#[test]
fn wrong_requests_are_refused_naming_the_field() {
    let cases: Vec<Value> = cases(include_str!("vectors/errors.json"))
        .into_iter()
        .filter(|case| is_supported(&case["request"]) || case["request"]["task"] == "chrat")
        .collect();
    assert_eq!(cases.len(), 22);
    for case in cases {
        let line = analyze(case["request"].clone()).expect_err(case["name"].as_str().unwrap()).to_string();
        let words: Vec<&str> = line.split(|c: char| !c.is_alphanumeric() && c != '_').collect();
        let named = case["error_field"].as_str().unwrap().split('|').any(|field| words.contains(&field));
        assert!(named, "{}: {line}", case["name"]);
    }
}
