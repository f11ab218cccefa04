//! The results of a run, which come together.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use super::accept::{Accepted, EntryRefusal, Origin, accept};
use super::typed::Typed;
use super::usual::{Unusual, Usual};
use crate::characteristic::Characteristic;
use crate::reading::ReadingRefusal;

/// A result that cannot be kept.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RefusedResult {
    /// The level's characteristic.
    pub characteristic: Uuid,
    /// Every reason.
    pub refusals: Vec<ReadingRefusal>,
}

/// A result that is not usual.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UnusualResult {
    /// The level's characteristic.
    pub characteristic: Uuid,
    /// What is asked about.
    pub unusual: Vec<Unusual>,
}

/// Why the results of a run are not accepted as they are.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum ResultsRefusal {
    /// Some cannot be kept.
    #[error("{} results are refused", .0.len())]
    Refused(Vec<RefusedResult>),
    /// Some have to be confirmed.
    #[error("{} results are outside the soft bounds", .0.len())]
    Unusual(Vec<UnusualResult>),
}

/// Accepts the results of a run, all or none; each with its level's characteristic and what is usual of it.
///
/// # Errors
/// Every result that is refused; else every one to ask about.
pub fn accept_results<'a>(
    results: impl IntoIterator<Item = (Uuid, &'a Characteristic, Usual, Typed)>,
    origin: Origin,
) -> Result<Vec<(Uuid, Accepted)>, ResultsRefusal> {
    let (mut accepted, mut refused, mut unusual) = (Vec::new(), Vec::new(), Vec::new());
    for (id, characteristic, usual, typed) in results {
        match accept(characteristic, &usual, &typed, origin) {
            Ok(result) => accepted.push((id, result)),
            Err(EntryRefusal::Readings(refusals)) => refused.push(RefusedResult { characteristic: id, refusals }),
            Err(EntryRefusal::Unusual(asked)) => unusual.push(UnusualResult { characteristic: id, unusual: asked }),
        }
    }
    if !refused.is_empty() {
        Err(ResultsRefusal::Refused(refused))
    } else if !unusual.is_empty() {
        Err(ResultsRefusal::Unusual(unusual))
    } else {
        Ok(accepted)
    }
}
