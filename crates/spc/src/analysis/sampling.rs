//! Reads plans to weigh against one another.

use serde::Deserialize;

use super::answer::Answer;
use super::chart::RawRules;
use super::fields::Fields;
use crate::run_length::RunLengthRequest;
use crate::sampling::{SamplingPlan, SamplingRequest, sampling};
use crate::wrong_request::{Expected, WrongRequest};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawSampling {
    rules: Option<RawRules>,
    k: Option<f64>,
    shift: f64,
    plans: Vec<SamplingPlan>,
    runs: Option<usize>,
    seed: Option<u64>,
}

pub(super) fn answer(fields: Fields) -> Result<Answer, WrongRequest> {
    let raw: RawSampling = fields.read()?;
    let rules = raw.rules.map(RawRules::into_rule_set).transpose()?.flatten();
    let rules = rules.ok_or_else(|| WrongRequest::new("rules", "none", Expected::at_least(1, "rules")))?;
    let default = RunLengthRequest::new(rules);
    Ok(Answer::of(sampling(&SamplingRequest {
        rules: default.rules,
        k: raw.k.unwrap_or(3.0),
        shift: raw.shift,
        plans: raw.plans,
        runs: raw.runs.unwrap_or(default.runs),
        seed: raw.seed.unwrap_or(default.seed),
    })?))
}
