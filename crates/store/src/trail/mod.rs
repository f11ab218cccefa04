//! The append-only trail: written within each act, read by people, and checked.

mod append;
mod expected;
mod imported;
mod list;
mod report;
mod rows;
mod seal;
mod state;
mod verify;
mod work;

pub use append::SITE_CHAIN;
pub(crate) use append::{End, Said, begin_chain, end};
pub(crate) use imported::ImportDigest;
pub use list::{TrailEntry, TrailFilter, list};
pub use report::{Difference, Finding, Report};
pub use seal::{Seal, Sealed, seal};
pub(crate) use state::record_state;
pub use verify::verify;
