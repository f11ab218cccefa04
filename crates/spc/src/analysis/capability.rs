//! Reads capability studies.

use serde::Deserialize;
use serde_json::Value;

use super::Problem;
use super::chart::{RawPoint, read_readings};
use crate::capability::{CapabilityRequest, Chosen, WithinMethod, capability};
use crate::distribution::Family;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawCapability {
    points: Vec<Option<RawPoint>>,
    #[serde(default)]
    excluded: Vec<usize>,
    lsl: Option<f64>,
    target: Option<f64>,
    usl: Option<f64>,
    sigma_method: Option<WithinMethod>,
    distribution: Option<Chosen>,
    #[serde(default)]
    signals: usize,
}

pub(super) fn answer(fields: Value) -> Result<Value, Problem> {
    let raw: RawCapability = super::read(fields)?;
    super::write(&capability(&CapabilityRequest {
        points: read_readings(raw.points)?,
        excluded: raw.excluded,
        lsl: raw.lsl,
        target: raw.target,
        usl: raw.usl,
        sigma_method: raw.sigma_method,
        distribution: raw.distribution.unwrap_or(Chosen::Family(Family::Normal)),
        signals: raw.signals,
    })?)
}
