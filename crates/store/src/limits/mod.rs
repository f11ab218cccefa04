//! The life of limits: on trial, started, put in force, kept; points set aside, phases moved and merged.

mod act;
mod asides;
mod change;
mod freeze;
mod keep;
mod made;
mod path;
mod phase;
mod planned;
mod sample;
mod start;
mod view;

pub(crate) use act::settle;
pub use act::{change, version};
pub use change::{LimitsChange, LimitsChanged, PhaseLimits};
pub(crate) use made::{Made, make};
pub use path::{LimitsPath, PathFinding, PathLimits, PathLines, PathPoint, WhichPath};
pub(crate) use planned::{Correction, begins_afresh, drop_restarts, plan_restart};
pub(crate) use start::{NewPhase, begin_phase, start_given};
pub use view::{LimitsView, PhaseRow, view};
