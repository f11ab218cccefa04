//! Nothing that a person can write makes the core panic: requests that are right, with one place
//! after another replaced by what does not belong there.

use proptest::prelude::*;
use serde_json::{Value, json};

use crate::as_trees::analyze;

/// Right requests of every task, short ones.
fn seeds() -> Vec<Value> {
    let files = [
        include_str!("vectors/chart_variables.json"),
        include_str!("vectors/chart_attributes.json"),
        include_str!("vectors/chart_time_weighted.json"),
        include_str!("vectors/rules.json"),
        include_str!("vectors/multirule.json"),
        include_str!("vectors/capability.json"),
        include_str!("vectors/fit.json"),
        include_str!("vectors/trust.json"),
        include_str!("vectors/change_points.json"),
        include_str!("vectors/pareto.json"),
        include_str!("vectors/differs.json"),
        include_str!("vectors/constants.json"),
    ];
    let others = [
        json!({"task": "run_length", "rules": {"preset": "nelson"}, "shifts": [0, 1], "runs": 3, "seed": 1}),
        json!({"task": "histogram", "values": [1.0, 2.0, 4.0], "bins": 3}),
        json!({"task": "probability_plot", "values": [1.0, 2.0, 4.0], "family": "weibull",
               "parameters": {"shape": 2.0, "scale": 3.0}}),
        json!({"task": "peer", "own": {"n": 5, "mean": 4.0, "sd": 0.2}, "peer": {"n": 90, "mean": 4.1, "sd": 0.3}}),
        json!({"task": "dispersion", "chart": "p", "points": [{"count": 1, "size": 9}, {"count": 3, "size": 9}]}),
        json!({"task": "limits_check", "chart": "xbar_r", "last": 2, "phase": 0, "since": 0,
               "limits": {"basis": "given", "center": 1, "sigma": 1}, "rules": {"list": [{"kind": "beyond", "k": 1}]},
               "points": [{"values": [1, 2]}, {"values": [2, 4]}, {"values": [0, 4]}]}),
    ];
    let of_file = |file: &str| {
        let cases: Vec<Value> = serde_json::from_str(file).unwrap();
        cases.into_iter().map(|case| case["request"].clone()).filter(|r| r.to_string().len() < 4000).collect::<Vec<_>>()
    };
    files.into_iter().flat_map(of_file).chain(others).collect()
}

/// The paths to every place in a request.
fn places(value: &Value, path: &str, all: &mut Vec<String>) {
    all.push(path.to_owned());
    match value {
        Value::Object(fields) => fields.iter().for_each(|(name, v)| places(v, &format!("{path}/{name}"), all)),
        Value::Array(items) => items.iter().enumerate().for_each(|(i, v)| places(v, &format!("{path}/{i}"), all)),
        _ => {}
    }
}

fn anything() -> impl Strategy<Value = Value> {
    prop_oneof![
        prop::sample::select(vec![
            json!(null),
            json!(true),
            json!(""),
            json!("normal"),
            json!([]),
            json!({}),
            json!(0),
            json!(-1),
            json!(1),
            json!(2),
            json!(1e-300),
            json!(1e300),
            json!(-1e100),
            json!(u64::MAX),
            json!(i64::MIN),
            json!(0.5),
            json!([null]),
            json!([0, 0]),
            json!({"values": [1, 2]}),
            json!({"count": 1, "size": 2}),
        ]),
        any::<f64>().prop_map(|x| json!(x)),
        (-50i32..50).prop_map(|x| json!(x)),
        (-50f64..50.0).prop_map(|x| json!(x)),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(3000))]
    #[test]
    fn any_request_is_refused_or_answered(
        seed in prop::sample::select(seeds()),
        changes in prop::collection::vec((any::<prop::sample::Index>(), anything()), 1..4),
    ) {
        let mut request = seed;
        for (place, other) in changes {
            let mut all = vec![];
            places(&request, "", &mut all);
            let path: &String = place.get(&all);
            if let Some(value) = request.pointer_mut(path) {
                *value = other;
            }
        }
        if let Err(problem) = analyze(request) {
            prop_assert!(!problem.path.is_empty() || problem.given.contains('`'), "{problem}");
            prop_assert!(!problem.expected.to_string().is_empty());
        }
    }
}
