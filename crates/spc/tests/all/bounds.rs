//! What would take more than an answer is worth is refused with its bound, and long work can be given up.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use rstest::rstest;
use serde_json::{Value, json};
use spc::analysis::analyze;
use spc::bounds::{JUDGEMENTS_AT_MOST, POINTS_AT_MOST, RANKS_AT_MOST, SIGNALS_AT_MOST, VALUES_AT_MOST};

fn gaps(n: usize) -> String {
    let points = vec!["null"; n].join(",");
    format!(r#"{{"task": "chart", "chart": "i_mr", "points": [{points}]}}"#)
}

fn values(task: &str, n: usize, more: &Value) -> String {
    let values: Vec<usize> = (0..n).map(|i| i * i % 9973).collect();
    let mut request = json!({"task": task, "values": values});
    request.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
    request.to_string()
}

fn chart(n: usize, rules: &Value) -> String {
    let points: Vec<Value> = (0..n).map(|i| json!({"values": [if i % 2 == 0 { 9 } else { -9 }]})).collect();
    let limits = json!({"basis": "given", "center": 0, "sigma": 1});
    json!({"task": "chart", "chart": "i_mr", "points": points, "limits": limits, "rules": rules}).to_string()
}

#[rstest]
#[case::points(gaps(POINTS_AT_MOST + 1), "points", POINTS_AT_MOST)]
#[case::fit(values("fit", VALUES_AT_MOST + 1, &json!({})), "values", VALUES_AT_MOST)]
#[case::histogram(values("histogram", VALUES_AT_MOST + 1, &json!({})), "values", VALUES_AT_MOST)]
#[case::change_points(values("change_points", VALUES_AT_MOST + 1, &json!({})), "values", VALUES_AT_MOST)]
#[case::ranks(values("probability_plot", RANKS_AT_MOST + 1, &json!({"family": "normal"})), "values", RANKS_AT_MOST)]
#[case::judgements(
    chart(JUDGEMENTS_AT_MOST / 100 + 1, &json!({"list": vec![json!({"kind": "beyond", "k": 50}); 100]})),
    "rules", JUDGEMENTS_AT_MOST)]
#[case::signals(chart(SIGNALS_AT_MOST + 1, &json!({"preset": "limits_only"})), "rules", SIGNALS_AT_MOST)]
fn more_than_is_answered_is_refused_with_the_bound(#[case] request: String, #[case] field: &str, #[case] bound: usize) {
    let refused = analyze(&request).unwrap_err();
    assert_eq!(refused.path, field);
    assert!(refused.to_string().contains(&bound.to_string()), "{refused}");
}

#[test]
fn what_nobody_waits_for_is_given_up() {
    let request = json!({"task": "run_length", "rules": {"preset": "nelson"}, "runs": 1_000_000}).to_string();
    let unwanted = Arc::new(AtomicBool::new(false));
    let flag = Arc::clone(&unwanted);
    let work = std::thread::spawn(move || spc::stop::until(flag, || analyze(&request)));
    unwanted.store(true, Ordering::Relaxed);
    assert_eq!(work.join().unwrap().unwrap_err().given, "given up");
    // Other work on a thread is not given up with it.
    unwanted.store(true, Ordering::Relaxed);
    assert!(spc::stop::until(unwanted, || analyze(r#"{"task": "constants", "n": [2]}"#)).is_ok());
    assert!(analyze(&values("change_points", 100, &json!({}))).is_ok());
}
