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
    /// Reads charts, signals and trail of the areas given, as an auditor or a customer does, and changes nothing.
    Reader,
    /// Sends samples in its own name and signs in nowhere; its token opens ingest alone; the wall where it is a display;
    /// what a reader reads where it is a program.
    Device,
}

/// Something a person may be allowed to do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Permission {
    /// Read charts, signals and what stands beside them; a [`Role::Reader`] those of the areas given.
    Read,
    /// See the laboratory, who waits for whom, and what else only who works here needs.
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
    /// Bring in samples from tables, and keep recipes for them.
    BringIn,
    /// Keep, change, freeze and sign studies; who may read asks.
    KeepStudy,
    /// Read who did what.
    ReadTrail,
    /// Make people, and say what part they play and where.
    LookAfterPeople,
}

impl Permission {
    /// All of them.
    pub const ALL: [Self; 17] = [
        Self::Read,
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
        Self::BringIn,
        Self::KeepStudy,
        Self::ReadTrail,
        Self::LookAfterPeople,
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
            AnswerSignal, BringIn, ChangeSample, EnterSample, KeepStudy, Look, LookAfterPeople, OverrideRun, Read,
            ReadTrail, RecordEvent, ReleaseRun, ReviewSignal, SetAside, SetLimits, SetUp, WriteNote,
        };
        use Role::{Administrator, Device, Engineer, Reader, Supervisor, Technician};
        match permission {
            Read => self != Device,
            Look | WriteNote => !matches!(self, Device | Reader),
            EnterSample | ChangeSample | RecordEvent | AnswerSignal | ReleaseRun => {
                matches!(self, Technician | Supervisor | Engineer)
            }
            SetUp | SetLimits => self == Engineer,
            ReviewSignal | OverrideRun | SetAside | BringIn | KeepStudy => matches!(self, Supervisor | Engineer),
            ReadTrail => !matches!(self, Device | Technician),
            LookAfterPeople => self == Administrator,
        }
    }
}

impl Permission {
    /// Whether it is to enter something at a station, which who is bound to stations of their own does there alone.
    pub fn enters(self) -> bool {
        matches!(self, Self::EnterSample | Self::ChangeSample | Self::RecordEvent | Self::ReleaseRun)
    }
}
