//! What a study asks.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::capability::CapabilityQuestion;
use super::defects::DefectsQuestion;
use super::distribution::DistributionQuestion;
use super::over_time::OverTimeQuestion;
use super::rule_sets::RuleSetsQuestion;
use super::selection::Selection;
use super::side_by_side::SideBySideQuestion;
use crate::field::WrongField;

/// The sorts of studies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Sort {
    /// Is this process able to hold its specification?
    Capability,
    /// Which distribution do the values follow?
    Distribution,
    /// Which kinds of defects are there, and how many of each?
    Defects,
    /// How do these sets differ from the first?
    SideBySide,
    /// What do these rules and sampling plans see, and what do they cost?
    RuleSets,
    /// How does any measure go over time?
    OverTime,
}

/// What a study asks, of which samples.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "sort", rename_all = "snake_case")]
pub enum Question {
    /// Is this process able to hold its specification?
    Capability(CapabilityQuestion),
    /// Which distribution do the values follow?
    Distribution(DistributionQuestion),
    /// Which kinds of defects are there, and how many of each?
    Defects(DefectsQuestion),
    /// How do these sets differ from the first?
    SideBySide(SideBySideQuestion),
    /// What do these rules and sampling plans see, and what do they cost?
    RuleSets(RuleSetsQuestion),
    /// How does any measure go over time?
    OverTime(OverTimeQuestion),
}

impl Question {
    /// Its sort.
    pub fn sort(&self) -> Sort {
        match self {
            Self::Capability(_) => Sort::Capability,
            Self::Distribution(_) => Sort::Distribution,
            Self::Defects(_) => Sort::Defects,
            Self::SideBySide(_) => Sort::SideBySide,
            Self::RuleSets(_) => Sort::RuleSets,
            Self::OverTime(_) => Sort::OverTime,
        }
    }

    /// The selections that it is about.
    pub fn selections(&self) -> Vec<&Selection> {
        match self {
            Self::Capability(question) => vec![&question.of],
            Self::Distribution(question) => vec![&question.of],
            Self::Defects(question) => std::iter::once(&question.of).chain(&question.against).collect(),
            Self::SideBySide(question) => question.sets.iter().map(|set| &set.of).collect(),
            Self::RuleSets(_) => vec![],
            Self::OverTime(question) => vec![&question.of],
        }
    }

    /// The characteristics that it is about, each once.
    pub fn characteristics(&self) -> Vec<Uuid> {
        let mut of: Vec<Uuid> = self.selections().iter().map(|selection| selection.characteristic).collect();
        if let Self::RuleSets(question) = self {
            of.extend(question.of);
        }
        of.sort_unstable();
        of.dedup();
        of
    }

    /// Whether it can be asked.
    ///
    /// # Errors
    /// The first field that cannot be as it is given.
    pub fn check(&self) -> Result<(), WrongField> {
        let wrong = match self {
            Self::Capability(question) => question.wrong(),
            Self::Distribution(question) => question.wrong(),
            Self::Defects(question) => question.wrong(),
            Self::SideBySide(question) => question.wrong(),
            Self::RuleSets(question) => question.wrong(),
            Self::OverTime(question) => question.wrong(),
        };
        wrong.into_iter().next().map_or(Ok(()), Err)
    }
}
