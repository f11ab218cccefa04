//! Samples that are brought in from tables, in one act; aside where they are many.

mod behind;
mod bring_in;
mod cancel;
mod changed;
mod copying;
mod files;
mod known;
mod left;
mod list;
mod rows;
mod start;

pub(crate) use behind::{Behind, Come};
pub(crate) use bring_in::{done, from_staged, staged_from};
pub use cancel::cancel;
pub use changed::{ChangedRow, changed_rows, correct_rows};
pub use copying::end_abandoned;
pub use files::{ImportFileView, file, keep_file};
pub use known::{Known, Sorted, known, known_by, later_than, source_name};
pub use left::Left;
pub use list::{ImportState, ImportView, import, imports, imports_of};
pub use start::{Import, Started, start};
