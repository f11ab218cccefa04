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

mod bounds;
mod fields;

use serde::Serialize;

use crate::{change_points, distribution, multirule, pareto, peer};
use fields::Fields;

pub use crate::chart::Problem;
pub(crate) use bounds::list;
pub use bounds::{JUDGEMENTS_AT_MOST, POINTS_AT_MOST, RANKS_AT_MOST, SIGNALS_AT_MOST, VALUES_AT_MOST};

/// Answers one request. Both are JSON text: a tree of values in between would take ten times the memory.
///
/// ```
/// let request = r#"{"task": "chart", "chart": "i_mr",
///     "points": [{"values": [4.1]}, {"values": [4.3]}, {"values": [4.2]}]}"#;
/// let answer = spc::analysis::analyze(request).unwrap();
/// assert!(answer.contains(r#""used":3"#));
/// ```
///
/// # Errors
/// The field that is wrong as a JSON path, what was given and what is expected. What would take more
/// time or memory than an answer is worth is refused with the bound.
pub fn analyze(request: &str) -> Result<String, Problem> {
    let task = fields::task(request)?;
    let fields = Fields::of(request);
    match task.as_str() {
        "chart" => chart::answer(fields),
        "constants" => constants::answer(fields),
        "capability" => capability::answer(fields),
        "fit" => write(&distribution::fit(&fields.read()?)?),
        "histogram" => write(&distribution::histogram(&fields.read()?)?),
        "probability_plot" => write(&distribution::probability_plot(&fields.read()?)?),
        "trust" => checks::answer_trust(fields),
        "limits_check" => checks::answer_limits_check(fields),
        "dispersion" => checks::answer_dispersion(fields),
        "multirule" => write(&multirule::multirule(&fields.read()?)?),
        "peer" => write(&peer::peer(&fields.read()?)?),
        "run_length" => run_length::answer(fields),
        "pareto" => write(&pareto::pareto(&fields.read()?)?),
        "change_points" => write(&change_points::change_points(&fields.read()?)?),
        _ => Err(Problem::new("task", task, TASKS)),
    }
}

const TASKS: &str = "chart, constants, capability, fit, histogram, probability_plot, trust, limits_check, \
    dispersion, multirule, peer, run_length, pareto or change_points";

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
    Problem::new(if path.is_empty() { "request" } else { path }, given, expected)
}

fn write<T: Serialize>(answer: &T) -> Result<String, Problem> {
    serde_json::to_string(answer).map_err(|error| Problem::new("request", error, "figures that can be written"))
}
