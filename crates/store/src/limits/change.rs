//! What can be done to limits, and to the points that they rest on.

use chrono::NaiveDate;
use quality::limits::{LimitsAct, NewLimits};
use serde::{Deserialize, Serialize};
use spc::chart::Figures;
use utoipa::ToSchema;
use uuid::Uuid;

/// Something to be done to limits, or to the points that they rest on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "change", rename_all = "snake_case", deny_unknown_fields)]
pub enum LimitsChange {
    /// A point is left out of limits and rules, with its cause: from the catalogue, or in words.
    SetAside { sample: Uuid, cause: Option<Uuid>, cause_text: Option<String> },
    /// A point that was set aside counts again.
    TakeBack { sample: Uuid },
    /// Rule windows start afresh at a sample, after a correction of the process.
    Restart {
        sample: Uuid,
        /// What was corrected.
        reason: String,
    },
    /// A restart is undone.
    UndoRestart { sample: Uuid },
    /// Limits of a phase are frozen; where they are in force already, revised ones begin a phase of their own.
    PutInForce { phase: Uuid, limits: Box<NewLimits> },
    /// A phase begins at a sample.
    StartPhase { sample: Uuid, name: String, limits: PhaseLimits },
    /// A phase begins elsewhere.
    MoveStart { phase: Uuid, sample: Uuid },
    /// The points of a phase are those of the phase before it.
    Merge { phase: Uuid },
    /// A phase gets another name.
    Rename { phase: Uuid, name: String },
    /// Limits in force were looked at, and are kept.
    Keep {
        phase: Uuid,
        /// Why.
        reason: String,
        /// They are not to be looked at before.
        until: NaiveDate,
    },
    /// No phase begins at an event that proposes one.
    Decline { event: Uuid },
}

/// Limits that a new phase begins with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "with", rename_all = "snake_case", deny_unknown_fields)]
pub enum PhaseLimits {
    /// On trial, from its own points.
    Trial,
    /// Those of the phase before it.
    Carried,
    /// Figures that are given, with their source.
    Given { figures: Figures, source: String },
}

impl LimitsChange {
    /// The act that it is.
    pub fn act(&self) -> LimitsAct {
        match self {
            Self::SetAside { .. } => LimitsAct::SetAside,
            Self::TakeBack { .. } => LimitsAct::TakeBack,
            Self::Restart { .. } | Self::UndoRestart { .. } => LimitsAct::Restart,
            Self::PutInForce { .. } => LimitsAct::PutInForce,
            Self::StartPhase { .. } => LimitsAct::StartPhase,
            Self::MoveStart { .. } => LimitsAct::MoveStart,
            Self::Merge { .. } => LimitsAct::Merge,
            Self::Rename { .. } => LimitsAct::Rename,
            Self::Keep { .. } => LimitsAct::Keep,
            Self::Decline { .. } => LimitsAct::Decline,
        }
    }
}

/// What came of a change.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct LimitsChanged {
    /// The version of the limits now.
    pub version: i32,
    /// So many points are judged again in the background first; 0 where all is done.
    pub judging: usize,
}
