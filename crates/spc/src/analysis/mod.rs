//! The analysis interface: one pure function from a JSON request to a JSON answer.
//!
//! The same function serves the Rust caller, `nuvek analyze` and `POST /api/analyze`. Numbers are
//! JSON numbers in full double precision; unknown fields, NaN and infinities are refused; indices
//! count from 0.

mod capability;
mod chart;
mod checks;
mod constants;
mod run_length;

use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::{change_points, distribution, multirule, pareto, peer};

pub use crate::chart::Problem;

/// Answers one request.
///
/// ```
/// let request = serde_json::json!({
///     "task": "chart", "chart": "i_mr",
///     "points": [{"values": [4.1]}, {"values": [4.3]}, {"values": [4.2]}],
/// });
/// let answer = spc::analysis::analyze(request).unwrap();
/// assert_eq!(answer["phases"][0]["used"], 3);
/// ```
///
/// # Errors
/// The field that is wrong as a JSON path, what was given and what is expected.
pub fn analyze(request: Value) -> Result<Value, Problem> {
    let Value::Object(mut fields) = request else {
        return Err(Problem::new("request", kind_of(&request), "an object with a field `task`"));
    };
    let task = fields.remove("task").ok_or_else(|| Problem::new("task", "missing", TASKS))?;
    let fields = Value::Object(fields);
    match task.as_str() {
        Some("chart") => chart::answer(fields),
        Some("constants") => constants::answer(fields),
        Some("capability") => capability::answer(fields),
        Some("fit") => write(&distribution::fit(&read(fields)?)?),
        Some("histogram") => write(&distribution::histogram(&read(fields)?)?),
        Some("probability_plot") => write(&distribution::probability_plot(&read(fields)?)?),
        Some("trust") => checks::answer_trust(fields),
        Some("limits_check") => checks::answer_limits_check(fields),
        Some("dispersion") => checks::answer_dispersion(fields),
        Some("multirule") => write(&multirule::multirule(&read(fields)?)?),
        Some("peer") => write(&peer::peer(&read(fields)?)?),
        Some("run_length") => run_length::answer(fields),
        Some("pareto") => write(&pareto::pareto(&read(fields)?)?),
        Some("change_points") => write(&change_points::change_points(&read(fields)?)?),
        _ => Err(Problem::new("task", task, TASKS)),
    }
}

const TASKS: &str = "chart, constants, capability, fit, histogram, probability_plot, trust, limits_check, \
    dispersion, multirule, peer, run_length, pareto or change_points";

/// The fields of a task; what is wrong is named by its path.
fn read<T: DeserializeOwned>(fields: Value) -> Result<T, Problem> {
    serde_path_to_error::deserialize(fields).map_err(|error| {
        let path = error.path().to_string();
        wrong_field(path.trim_start_matches('.'), &error.into_inner().to_string())
    })
}

/// Takes apart what the reader of JSON says: what was found, and what it expected.
fn wrong_field(path: &str, says: &str) -> Problem {
    if let Some(name) = says.strip_prefix("missing field `").and_then(|rest| rest.split('`').next()) {
        let path = if path.is_empty() { name.to_owned() } else { format!("{path}.{name}") };
        return Problem::new(path, "missing", "a value");
    }
    let (given, expected) = says.split_once(", expected ").unwrap_or((says, "the fields that the task describes"));
    let expected = match expected {
        "f64" => "a number",
        "u64" | "usize" => "a whole number from 0",
        other => other,
    };
    Problem::new(path, given, expected)
}

fn write<T: Serialize>(answer: &T) -> Result<Value, Problem> {
    serde_json::to_value(answer).map_err(|error| Problem::new("request", error, "figures that can be written"))
}

fn kind_of(value: &Value) -> &'static str {
    match value {
        Value::Null => "null",
        Value::Bool(_) => "a truth value",
        Value::Number(_) => "a number",
        Value::String(_) => "a text",
        Value::Array(_) => "a list",
        Value::Object(_) => "an object",
    }
}
