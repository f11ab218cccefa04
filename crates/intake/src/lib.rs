//! A table on its way into a characteristic: read by its recipe, and each of its samples checked as an entry. Whoever
//! brings a table in, a person or a watched folder, goes this way; there is no clock, database or network in it.
#![deny(missing_docs)]

mod read;
mod suits;

pub use read::{Asked, ReadTable, read};
pub use suits::{Suits, TagSeen, suits};
