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
}

/// Something a person may be allowed to do.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Permission {
    /// See rounds, charts, signals and causes.
    Look,
    /// Enter a sample.
    EnterSample,
    /// Note a point.
    WriteNote,
    /// Say what was found behind a signal.
    AnswerSignal,
    /// Accept an answer, send it back, or overrule it.
    ReviewSignal,
    /// Read who did what.
    ReadTrail,
}

impl Role {
    /// Whether this role carries the permission.
    pub fn may(self, permission: Permission) -> bool {
        use Permission::{AnswerSignal, EnterSample, Look, ReadTrail, ReviewSignal, WriteNote};
        match permission {
            Look | WriteNote => true,
            EnterSample | AnswerSignal => self != Role::Administrator,
            ReviewSignal => matches!(self, Role::Supervisor | Role::Engineer),
            ReadTrail => self != Role::Technician,
        }
    }
}
