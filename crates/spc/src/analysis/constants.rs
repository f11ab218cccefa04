//! The constants of subgroup sizes.

use serde::{Deserialize, Serialize};

use super::answer::Answer;
use super::fields::Fields;
use crate::constants::{MAX_N, MIN_N, c4, median_error, range_constants};
use crate::wrong_request::{Expected, WrongRequest};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawConstants {
    n: Vec<usize>,
}

#[derive(Serialize)]
struct Constants {
    n: usize,
    d2: f64,
    d3: f64,
    c4: f64,
    e: f64,
}

pub(super) fn answer(fields: Fields) -> Result<Answer, WrongRequest> {
    let raw: RawConstants = fields.read()?;
    let all: Vec<Constants> = raw.n.iter().enumerate().map(|(i, &n)| constants(i, n)).collect::<Result<_, _>>()?;
    Ok(Answer::of(all))
}

fn constants(i: usize, n: usize) -> Result<Constants, WrongRequest> {
    let refused = || WrongRequest::new(format!("n[{i}]"), n, Expected::whole(MIN_N, MAX_N));
    let range = range_constants(n).ok_or_else(refused)?;
    Ok(Constants {
        n,
        d2: range.d2,
        d3: range.d3,
        c4: c4(n).ok_or_else(refused)?,
        e: median_error(n).ok_or_else(refused)?,
    })
}
