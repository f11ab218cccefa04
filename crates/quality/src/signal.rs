//! A signal: one rule, broken on one span of points, kept as it was raised. What people say and decide of an
//! [episode](crate::episode) is kept for each of its signals.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use spc::multirule::LabRule;
use spc::rules::Rule;

/// What a signal says was broken.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum Broken {
    /// A run rule, on a chart.
    Chart(Rule),
    /// A rule of the laboratory's multirule, by a run.
    Laboratory(RunRule),
}

/// A rule that a run of the laboratory is judged by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum RunRule {
    /// One of the multirule.
    Multirule {
        /// Which.
        rule: LabRule,
    },
}

impl From<LabRule> for Broken {
    fn from(rule: LabRule) -> Self {
        Self::Laboratory(RunRule::Multirule { rule })
    }
}

/// Where a signal stands, the least settled first; an episode stands where the least settled of its signals does.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SignalState {
    /// Its answer came back with a question.
    SentBack,
    /// Nobody has said what happened.
    Open,
    /// Found when it was too late to ask a technician: it stands in review.
    FoundLate,
    /// Answered, waiting for review.
    Answered,
    /// Accepted, overruled, or set as seen.
    Reviewed,
}

/// How a signal was found.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum FoundBy {
    /// A sample was saved, or somebody changed one.
    Sample,
    /// Points were judged again, or brought in, many at once.
    JudgingAgain,
}

impl SignalState {
    /// Where a signal begins that ends with a sample taken at `ended`; `shift_began` is when the running shift did.
    pub fn of_new(found: FoundBy, ended: DateTime<Utc>, shift_began: Option<DateTime<Utc>>) -> Self {
        match found {
            FoundBy::JudgingAgain => Self::FoundLate,
            FoundBy::Sample if shift_began.is_some_and(|began| ended < began) => Self::FoundLate,
            FoundBy::Sample => Self::Open,
        }
    }

    /// A technician is asked.
    pub fn asks(self) -> bool {
        matches!(self, Self::Open | Self::SentBack)
    }

    /// An answer is taken.
    pub fn waits_for_answer(self) -> bool {
        self.asks() || self == Self::FoundLate
    }
}

/// Why the finding of a signal holds no more.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum WithdrawnReason {
    /// A sample arrived late.
    Late,
    /// A sample was corrected.
    Corrected,
    /// A sample was withdrawn.
    Withdrawn,
    /// A point was set aside.
    SetAside,
    /// A point was taken back.
    TakenBack,
    /// Rules start afresh, or do so no more.
    Restart,
    /// Other limits hold.
    Limits,
    /// A phase began, moved or was merged.
    Phase,
}

impl WithdrawnReason {
    /// A person's judgement made it go away, so another person looks at that.
    pub fn is_reviewed(self) -> bool {
        matches!(self, Self::SetAside | Self::Restart | Self::Limits | Self::Phase)
    }
}
