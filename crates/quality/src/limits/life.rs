//! trial → in force → retired, and who may do what on the way.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use super::refusal::LimitsRefusal;
use crate::role::Permission;

/// How far limits have come.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LimitsState {
    /// They move with every new point.
    Trial,
    /// Frozen; points are judged against them and signals count.
    InForce,
    /// Frozen; a later phase has begun, or took their points over. Kept because signals were raised against them.
    Retired,
}

/// What can be done to limits and the points that they rest on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LimitsAct {
    /// Leave a point out of limits and rules, with its cause.
    SetAside,
    /// Undo that.
    TakeBack,
    /// Let rule windows start afresh, or undo that.
    Restart,
    /// Freeze them.
    PutInForce,
    /// Begin a phase behind some of their points.
    StartPhase,
    /// Let their phase begin elsewhere.
    MoveStart,
    /// Give their points to the phase before.
    Merge,
    /// Give their phase another name.
    Rename,
    /// Say that they still hold.
    Keep,
    /// Begin no phase at an event that proposes one.
    Decline,
}

impl LimitsAct {
    /// What a person needs for it.
    pub fn needs(self) -> Permission {
        match self {
            Self::SetAside | Self::TakeBack | Self::Restart => Permission::SetAside,
            _ => Permission::SetLimits,
        }
    }
}

impl LimitsState {
    /// Where limits stand: frozen or not, of the latest phase or not.
    pub fn of(frozen: bool, latest: bool) -> Self {
        match (frozen, latest) {
            (false, _) => Self::Trial,
            (true, true) => Self::InForce,
            (true, false) => Self::Retired,
        }
    }

    /// Where they stand after an act.
    ///
    /// # Errors
    /// When it does not lead from here.
    pub fn after(self, act: LimitsAct) -> Result<Self, LimitsRefusal> {
        use LimitsAct::{Decline, Keep, Merge, MoveStart, PutInForce, Rename, Restart, SetAside, StartPhase, TakeBack};
        match (self, act) {
            (Self::Trial, PutInForce) => Ok(Self::InForce),
            (_, PutInForce) => Err(LimitsRefusal::NotOnTrial),
            (Self::InForce, Keep) => Ok(Self::InForce),
            (_, Keep) => Err(LimitsRefusal::NotInForce),
            // Limits on trial that a phase begins behind stay on trial for the points that they keep.
            (Self::Trial, StartPhase) => Ok(Self::Trial),
            (_, StartPhase | Merge) => Ok(Self::Retired),
            // Setting aside never moves figures in force: they say that they used such a point.
            (state, SetAside | TakeBack | Restart | MoveStart | Rename | Decline) => Ok(state),
        }
    }
}

/// Place of the phase that holds at `at`, among phases in the order of their starts. What was sampled before the
/// first counts to it.
pub fn holding(starts: impl DoubleEndedIterator<Item = DateTime<Utc>> + ExactSizeIterator, at: DateTime<Utc>) -> usize {
    starts.into_iter().rposition(|start| start <= at).unwrap_or(0)
}
