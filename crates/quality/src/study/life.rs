//! The life of a study: kept with its answer, refreshed by choice, copied to stay as it is, and signed.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::refusal::StudyRefusal;

/// Where a study stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Stage {
    /// Its question may be changed, and its answer refreshed.
    Kept,
    /// A copy that stays as it is, and may be signed.
    Frozen,
}

/// The data that an answer was found from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DataState {
    /// Samples of the characteristics in all.
    pub samples: i64,
    /// When the newest of them was taken.
    pub newest: Option<DateTime<Utc>>,
    /// How far the trail of each characteristic had come: what is behind came later.
    pub trails: BTreeMap<Uuid, i64>,
}

/// What has happened to the data since.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Since {
    /// Samples that came.
    pub samples: i64,
    /// Other things that people did: corrected, set aside, answered, limits put in force.
    pub others: i64,
    /// The set-up of a characteristic was changed.
    pub set_up: bool,
}

/// Whether its answer may be found anew, or its question changed.
///
/// # Errors
/// A frozen copy stays as it is.
pub fn may_refresh(stage: Stage) -> Result<(), StudyRefusal> {
    if stage == Stage::Frozen { Err(StudyRefusal::Frozen) } else { Ok(()) }
}

/// Whether a copy of it may be frozen.
///
/// # Errors
/// A copy of a copy says nothing new.
pub fn may_freeze(stage: Stage) -> Result<(), StudyRefusal> {
    may_refresh(stage)
}

/// Whether it may be signed.
///
/// # Errors
/// What is not frozen can change under a signature; nobody signs twice.
pub fn may_sign(stage: Stage, signed_before: bool) -> Result<(), StudyRefusal> {
    match stage {
        Stage::Kept => Err(StudyRefusal::NotFrozen),
        Stage::Frozen if signed_before => Err(StudyRefusal::SignedBefore),
        Stage::Frozen => Ok(()),
    }
}
