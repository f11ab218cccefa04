//! Which samples a question is about.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::field::{Allowed, LIST_AT_MOST, WrongField, broken};
use crate::place::Place;

/// Samples of one characteristic; what is left out does not narrow them.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Selection {
    /// Of this characteristic.
    pub characteristic: Uuid,
    /// Taken then or later.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub since: Option<DateTime<Utc>>,
    /// Taken before then.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub until: Option<DateTime<Utc>>,
    /// Within this phase.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub phase: Option<Uuid>,
    /// The last so many of those.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub last: Option<u32>,
    /// With one of these values of each tag.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub tags: BTreeMap<String, Vec<String>>,
    /// Samples that are set aside are in.
    #[serde(default)]
    pub set_aside: bool,
}

impl Selection {
    /// Samples that a study looks at, at most.
    pub const SAMPLES_AT_MOST: u32 = 200_000;

    /// All of a characteristic, but for what is set aside.
    pub fn of(characteristic: Uuid) -> Self {
        let (tags, set_aside) = (BTreeMap::new(), false);
        Self { characteristic, since: None, until: None, phase: None, last: None, tags, set_aside }
    }

    pub(super) fn wrong(&self) -> Vec<WrongField> {
        let last = self.last.is_none_or(|last| (1..=Self::SAMPLES_AT_MOST).contains(&last));
        let ordered = self.since.zip(self.until).is_none_or(|(since, until)| since < until);
        let values = self.tags.values().all(|values| !values.is_empty() && values.len() <= LIST_AT_MOST);
        broken([
            ("last", last, Allowed::Whole { least: 1, most: Self::SAMPLES_AT_MOST }),
            ("until", ordered, Allowed::FirstBeforeLast),
            ("tags", self.tags.len() <= LIST_AT_MOST && values, Allowed::Names { most: LIST_AT_MOST }),
        ])
    }
}

/// One place of a selection.
#[derive(Debug, Clone, PartialEq)]
pub struct Picked {
    /// Number of the sample.
    pub number: i64,
    /// When it was taken.
    pub taken_at: DateTime<Utc>,
    /// What is plotted there, whether it is set aside.
    pub place: Place,
    /// Which of the groups it belongs to, where it is split.
    pub group: Option<String>,
}
