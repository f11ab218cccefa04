//! Reads the tasks that look at a whole chart request: trust, dispersion, limits check.

use serde::de::DeserializeOwned;
use serde_json::Value;

use super::Problem;
use super::chart::read_request;
use crate::dispersion::dispersion;
use crate::limits_check::{Baseline, LimitsCheckRequest, limits_check};
use crate::trust::trust;

pub(super) fn answer_trust(fields: Value) -> Result<Value, Problem> {
    super::write(&trust(&read_request(fields)?)?)
}

pub(super) fn answer_dispersion(fields: Value) -> Result<Value, Problem> {
    super::write(&dispersion(&read_request(fields)?)?)
}

pub(super) fn answer_limits_check(mut fields: Value) -> Result<Value, Problem> {
    let phase = take(&mut fields, "phase")?;
    let last = take(&mut fields, "last")?;
    let since = take(&mut fields, "since")?;
    let baseline = fields.as_object_mut().and_then(|fields| fields.remove("baseline"));
    let baseline = baseline.filter(|told| !told.is_null()).map(read_baseline).transpose()?;
    let chart = read_request(fields)?;
    super::write(&limits_check(&LimitsCheckRequest { chart, phase, last: last.unwrap_or(25), since, baseline })?)
}

fn read_baseline(told: Value) -> Result<Baseline, Problem> {
    super::read(told).map_err(|problem| Problem { field: format!("baseline.{}", problem.field), ..problem })
}

/// A field beside those of the chart request.
fn take<T: DeserializeOwned>(fields: &mut Value, name: &str) -> Result<Option<T>, Problem> {
    let Some(value) = fields.as_object_mut().and_then(|fields| fields.remove(name)) else { return Ok(None) };
    let given = value.to_string();
    serde_json::from_value(value).map_err(|_| Problem::new(name, given, "a whole number from 0"))
}
