//! Reads capability studies.

use serde::Deserialize;
use serde_json::Value;

use super::answer::Answer;
use super::chart::{RawPoint, read_readings};
use super::fields::Fields;
use crate::bounds::{VALUES_AT_MOST, list};
use crate::capability::{CapabilityRequest, Chosen, WithinMethod, capability};
use crate::distribution::Family;
use crate::wrong_request::{Expected, WrongRequest};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawCapability {
    #[serde(deserialize_with = "list::<_, _, VALUES_AT_MOST>")]
    points: Vec<Option<RawPoint>>,
    #[serde(default)]
    excluded: Vec<usize>,
    lsl: Option<f64>,
    target: Option<f64>,
    usl: Option<f64>,
    sigma_method: Option<WithinMethod>,
    distribution: Option<Value>,
    #[serde(default)]
    signals: usize,
}

fn read_distribution(named: Value) -> Result<Chosen, WrongRequest> {
    if named == "auto" {
        return Ok(Chosen::Auto);
    }
    Family::deserialize(&named).map(Chosen::Family).map_err(|error| {
        let says = error.to_string();
        let families = says.split_once(", expected one of ").map_or("a family", |(_, families)| families);
        WrongRequest::new("distribution", &named, Expected::Form { says: format!("auto, or one of {families}") })
    })
}

pub(super) fn answer(fields: Fields) -> Result<Answer, WrongRequest> {
    let raw: RawCapability = fields.read()?;
    Ok(Answer::of(capability(&CapabilityRequest {
        points: read_readings(raw.points)?,
        excluded: raw.excluded,
        lsl: raw.lsl,
        target: raw.target,
        usl: raw.usl,
        sigma_method: raw.sigma_method,
        distribution: raw.distribution.map_or(Ok(Chosen::Family(Family::Normal)), read_distribution)?,
        signals: raw.signals,
    })?))
}
