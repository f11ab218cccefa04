//! Reads run length simulations.

use serde::Deserialize;

use super::Problem;
use super::chart::RawRules;
use super::fields::Fields;
use crate::run_length::{RunLengthRequest, run_length};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawRunLength {
    rules: RawRules,
    shifts: Option<Vec<f64>>,
    runs: Option<usize>,
    seed: Option<u64>,
}

pub(super) fn answer(fields: Fields) -> Result<String, Problem> {
    let raw: RawRunLength = fields.read()?;
    let rules = raw.rules.into_rule_set()?.ok_or_else(|| Problem::new("rules", "none", "at least one rule"))?;
    let default = RunLengthRequest::new(rules);
    super::write(&run_length(&RunLengthRequest {
        shifts: raw.shifts.unwrap_or(default.shifts),
        runs: raw.runs.unwrap_or(default.runs),
        seed: raw.seed.unwrap_or(default.seed),
        rules: default.rules,
    })?)
}
