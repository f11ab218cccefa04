//! Typed text becomes readings. More digits than the unit allows are refused, not rounded: a
//! rounded reading is one that nobody took.

use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::characteristic::{Bounds, Characteristic};

/// Why readings are refused, with the facts to act on. Pieces count from 1, as a person reads them.
#[derive(Debug, Clone, PartialEq, Error, Serialize, Deserialize)]
#[serde(tag = "code", rename_all = "snake_case")]
pub enum Refusal {
    /// The text is not a number.
    #[error("piece {piece}: {given:?} is not a number")]
    NotANumber {
        /// Which piece.
        piece: usize,
        /// As typed.
        given: String,
    },
    /// More decimals than the unit allows.
    #[error("piece {piece}: {given} has more than {allowed} decimals")]
    TooManyDecimals {
        /// Which piece.
        piece: usize,
        /// As typed.
        given: String,
        /// Decimals allowed.
        allowed: u8,
    },
    /// Outside the hard bounds: cannot be measured.
    #[error("piece {piece}: {given} is outside the hard bounds {lower:?} to {upper:?}")]
    OutsideHardBounds {
        /// Which piece.
        piece: usize,
        /// The value.
        given: f64,
        /// Lower hard bound.
        lower: Option<f64>,
        /// Upper hard bound.
        upper: Option<f64>,
    },
    /// Too many or too few readings.
    #[error("{given} readings; {expected} are expected")]
    WrongCount {
        /// How many came.
        given: usize,
        /// How many make a sample.
        expected: usize,
    },
}

/// A reading outside the soft bounds: kept when a person confirms it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Unusual {
    /// Which piece, from 1.
    pub piece: usize,
    /// The value.
    pub given: f64,
    /// Lower soft bound.
    pub lower: Option<f64>,
    /// Upper soft bound.
    pub upper: Option<f64>,
}

/// No instrument here shows more; longer text is not a reading.
const LONGEST: usize = 24;

/// Digits with at most one decimal point or comma, and a sign; nothing else.
fn parse(typed: &str, piece: usize, decimals: u8) -> Result<f64, Refusal> {
    let given = typed.trim();
    let not_a_number = || Refusal::NotANumber { piece, given: given.chars().take(LONGEST).collect() };
    let digits = given.strip_prefix(['-', '+', '−']).unwrap_or(given);
    let (whole, fraction) = digits.split_once(['.', ',']).unwrap_or((digits, ""));
    let all_digits = |part: &str| part.bytes().all(|b| b.is_ascii_digit());
    if given.len() > LONGEST || !all_digits(whole) || !all_digits(fraction) || (whole.is_empty() && fraction.is_empty())
    {
        return Err(not_a_number());
    }
    if fraction.len() > usize::from(decimals) {
        return Err(Refusal::TooManyDecimals { piece, given: given.to_owned(), allowed: decimals });
    }
    let sign = if given.starts_with(['-', '−']) { -1.0 } else { 1.0 };
    let size: f64 = format!("0{whole}.{fraction}0").parse().map_err(|_| not_a_number())?;
    Ok(sign * size)
}

fn within(x: f64, piece: usize, hard: &Bounds) -> Result<f64, Refusal> {
    if hard.hold(x) {
        Ok(x)
    } else {
        Err(Refusal::OutsideHardBounds { piece, given: x, lower: hard.lower, upper: hard.upper })
    }
}

fn read_each<'a>(
    characteristic: &Characteristic,
    typed: impl Iterator<Item = (usize, &'a String)>,
    mut refusals: Vec<Refusal>,
) -> Result<Vec<f64>, Vec<Refusal>> {
    let mut readings = Vec::new();
    for (i, text) in typed {
        match parse(text, i + 1, characteristic.decimals).and_then(|x| within(x, i + 1, &characteristic.hard_bounds)) {
            Ok(x) => readings.push(x),
            Err(refusal) => refusals.push(refusal),
        }
    }
    if refusals.is_empty() { Ok(readings) } else { Err(refusals) }
}

/// The readings of a sample from what was typed for each piece.
///
/// # Errors
/// Every refusal at once, so that all can be shown where they are.
pub fn read(characteristic: &Characteristic, typed: &[String]) -> Result<Vec<f64>, Vec<Refusal>> {
    let expected = characteristic.subgroup_size;
    let mut refusals = Vec::new();
    if typed.len() != expected {
        refusals.push(Refusal::WrongCount { given: typed.len(), expected });
    }
    // What is far too long is refused by its count alone.
    read_each(characteristic, typed.iter().take(expected).enumerate(), refusals)
}

/// The readings typed so far, for a point in pencil: blanks are left out, and there may be none.
///
/// # Errors
/// As [`read`], but for the count: fewer pieces than expected are no error.
pub fn read_so_far(characteristic: &Characteristic, typed: &[String]) -> Result<Vec<f64>, Vec<Refusal>> {
    let filled = typed.iter().enumerate().filter(|(_, text)| !text.trim().is_empty());
    read_each(characteristic, filled.take(characteristic.subgroup_size), Vec::new())
}

/// The readings that a person is asked about before they are kept.
pub fn unusual(characteristic: &Characteristic, readings: &[f64]) -> Vec<Unusual> {
    let Bounds { lower, upper } = characteristic.soft_bounds;
    readings
        .iter()
        .enumerate()
        .filter(|(_, x)| !characteristic.soft_bounds.hold(**x))
        .map(|(i, &given)| Unusual { piece: i + 1, given, lower, upper })
        .collect()
}
