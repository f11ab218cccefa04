//! A signal's life: open → answered → reviewed. A review accepts, overrules with a reason, or
//! sends back with a question, which opens it again.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::field::{Allowed, WrongField, optional_text, text};
use crate::object::ObjectKind;
use crate::version::{Changed, same_version};

/// Where a signal stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SignalState {
    /// Nobody has said what happened, or it was sent back.
    Open,
    /// Answered, waiting for review.
    Answered,
    /// Accepted or overruled.
    Reviewed,
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

/// What the technician says about a signal.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Answer {
    /// Entry of the catalogue of causes.
    pub cause: Option<Uuid>,
    /// The cause in words, where the catalogue has none.
    pub cause_text: Option<String>,
    /// Looked, nothing found: an honest answer.
    pub nothing_found: bool,
    /// What was done.
    pub action: String,
}

/// The supervisor's decision.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Decision {
    /// The answer stands.
    Accepted,
    /// The signal or its answer does not stand, for a reason.
    Overruled,
    /// Open again, with a question.
    SentBack,
}

/// Why a step in a signal's life is refused.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum SignalRefusal {
    /// Somebody else acted first.
    #[error(transparent)]
    Changed(#[from] Changed),
    /// The step does not lead from this state.
    #[error("a signal that is {0:?} cannot take this step")]
    NotFrom(SignalState),
    /// The reviewer is never the one who answered, nor who made the finding go away.
    #[error("who answered or cleared a signal may not review it")]
    OwnAnswer,
    /// Its finding no longer holds: there is nothing to ask back.
    #[error("the finding of the signal no longer holds")]
    Cleared,
    /// A field cannot be as it is given.
    #[error(transparent)]
    Field(#[from] WrongField),
}

/// A signal as far as its next step depends on it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Stage {
    /// Where it stands.
    pub state: SignalState,
    /// Counts its changes; a step names the version it was decided on.
    pub version: i32,
    /// Who gave the standing answer.
    pub answered_by: Option<Uuid>,
    /// Who made its finding go away.
    pub cleared_by: Option<Uuid>,
}

impl Answer {
    /// The answer with its texts trimmed.
    ///
    /// # Errors
    /// When it names no cause, or more than one of cause, cause in words and nothing found, or has
    /// no action.
    pub fn check(self) -> Result<Self, SignalRefusal> {
        let cause_text = optional_text("cause_text", self.cause_text.as_deref())?;
        let causes =
            usize::from(self.cause.is_some()) + usize::from(cause_text.is_some()) + usize::from(self.nothing_found);
        if causes != 1 {
            return Err(WrongField::new("cause", Allowed::OneCause).into());
        }
        Ok(Self { cause_text, action: text("action", &self.action)?, ..self })
    }
}

/// Which steps of a signal a person can take, as far as it and they stand to one another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SignalSteps {
    /// It waits for an answer.
    pub answer: bool,
    /// It waits for a review, and somebody else answered it.
    pub review: bool,
    /// It waits for a review by somebody else: the answer is one's own.
    pub own_answer: bool,
}

impl Stage {
    /// Which steps `person` can take.
    pub fn steps(&self, person: Uuid) -> SignalSteps {
        let reviewed = self.reviewed(self.version, person, Decision::Accepted, None);
        SignalSteps {
            answer: self.answered(self.version).is_ok(),
            review: reviewed.is_ok(),
            own_answer: reviewed == Err(SignalRefusal::OwnAnswer),
        }
    }

    /// The state after an answer.
    ///
    /// # Errors
    /// When the signal has changed since, or is not open.
    pub fn answered(&self, seen_version: i32) -> Result<SignalState, SignalRefusal> {
        same_version(ObjectKind::Signal, seen_version, self.version)?;
        match self.state {
            SignalState::Open => Ok(SignalState::Answered),
            state => Err(SignalRefusal::NotFrom(state)),
        }
    }

    /// The state after a review by `reviewer`; `remark` is the reason or the question.
    ///
    /// # Errors
    /// When the signal has changed since, has no answer to review, was answered by the reviewer, or
    /// the decision needs a remark and has none.
    pub fn reviewed(
        &self,
        seen_version: i32,
        reviewer: Uuid,
        decision: Decision,
        remark: Option<&str>,
    ) -> Result<SignalState, SignalRefusal> {
        same_version(ObjectKind::Signal, seen_version, self.version)?;
        if self.state != SignalState::Answered {
            return Err(SignalRefusal::NotFrom(self.state));
        }
        if self.answered_by == Some(reviewer) || self.cleared_by == Some(reviewer) {
            return Err(SignalRefusal::OwnAnswer);
        }
        match decision {
            Decision::Accepted => Ok(SignalState::Reviewed),
            Decision::Overruled => Ok(text("remark", remark.unwrap_or_default()).map(|_| SignalState::Reviewed)?),
            // What no longer holds asks nobody again.
            Decision::SentBack if self.cleared_by.is_some() => Err(SignalRefusal::Cleared),
            Decision::SentBack => Ok(text("remark", remark.unwrap_or_default()).map(|_| SignalState::Open)?),
        }
    }
}
