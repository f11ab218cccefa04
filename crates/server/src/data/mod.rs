//! Bringing in: a file, a recipe for it, the samples as they will be, and the import; and handing out.

pub mod files;
pub mod folders;
pub mod hand_out;
pub mod imports;
mod outgoing;
pub mod preview;
pub mod recipes;
mod shaped;
