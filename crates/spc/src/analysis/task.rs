//! Which task is asked, and who answers it.

use super::answer::Answer;
use super::fields::{Fields, TASKS, task};
use super::{capability, chart, checks, compare, constants, run_length, sampling};
use crate::wrong_request::{Expected, WrongRequest};
use crate::{change_points, differs, distribution, multirule, pareto, peer};

/// Answers one request. Both are JSON text: a tree of values in between would take ten times the memory.
///
/// ```
/// let request = r#"{"task": "chart", "chart": "i_mr",
///     "points": [{"values": [4.1]}, {"values": [4.3]}, {"values": [4.2]}]}"#;
/// assert!(spc::analysis::analyze(request).unwrap().text().contains(r#""used":3"#));
/// ```
///
/// # Errors
/// The field that is wrong as a JSON path, what was given and what is expected. What would take more
/// time or memory than an answer is worth is refused with the bound.
pub fn analyze(request: &str) -> Result<Answer, WrongRequest> {
    let task = task(request)?;
    let fields = Fields::of(request);
    match task.as_str() {
        "chart" => chart::answer(fields),
        "constants" => constants::answer(fields),
        "capability" => capability::answer(fields),
        "fit" => Ok(Answer::of(distribution::fit(&fields.read()?)?)),
        "histogram" => Ok(Answer::of(distribution::histogram(&fields.read()?)?)),
        "probability_plot" => Ok(Answer::of(distribution::probability_plot(&fields.read()?)?)),
        "trust" => checks::answer_trust(fields),
        "limits_check" => checks::answer_limits_check(fields),
        "dispersion" => checks::answer_dispersion(fields),
        "multirule" => Ok(Answer::of(multirule::multirule(&fields.read()?)?)),
        "peer" => Ok(Answer::of(peer::peer(&fields.read()?)?)),
        "run_length" => run_length::answer(fields),
        "sampling" => sampling::answer(fields),
        "pareto" => Ok(Answer::of(pareto::pareto(&fields.read()?)?)),
        "change_points" => Ok(Answer::of(change_points::change_points(&fields.read()?)?)),
        "compare" => compare::answer(fields),
        "differs" => Ok(Answer::of(differs::differs(&fields.read()?)?)),
        _ => Err(WrongRequest::new("task", task, Expected::one_of(TASKS))),
    }
}
