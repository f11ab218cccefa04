//! The life of an episode: open → answered → reviewed. A review accepts, overrules with a reason, or sends back with a
//! question; what was found late may be set as seen.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::field::{WrongField, text};
use crate::object::ObjectKind;
use crate::signal::SignalState;
use crate::version::{Changed, same_version};

/// The supervisor's decision.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Decision {
    /// The answer stands.
    Accepted,
    /// What was found late needs no answer.
    Seen,
    /// The signal or its answer does not stand, for a reason.
    Overruled,
    /// Open again, with a question.
    SentBack,
}

/// Why a step in the life of an episode is refused.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum EpisodeRefusal {
    /// Somebody else acted first.
    #[error(transparent)]
    Changed(#[from] Changed),
    /// The step does not lead from this state.
    #[error("an episode that is {0:?} cannot take this step")]
    NotFrom(SignalState),
    /// The reviewer is never the one who answered, nor who made a finding go away, nor whose sample is flagged.
    #[error("who has a part in an episode may not review it")]
    NotTheirs(NotTheirs),
    /// Its finding no longer holds: there is nothing to ask back.
    #[error("nothing of the episode holds any more")]
    Cleared,
    /// A field cannot be as it is given.
    #[error(transparent)]
    Field(#[from] WrongField),
}

/// An episode as far as its next step depends on it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Stage {
    /// That of its least settled signal.
    pub state: SignalState,
    /// Counts its changes; a step names the version it was decided on.
    pub version: i32,
    /// Nothing of it holds any more.
    pub gone: bool,
    /// Who gave the standing answers.
    pub answered_by: Vec<Uuid>,
    /// Who made findings of it go away.
    pub cleared_by: Vec<Uuid>,
    /// Who entered or corrected flagged points.
    pub sampled_by: Vec<Uuid>,
}

/// Which steps of an episode a person can take, as far as it and they stand to one another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EpisodeSteps {
    /// It waits for an answer.
    pub answer: bool,
    /// It waits for a review, and it is for them.
    pub review: bool,
    /// It can be sent back.
    pub send_back: bool,
    /// Why it is for somebody else to review.
    pub not_theirs: Option<NotTheirs>,
}

/// Why somebody else reviews.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum NotTheirs {
    /// They answered it.
    OwnAnswer,
    /// They made a finding of it go away.
    OwnChange,
    /// They entered or corrected a flagged point.
    OwnSample,
}

impl Stage {
    /// Which steps `person` can take.
    pub fn steps(&self, person: Uuid) -> EpisodeSteps {
        let decision = if self.state == SignalState::FoundLate { Decision::Seen } else { Decision::Accepted };
        let reviewed = self.reviewed(self.version, person, decision, None);
        let theirs = match &reviewed {
            Err(EpisodeRefusal::NotTheirs(why)) => Some(*why),
            _ => None,
        };
        EpisodeSteps {
            answer: self.answered(self.version).is_ok(),
            review: reviewed.is_ok(),
            send_back: reviewed.is_ok() && self.state == SignalState::Answered && !self.gone,
            not_theirs: theirs,
        }
    }

    /// The state after an answer.
    ///
    /// # Errors
    /// When it has changed since, or waits for none.
    pub fn answered(&self, seen_version: i32) -> Result<SignalState, EpisodeRefusal> {
        same_version(ObjectKind::Episode, seen_version, self.version)?;
        if self.gone || !self.state.waits_for_answer() {
            return Err(EpisodeRefusal::NotFrom(self.state));
        }
        Ok(SignalState::Answered)
    }

    /// The state after a review by `reviewer`; `remark` is the reason or the question.
    ///
    /// # Errors
    /// When it has changed since, has nothing to review, is the reviewer's own in any way, or the decision needs a
    /// remark and has none.
    pub fn reviewed(
        &self,
        seen_version: i32,
        reviewer: Uuid,
        decision: Decision,
        remark: Option<&str>,
    ) -> Result<SignalState, EpisodeRefusal> {
        same_version(ObjectKind::Episode, seen_version, self.version)?;
        let waits = match decision {
            Decision::Seen => SignalState::FoundLate,
            Decision::Accepted | Decision::Overruled | Decision::SentBack => SignalState::Answered,
        };
        if self.state != waits {
            return Err(EpisodeRefusal::NotFrom(self.state));
        }
        let own = [
            // What somebody made go away counts as answered by them.
            (NotTheirs::OwnChange, &self.cleared_by),
            (NotTheirs::OwnAnswer, &self.answered_by),
            (NotTheirs::OwnSample, &self.sampled_by),
        ];
        if let Some((why, _)) = own.into_iter().find(|(_, people)| people.contains(&reviewer)) {
            return Err(EpisodeRefusal::NotTheirs(why));
        }
        let said = || text("remark", remark.unwrap_or_default());
        match decision {
            Decision::Accepted | Decision::Seen => Ok(SignalState::Reviewed),
            Decision::Overruled => Ok(said().map(|_| SignalState::Reviewed)?),
            // What no longer holds asks nobody again.
            Decision::SentBack if self.gone => Err(EpisodeRefusal::Cleared),
            Decision::SentBack => Ok(said().map(|_| SignalState::SentBack)?),
        }
    }
}
