//! Tables that other programs write into folders: each that is whole is brought in by its recipe, and moved to `done` or
//! `refused` with a report beside it.

mod look;
mod report;
mod root;
mod table;
mod take;
mod watch;

pub use root::Folders;
pub(crate) use watch::watch;
