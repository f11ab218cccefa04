//! Samples laid out as a table, in the shape that somebody asks for, with the recipe by which it comes in again.

mod lay;
mod outgoing;
mod recipe;

pub use lay::{COLUMNS_OF_SAMPLES_AT_MOST, CellOf, Layout, WrongLayout, lay};
pub use outgoing::{OutSample, Outgoing, Recorded};
pub use recipe::{Written, recipe};
