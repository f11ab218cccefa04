//! Bringing in: a file, a recipe for it, the samples as they will be, and the import.

pub mod files;
pub mod imports;
pub mod preview;
pub mod recipes;
mod shaped;
