//! Typed text becomes a number. More digits than the unit allows are refused, not rounded: a
//! rounded reading is one that nobody took.

use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::characteristic::Characteristic;

/// Why what was typed is refused, with the facts to act on. Pieces count from 1, as a person reads
/// them; reference components count on after the pieces.
#[derive(Debug, Clone, PartialEq, Error, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "code", rename_all = "snake_case")]
pub enum ReadingRefusal {
    /// The text is not a number.
    #[error("piece {piece}: {given:?} is not a number")]
    NotANumber {
        /// From 1.
        piece: usize,
        /// As typed.
        given: String,
    },
    /// Nothing was typed, and the piece is not left out on purpose.
    #[error("piece {piece} is blank")]
    Blank {
        /// From 1.
        piece: usize,
    },
    /// The text ends in another unit.
    #[error("piece {piece}: {given:?} is not in {expected}")]
    OtherUnit {
        /// From 1.
        piece: usize,
        /// The unit that came.
        given: String,
        /// Unit of the characteristic.
        expected: String,
    },
    /// More decimals than the unit allows.
    #[error("piece {piece}: {given} has more than {allowed} decimals")]
    TooManyDecimals {
        /// From 1.
        piece: usize,
        /// As typed.
        given: String,
        /// Decimals allowed.
        allowed: u8,
    },
    /// Outside the hard bounds: cannot be measured.
    #[error("piece {piece}: {given} is outside the hard bounds {lower:?} to {upper:?}")]
    OutsideHardBounds {
        /// From 1.
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
    /// Every piece is left out: that is a sample to skip.
    #[error("every piece is left out")]
    NothingRecorded,
    /// The number inspected is no whole number above 0, or not the fixed one.
    #[error("{given:?} units inspected; expected {expected:?} or a whole number above 0")]
    Inspected {
        /// As typed.
        given: String,
        /// The fixed number, where there is one.
        expected: Option<u32>,
    },
    /// More nonconforming units than were inspected.
    #[error("{given} nonconforming units of {inspected} inspected")]
    MoreThanInspected {
        /// Nonconforming units.
        given: u32,
        /// Units inspected.
        inspected: u32,
    },
    /// A count of 0, of an unknown kind, or of another kind without its word.
    #[error("the counts by kind cannot be read")]
    Defects,
    /// Units since the rare event before are no whole number from 0.
    #[error("{given:?} units since the event before")]
    Between {
        /// As typed.
        given: String,
    },
    /// None of the parts of the short run.
    #[error("{given:?} is none of its parts")]
    Part {
        /// What was named.
        given: String,
    },
    /// A tag that is not asked, or longer than 80 characters.
    #[error("tag {tag:?} cannot be kept")]
    Tag {
        /// Its name.
        tag: String,
    },
    /// Readings for a characteristic that counts, or the other way round.
    #[error("readings and counts are mixed up")]
    OtherKind,
}

/// No instrument here shows more; longer text is not a reading.
const LONGEST: usize = 32;

/// The reading of a text such as `6.31`, `6,31` or `+0006.31 mm`: digits with at most one decimal
/// point or comma, a sign, and the unit where a gauge sends it along.
///
/// # Errors
/// No number, another unit, too many decimals, or outside the hard bounds.
pub fn number(characteristic: &Characteristic, piece: usize, typed: &str) -> Result<f64, ReadingRefusal> {
    let given = typed.trim();
    let shown = || given.chars().take(LONGEST).collect::<String>();
    let end = given.find(|c: char| !matches!(c, '0'..='9' | '.' | ',' | '+' | '-' | '−')).unwrap_or(given.len());
    let (figure, unit) = given.split_at(end);
    let digits = figure.strip_prefix(['-', '+', '−']).unwrap_or(figure);
    let (whole, fraction) = digits.split_once(['.', ',']).unwrap_or((digits, ""));
    let all_digits = |part: &str| part.bytes().all(|b| b.is_ascii_digit());
    if given.len() > LONGEST || !all_digits(whole) || !all_digits(fraction) || (whole.is_empty() && fraction.is_empty())
    {
        return Err(ReadingRefusal::NotANumber { piece, given: shown() });
    }
    let expected = &characteristic.unit;
    match unit.trim() {
        "" => {}
        unit if unit.to_lowercase() == expected.to_lowercase() => {}
        // "6 31" and "6.31x7" are slips of the finger, not units.
        unit if unit.contains(|c: char| c.is_ascii_digit()) => {
            return Err(ReadingRefusal::NotANumber { piece, given: shown() });
        }
        unit => return Err(ReadingRefusal::OtherUnit { piece, given: unit.to_owned(), expected: expected.clone() }),
    }
    let decimals = characteristic.decimals;
    if fraction.len() > usize::from(decimals) {
        return Err(ReadingRefusal::TooManyDecimals { piece, given: figure.to_owned(), allowed: decimals });
    }
    let sign = if figure.starts_with(['-', '−']) { -1.0 } else { 1.0 };
    let size: f64 =
        format!("0{whole}.{fraction}0").parse().map_err(|_| ReadingRefusal::NotANumber { piece, given: shown() })?;
    let (x, hard) = (sign * size, &characteristic.hard_bounds);
    match hard.hold(x) {
        true => Ok(x),
        false => Err(ReadingRefusal::OutsideHardBounds { piece, given: x, lower: hard.lower, upper: hard.upper }),
    }
}
