//! Why nothing can be answered.

use serde::Serialize;
use spc::distribution::Family;
use spc::wrong_request::{Expected, Need, WrongRequest};
use thiserror::Error;

/// Why a question has no answer.
#[derive(Debug, Clone, PartialEq, Serialize, Error)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "because", rename_all = "snake_case")]
pub enum StudyRefusal {
    /// Counts, where measured values are asked about, or the other way round.
    #[error("the characteristic records something else")]
    OtherKind,
    /// Neither LSL nor USL.
    #[error("there is no specification limit")]
    NoSpecification,
    /// The selection holds no sample with a value.
    #[error("the selection holds no sample")]
    NoSamples,
    /// More than an answer can look at.
    #[error("the selection holds more than {most} samples")]
    TooMany {
        /// Samples at most.
        most: u32,
    },
    /// No two values differ.
    #[error("all values are equal")]
    AllEqual {
        /// How many.
        values: usize,
    },
    /// A family that does not hold every value, or whose likelihood has no maximum.
    #[error("the family does not hold every value")]
    OutsideFamily {
        /// The family.
        family: Option<Family>,
    },
    /// Moving ranges need single values.
    #[error("moving ranges need one value a sample")]
    NotSingle,
    /// Sets of different kinds of data, or in different units.
    #[error("the sets record different things")]
    Unlike,
    /// The rules hardly ever signal.
    #[error("the rules signal too rarely")]
    SignalsTooRarely {
        /// The design.
        name: String,
    },
    /// More periods than a drawing can show.
    #[error("more than {most} periods")]
    TooManyPeriods {
        /// Periods at most.
        most: usize,
    },
    /// There are no shifts in the calendar.
    #[error("there are no shifts")]
    NoShifts,
    /// A frozen copy stays as it is.
    #[error("a frozen copy stays as it is")]
    Frozen,
    /// What is not frozen can change under a signature.
    #[error("only a frozen copy is signed")]
    NotFrozen,
    /// Nobody signs twice.
    #[error("it is signed by them already")]
    SignedBefore,
}

impl StudyRefusal {
    /// What the core refused of `values` values; nothing where that is a fault of ours.
    pub(super) fn of(wrong: &WrongRequest, values: usize, family: Option<Family>) -> Option<Self> {
        match &wrong.expected {
            Expected::Need { need: Need::OneLimit } => Some(Self::NoSpecification),
            Expected::Need { need: Need::DifferentValues } if values == 0 => Some(Self::NoSamples),
            Expected::Need { need: Need::DifferentValues } => Some(Self::AllEqual { values }),
            Expected::Need { need: Need::FamilyThatHolds } => Some(Self::OutsideFamily { family }),
            Expected::Entries { of: "value a point", .. } => Some(Self::NotSingle),
            _ => None,
        }
    }
}
