//! Reads the tasks that look at a whole chart request: trust, dispersion, limits check.

use serde::Deserialize;

use super::answer::Answer;
use super::chart::read_request;
use super::fields::Fields;
use crate::dispersion::dispersion;
use crate::limits_check::{Baseline, LimitsCheckRequest, limits_check};
use crate::trust::trust;
use crate::wrong_request::WrongRequest;

pub(super) fn answer_trust(fields: Fields) -> Result<Answer, WrongRequest> {
    Ok(Answer::of(trust(&read_request(fields)?)?))
}

pub(super) fn answer_dispersion(fields: Fields) -> Result<Answer, WrongRequest> {
    Ok(Answer::of(dispersion(&read_request(fields)?)?))
}

/// The fields beside those of the chart request.
#[derive(Deserialize)]
struct RawLimitsCheck {
    phase: Option<usize>,
    last: Option<usize>,
    since: Option<usize>,
    baseline: Option<Baseline>,
}

pub(super) fn answer_limits_check(fields: Fields) -> Result<Answer, WrongRequest> {
    let RawLimitsCheck { phase, last, since, baseline } = fields.beside()?;
    let chart = read_request(fields.without(&["task", "phase", "last", "since", "baseline"]))?;
    Ok(Answer::of(limits_check(&LimitsCheckRequest { chart, phase, last: last.unwrap_or(25), since, baseline })?))
}
