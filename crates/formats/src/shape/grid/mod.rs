//! A file as a grid of cells with names of columns.

mod cells;
mod csv;
mod guard;
mod header;
mod json;
mod open;
mod sheet;

pub use cells::{COLUMNS_AT_MOST, ROWS_AT_MOST};
pub use header::Header;
pub use open::{BYTES_AT_MOST, RawTable};
pub(super) use open::{sheets, text};
