//! Rows of a table become entries: each is checked as one that is typed, and is known again when its table is run again.

mod check;
mod row;

pub use check::{Checked, Entries, Extent, ImportEntry, RefusedRow, RowRefusal, check};
pub use row::{ImportRow, ImportSource, ImportTimes, RowContent, StatedTimes};
