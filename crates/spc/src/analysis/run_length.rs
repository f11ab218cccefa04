//! Reads run length simulations.

use serde::Deserialize;

use super::answer::Answer;
use super::chart::RawRules;
use super::fields::Fields;
use crate::run_length::{RunLengthRequest, run_length};
use crate::wrong_request::{Expected, WrongRequest};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawRunLength {
    rules: RawRules,
    shifts: Option<Vec<f64>>,
    runs: Option<usize>,
    seed: Option<u64>,
}

pub(super) fn answer(fields: Fields) -> Result<Answer, WrongRequest> {
    let raw: RawRunLength = fields.read()?;
    let rules =
        raw.rules.into_rule_set()?.ok_or_else(|| WrongRequest::new("rules", "none", Expected::at_least(1, "rules")))?;
    let default = RunLengthRequest::new(rules);
    Ok(Answer::of(run_length(&RunLengthRequest {
        shifts: raw.shifts.unwrap_or(default.shifts),
        runs: raw.runs.unwrap_or(default.runs),
        seed: raw.seed.unwrap_or(default.seed),
        rules: default.rules,
    })?))
}
