//! Who may do what. The server asks here for every route.

use serde::{Deserialize, Serialize};

/// The part a person plays.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Role {
    /// Enters samples and answers signals.
    Technician,
    /// Reviews answers.
    Supervisor,
    /// Sets up characteristics and puts limits in force.
    Engineer,
    /// Looks after people and access.
    Administrator,
    /// Sends samples in its own name and signs in nowhere; its token opens the ingest route alone.
    Device,
}

/// Something a person may be allowed to do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Permission {
    /// See rounds, charts, signals and causes.
    Look,
    /// Enter a sample.
    EnterSample,
    /// Correct or withdraw a sample; whose and until when, [`crate::correction`] says.
    ChangeSample,
    /// Tell what happened at a station: an event, pieces made.
    RecordEvent,
    /// Note a point.
    WriteNote,
    /// Say what was found behind a signal.
    AnswerSignal,
    /// Accept an answer, send it back, or overrule it.
    ReviewSignal,
    /// Release a run of the laboratory.
    ReleaseRun,
    /// Override the verdict on a run.
    OverrideRun,
    /// Set points aside with their cause, take them back, mark restarts.
    SetAside,
    /// Put limits in force, start, move and merge phases.
    SetLimits,
    /// Set up stations, products, characteristics and devices.
    SetUp,
    /// Read who did what.
    ReadTrail,
}

impl Permission {
    /// All of them.
    pub const ALL: [Self; 13] = [
        Self::Look,
        Self::EnterSample,
        Self::ChangeSample,
        Self::RecordEvent,
        Self::WriteNote,
        Self::AnswerSignal,
        Self::ReviewSignal,
        Self::ReleaseRun,
        Self::OverrideRun,
        Self::SetAside,
        Self::SetLimits,
        Self::SetUp,
        Self::ReadTrail,
    ];
}

impl Role {
    /// Everything that this role carries.
    pub fn permissions(self) -> Vec<Permission> {
        Permission::ALL.into_iter().filter(|permission| self.may(*permission)).collect()
    }

    /// Whether this role carries the permission.
    pub fn may(self, permission: Permission) -> bool {
        use Permission::{
            AnswerSignal, ChangeSample, EnterSample, Look, OverrideRun, ReadTrail, RecordEvent, ReleaseRun,
            ReviewSignal, SetAside, SetLimits, SetUp, WriteNote,
        };
        if self == Role::Device {
            return false;
        }
        match permission {
            Look | WriteNote => true,
            EnterSample | ChangeSample | RecordEvent | AnswerSignal | ReleaseRun => self != Role::Administrator,
            SetUp | SetLimits => self == Role::Engineer,
            ReviewSignal | OverrideRun | SetAside => matches!(self, Role::Supervisor | Role::Engineer),
            ReadTrail => self != Role::Technician,
        }
    }
}
