//! Results as they are given to a peer group, and where each stands.
//!
//! A result has one id for as long as it lives and a revision that counts what was said of it: given, corrected,
//! withdrawn. Whoever receives it keeps the highest revision of each id, so that one that is sent again, after an answer
//! that was lost, is still one.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

/// Results, as they go out: over the network and as a file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ResultsGiven {
    /// What this laboratory is called in the group.
    pub laboratory: String,
    /// Any number.
    pub results: Vec<GivenResult>,
}

/// A result, as it goes out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct GivenResult {
    /// The same each time it is sent.
    pub id: Uuid,
    /// Counts what was said of it, from 1; of two the higher one holds.
    pub revision: u32,
    /// What the group calls the level.
    pub code: String,
    /// It is taken back, and counts no more.
    pub withdrawn: bool,
    /// The result; nothing once it is withdrawn.
    pub value: Option<f64>,
    /// Of the result.
    pub unit: String,
    /// When it was measured.
    pub taken_at: DateTime<Utc>,
    /// Lot of the reagent, where one was named.
    pub reagent_lot: Option<String>,
    /// Lot of the control material, where one was named.
    pub control_lot: Option<String>,
}

/// What whoever receives results answers.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct ResultsTaken {
    /// Those that are kept there now, those sent before among them.
    #[serde(default)]
    pub taken: Vec<TakenResult>,
    /// Those that never will be, each with its reason.
    #[serde(default)]
    pub refused: Vec<RefusedThere>,
}

/// A result that is kept there.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TakenResult {
    /// As it was sent.
    pub id: Uuid,
    /// The revision that is kept.
    pub revision: u32,
}

/// A result that is refused there.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct RefusedThere {
    /// As it was sent.
    pub id: Uuid,
    /// Of the revision that was sent.
    pub revision: u32,
    /// In their words.
    pub reason: String,
}

/// Where a result stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum GivenState {
    /// Reviewed, and not with the group yet, or not as it is now.
    Waiting,
    /// With the group, as it is now.
    Given,
    /// Not taken there, and tried no more.
    NotTaken,
    /// Withdrawn, which the group has not been told yet.
    WithdrawalWaiting,
    /// Withdrawn, and counted nowhere.
    Withdrawn,
}

/// What is known of a result.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Standing {
    /// Its revision here.
    pub revision: u32,
    /// The revision that is kept there; 0 where none is.
    pub taken: u32,
    /// Tries to send the revision ended for good.
    pub ended: bool,
    /// It was taken back.
    pub withdrawn: bool,
}

impl Standing {
    /// In one word.
    pub fn state(&self) -> GivenState {
        match (self.withdrawn, self.taken == self.revision) {
            (true, true) => GivenState::Withdrawn,
            (false, true) => GivenState::Given,
            (_, false) if self.ended => GivenState::NotTaken,
            (true, false) => GivenState::WithdrawalWaiting,
            (false, false) => GivenState::Waiting,
        }
    }
}
