//! A recipe proposed for a file, with the reason: a person looks at it and changes it.

mod columns;
mod file;
mod guess;
mod proposal;
mod reason;

pub use proposal::{Proposal, propose};
pub use reason::ShapeReason;
