//! Reads comparisons.

use serde::Deserialize;

use super::answer::Answer;
use super::chart::{RawPoint, read_points};
use super::fields::Fields;
use crate::bounds::{POINTS_AT_MOST, list};
use crate::chart::ChartKind;
use crate::compare::{CompareRequest, DataSet, SETS_AT_MOST, compare, compared};
use crate::wrong_request::WrongRequest;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawCompare {
    #[serde(deserialize_with = "list::<_, _, SETS_AT_MOST>")]
    sets: Vec<RawSet>,
    chart: ChartKind,
    lsl: Option<f64>,
    target: Option<f64>,
    usl: Option<f64>,
    confidence: Option<f64>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawSet {
    name: String,
    #[serde(deserialize_with = "list::<_, _, POINTS_AT_MOST>")]
    points: Vec<Option<RawPoint>>,
}

pub(super) fn answer(fields: Fields) -> Result<Answer, WrongRequest> {
    let RawCompare { sets, chart, lsl, target, usl, confidence } = fields.read()?;
    let chart = compared(chart)?;
    let read = |(i, RawSet { name, points }): (usize, RawSet)| {
        let points = read_points(chart, points).map_err(|wrong| wrong.within(&format!("sets[{i}]")))?;
        Ok(DataSet { name, points })
    };
    let sets = sets.into_iter().enumerate().map(read).collect::<Result<_, _>>()?;
    Ok(Answer::of(compare(&CompareRequest { sets, chart, lsl, target, usl, confidence: confidence.unwrap_or(0.95) })?))
}
