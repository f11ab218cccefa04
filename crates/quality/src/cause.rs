//! The catalogue of causes: groups, and the life of an entry: proposed → in use → retired.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::field::{Allowed, WrongField};

/// Where causes come from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // the names say it
pub enum CauseGroup {
    Machine,
    Material,
    Method,
    Person,
    Measurement,
    Surroundings,
}

/// Where an entry of the catalogue stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CauseState {
    /// Somebody answered with it in words, and would have it in the catalogue.
    Proposed,
    /// Answers can name it.
    InUse,
    /// Answers name it no more; those that did still do.
    Retired,
}

/// What can be changed of an entry. Its name cannot: what was answered reads as it was chosen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct CausePlace {
    /// Its group; required in use.
    pub group: Option<CauseGroup>,
    /// The area where it occurs; nothing for all areas.
    pub area: Option<Uuid>,
    /// Where it stands.
    pub state: CauseState,
    /// Another one that says the same; only of a retired one.
    pub same_as: Option<Uuid>,
}

impl CausePlace {
    /// The place that the cause `id` is given.
    ///
    /// # Errors
    /// When it is in use without a group, proposed anew, or said to be the same as another while in use.
    pub fn check(self, id: Uuid) -> Result<Self, WrongField> {
        match self.state {
            CauseState::InUse if self.group.is_none() => Err(WrongField::new("group", Allowed::GroupInUse)),
            // People propose with an answer.
            CauseState::Proposed => Err(WrongField::new("state", Allowed::InUseOrRetired)),
            CauseState::Retired if self.same_as == Some(id) => {
                Err(WrongField::new("same_as", Allowed::AnotherWhenRetired))
            }
            CauseState::InUse if self.same_as.is_some() => Err(WrongField::new("same_as", Allowed::AnotherWhenRetired)),
            CauseState::InUse | CauseState::Retired => Ok(self),
        }
    }
}
