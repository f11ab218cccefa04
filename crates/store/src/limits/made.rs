//! Making a change of limits, within an act: what is written, and which points it asks to judge again.

use chrono::{DateTime, Utc};
use quality::signal::WithdrawnReason;
use quality::trail::{Action, Deed};
use serde_json::Value;
use uuid::Uuid;

use super::change::LimitsChange;
use crate::StoreError;
use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::judging::Range;
use crate::news::News;
use crate::phases::Phase;
use crate::signals::Because;

/// A change that was made.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Made {
    /// What is judged again; nothing for a change of names.
    pub range: Option<Range>,
    /// Why findings go away.
    pub reason: WithdrawnReason,
    /// The sample that it was done at.
    pub sample: Option<Uuid>,
    /// Limits whose trial signals count from now on, where they still hold.
    pub counts: Option<Uuid>,
}

/// A change in the making.
pub(super) struct Making<'a> {
    pub act: &'a mut Act,
    pub setup: &'a CharacteristicView,
    pub phases: &'a [Phase],
    pub person: Uuid,
    pub at: DateTime<Utc>,
}

impl Making<'_> {
    /// Says what was done.
    pub fn did(&mut self, action: Action, object: Uuid, detail: &Value) {
        let characteristic = self.setup.id;
        let deed = Deed::new(self.at, Some(self.person), action, object, detail);
        self.act.did(characteristic, deed, News::Limits { characteristic });
    }
}

impl Made {
    /// As judging says why.
    pub fn because(&self, person: Uuid, at: DateTime<Utc>) -> Because {
        Because { reason: self.reason, sample: self.sample, person: Some(person), at }
    }
}

/// Makes a change. Points are not judged yet.
///
/// # Errors
/// When it cannot be.
pub(crate) async fn make(
    act: &mut Act,
    setup: &CharacteristicView,
    phases: &[Phase],
    change: &LimitsChange,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Made, StoreError> {
    let mut making = Making { act, setup, phases, person, at };
    match change {
        LimitsChange::SetAside { sample, cause, cause_text } => {
            making.set_aside(*sample, *cause, cause_text.as_deref()).await
        }
        LimitsChange::TakeBack { sample } => making.take_back(*sample).await,
        LimitsChange::Restart { sample, reason } => making.restart(*sample, reason).await,
        LimitsChange::UndoRestart { sample } => making.undo_restart(*sample).await,
        LimitsChange::PutInForce { phase, limits } => making.put_in_force(*phase, limits).await,
        LimitsChange::StartPhase { sample, name, limits } => making.start_phase(*sample, name, limits).await,
        LimitsChange::MoveStart { phase, sample } => making.move_start(*phase, *sample).await,
        LimitsChange::Merge { phase } => making.merge(*phase).await,
        LimitsChange::Rename { phase, name } => making.rename(*phase, name).await,
        LimitsChange::Keep { phase, reason, until } => making.keep(*phase, reason, *until).await,
        LimitsChange::Decline { event } => making.decline(*event).await,
    }
}
