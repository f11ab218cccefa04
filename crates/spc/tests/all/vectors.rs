//! The core against answers computed by an independent implementation, through the same entry
//! that `nuvek analyze` uses. Each case names its tolerance.

use rstest::rstest;
use serde_json::{Value, json};

use crate::as_trees::analyze;

/// Differences up to this are allowed whatever the relative tolerance: an exact 0 has no scale.
const NEXT_TO_ZERO: f64 = 1e-12;

/// How near numbers must be.
struct Tolerance<'a> {
    relative: f64,
    /// Single fields with a tolerance of their own.
    fields: Option<&'a serde_json::Map<String, Value>>,
}

impl<'a> Tolerance<'a> {
    fn of(case: &'a Value) -> Self {
        let tolerance = &case["tolerance"];
        Self { relative: tolerance["relative"].as_f64().unwrap_or(0.0), fields: tolerance["fields"].as_object() }
    }

    fn for_field(&self, name: &str) -> Self {
        let own = self.fields.and_then(|fields| fields.get(name)).and_then(Value::as_f64);
        Self { relative: own.unwrap_or(self.relative), fields: self.fields }
    }
}

/// Where `got` differs from `want`; extra fields in `got` are allowed, whole numbers must be equal.
fn difference(want: &Value, got: &Value, tolerance: &Tolerance, path: &str) -> Option<String> {
    match (want, got) {
        (Value::Object(want), Value::Object(got)) => want.iter().find_map(|(name, value)| {
            let path = format!("{path}.{name}");
            match got.get(name) {
                Some(got) => difference(value, got, &tolerance.for_field(name), &path),
                None => Some(format!("{path} is missing")),
            }
        }),
        (Value::Array(want), Value::Array(got)) if want.len() == got.len() => want
            .iter()
            .zip(got)
            .enumerate()
            .find_map(|(i, (want, got))| difference(want, got, tolerance, &format!("{path}[{i}]"))),
        (Value::Number(want), Value::Number(got)) => {
            let relative = if want.is_f64() { tolerance.relative } else { 0.0 };
            let allowed = if want.is_f64() { NEXT_TO_ZERO } else { 0.0 };
            let (want, got) = (want.as_f64().unwrap(), got.as_f64().unwrap());
            let agree = (got - want).abs() <= (relative * want.abs()).max(allowed);
            (!agree).then(|| format!("{path}: {got} instead of {want}"))
        }
        _ => (want != got).then(|| format!("{path}: {got} instead of {want}")),
    }
}

fn cases(text: &str) -> Vec<Value> {
    serde_json::from_str(text).unwrap()
}

#[rstest]
#[case::constants(include_str!("vectors/constants.json"), 3)]
#[case::variables(include_str!("vectors/chart_variables.json"), 40)]
#[case::attributes(include_str!("vectors/chart_attributes.json"), 21)]
#[case::time_weighted(include_str!("vectors/chart_time_weighted.json"), 17)]
#[case::rules(include_str!("vectors/rules.json"), 35)]
#[case::multirule(include_str!("vectors/multirule.json"), 17)]
#[case::capability(include_str!("vectors/capability.json"), 11)]
#[case::fit(include_str!("vectors/fit.json"), 13)]
#[case::trust(include_str!("vectors/trust.json"), 10)]
#[case::change_points(include_str!("vectors/change_points.json"), 4)]
#[case::compare(include_str!("vectors/compare.json"), 19)]
#[case::differs(include_str!("vectors/differs.json"), 18)]
#[case::pareto(include_str!("vectors/pareto.json"), 6)]
#[case::limits_check(include_str!("vectors/limits_check.json"), 16)]
#[case::dispersion(include_str!("vectors/dispersion.json"), 5)]
#[case::histogram(include_str!("vectors/histogram.json"), 4)]
#[case::probability_plot(include_str!("vectors/probability_plot.json"), 6)]
#[case::peer(include_str!("vectors/peer.json"), 4)]
#[case::short_runs(include_str!("vectors/short_runs.json"), 5)]
#[case::straight_limits(include_str!("vectors/straight_limits.json"), 4)]
#[case::presets_k(include_str!("vectors/presets_k.json"), 6)]
#[case::equal_readings(include_str!("vectors/equal_readings.json"), 6)]
#[case::edges(include_str!("vectors/edges.json"), 8)]
fn answers_agree_with_independent_ones(#[case] file: &str, #[case] expected_cases: usize) {
    let mut cases = cases(file);
    cases.retain(|case| case.get("answer").is_some());
    assert_eq!(cases.len(), expected_cases);
    let differences: Vec<String> = cases
        .iter()
        .filter_map(|case| {
            let found = match analyze(case["request"].clone()) {
                Ok(got) => difference(&case["answer"], &got, &Tolerance::of(case), "$"),
                Err(problem) => Some(problem.to_string()),
            };
            found.map(|found| format!("{}: {found}", case["name"]))
        })
        .collect();
    assert!(differences.is_empty(), "{differences:#?}");
}

/// Simulated figures are compared in standard errors of both.
#[test]
fn run_lengths_agree_with_independent_ones() {
    let cases = cases(include_str!("vectors/run_length.json"));
    assert_eq!(cases.len(), 11);
    for case in cases {
        let got = analyze(case["request"].clone()).unwrap();
        let allowed = case["tolerance"]["standard_errors"].as_f64().unwrap();
        let (want, got) = (case["answer"].as_array().unwrap(), got.as_array().unwrap());
        assert_eq!(want.len(), got.len(), "{}", case["name"]);
        for (want, got) in want.iter().zip(got) {
            assert_eq!(want["shift"].as_f64(), got["shift"].as_f64());
            let of = |answer: &Value, name: &str| answer[name].as_f64().unwrap();
            let error = of(want, "standard_error").hypot(of(got, "standard_error"));
            let apart = (of(want, "arl") - of(got, "arl")).abs();
            assert!(apart <= allowed * error, "{}: {got} instead of {want}", case["name"]);
            // The median of a geometric-like run length is about 0.7 of its mean, and no better known.
            let apart = (of(want, "median") - of(got, "median")).abs();
            assert!(apart <= (2.0 * allowed * error).max(1.0), "{}: {got} instead of {want}", case["name"]);
        }
    }
}

/// One limit alone is exact; other sets are simulated, and everything but the run length follows from it.
#[test]
fn sampling_plans_agree_with_independent_ones() {
    let cases = cases(include_str!("vectors/sampling.json"));
    assert_eq!(cases.len(), 21);
    for case in cases.iter().filter(|case| case.get("answer").is_some()) {
        let got = analyze(case["request"].clone()).unwrap();
        let Some(allowed) = case["tolerance"]["standard_errors"].as_f64() else {
            assert_eq!(difference(&case["answer"], &got, &Tolerance::of(case), "$"), None, "{}", case["name"]);
            continue;
        };
        let (want, got) = (case["answer"].as_array().unwrap(), got.as_array().unwrap());
        assert_eq!(want.len(), got.len(), "{}", case["name"]);
        for (want, got) in want.iter().zip(got) {
            let of = |answer: &Value, name: &str| answer[name].as_f64().unwrap();
            let within = |want: (f64, f64), got: (f64, f64)| (want.0 - got.0).abs() <= allowed * want.1.hypot(got.1);
            let arl = of(got, "arl");
            let error = of(got, "standard_error");
            assert!(within((of(want, "arl"), of(want, "standard_error")), (arl, error)), "{}: {got}", case["name"]);
            let interval = of(want, "interval_minutes");
            assert!((of(got, "minutes_to_signal") - (arl - 0.5) * interval).abs() < 1e-9 * arl * interval);
            let still = 1440.0 / interval / of(got, "false_alarms_per_day");
            let in_control = case["tolerance"]["in_control"].as_array().unwrap();
            let known = (in_control[0].as_f64().unwrap(), in_control[1].as_f64().unwrap());
            assert!(within(known, (still, known.1)), "{}: {still} points in control", case["name"]);
        }
    }
    for case in cases.iter().filter(|case| case.get("error_path").is_some()) {
        let line = analyze(case["request"].clone()).expect_err(case["name"].as_str().unwrap()).to_string();
        assert!(line.starts_with(&format!("{}: ", case["error_path"].as_str().unwrap())), "{}: {line}", case["name"]);
    }
}

#[test]
fn wrong_requests_are_refused_naming_the_field() {
    let cases = cases(include_str!("vectors/errors.json"));
    assert_eq!(cases.len(), 36);
    for case in cases {
        let problem = analyze(case["request"].clone()).expect_err(case["name"].as_str().unwrap());
        let parts: Vec<&str> = problem.path.split(['.', '[', ']']).collect();
        let named = case["error_field"].as_str().unwrap().split('|').any(|field| parts.contains(&field));
        assert!(named, "{}: {problem}", case["name"]);
    }
}

#[rstest]
#[case::limits_check(include_str!("vectors/limits_check.json"), 2)]
#[case::compare(include_str!("vectors/compare.json"), 8)]
#[case::differs(include_str!("vectors/differs.json"), 4)]
fn a_field_that_cannot_be_is_refused_by_its_path(#[case] file: &str, #[case] expected_cases: usize) {
    let mut cases = cases(file);
    cases.retain(|case| case.get("error_path").is_some());
    assert_eq!(cases.len(), expected_cases);
    for case in cases {
        let line = analyze(case["request"].clone()).expect_err(case["name"].as_str().unwrap()).to_string();
        let mut paths = case["error_path"].as_str().unwrap().split('|');
        // What is wrong may be a part of the field.
        let begins = paths.any(|path| line.strip_prefix(path).is_some_and(|rest| rest.starts_with([':', '[', '.'])));
        assert!(begins, "{}: {line}", case["name"]);
    }
}

#[test]
fn a_refusal_stays_one_line_whatever_was_sent() {
    let line = analyze(json!({"task": "a\u{0}b\u{7f}c\nd"})).unwrap_err().to_string();
    assert!(!line.contains(char::is_control) && line.contains("\\u{7f}"), "{line}");
}

/// The path of the field, what was given, what is allowed.
#[rstest]
#[case::missing(json!({"task": "chart", "points": []}), "chart: missing; expected a value")]
#[case::missing_inside(json!({"task": "pareto", "kinds": [{"name": "chip"}]}), "kinds[0].count: missing; expected a value")]
#[case::no_number(json!({"task": "fit", "values": [1, 2, null]}), "values[2]: invalid type: null; expected a number from -1e100 to 1e100")]
#[case::no_object(json!([1, 2]), "request: invalid type: sequence; expected an object with a field `task`")]
#[case::no_task(json!({"points": []}), "task: missing; expected chart, constants, capability, fit, histogram, probability_plot, trust, limits_check, dispersion, multirule, peer, run_length, sampling, pareto, change_points, compare or differs")]
#[case::beside_a_chart(json!({"task": "limits_check", "chart": "i_mr", "points": [], "last": "x"}),
    "last: invalid type: string \"x\"; expected a whole number from 0")]
#[case::negative(json!({"task": "pareto", "kinds": [{"name": "chip", "count": -2}]}),
    "kinds[0].count: invalid value: integer `-2`; expected a whole number from 0")]
#[case::of_another_chart(json!({"task": "chart", "chart": "u", "points": [{"count": 1, "size": 2, "value": 3}]}),
    "points[0].value: present; expected no such field but with charts that record it")]
#[case::given_of_another_chart(json!({"task": "chart", "chart": "p", "points": [{"count": 1, "size": 2}],
    "limits": {"basis": "given", "center": 0.5, "shape": 2.0}}), "limits.shape: present; expected no such field but with chart t")]
#[case::given_without_its_fit(json!({"task": "chart", "chart": "t", "points": [{"value": 1}],
    "limits": {"basis": "given", "shape": 2.0}}), "limits.scale: missing; expected a number above 0")]
#[case::rule(json!({"task": "run_length", "rules": {"list": [{"kind": "m_of_n", "m": 4, "n": 3, "k": 2}]}}),
    "rules.list[0].m: 4; expected a whole number from 1 to 3")]
#[case::distribution(json!({"task": "capability", "points": [{"values": [1, 2]}], "lsl": 0, "distribution": "auto "}),
    "distribution: \"auto \"; expected auto, or one of `normal`, `lognormal`, `weibull`, `gamma`, `exponential`, `logistic`, \
     `gumbel`, `lognormal3`, `weibull3`")]
fn a_refusal_says_what_was_given_and_what_is_allowed(#[case] request: Value, #[case] line: &str) {
    assert_eq!(analyze(request).unwrap_err().to_string(), line);
}
