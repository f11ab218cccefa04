//! Samples that are brought in from tables: staged, then made in one act, aside where they are many.

mod abandoned;
mod bring_in;
mod cancel;
mod changed;
mod files;
mod list;
mod stage;
mod start;

pub use abandoned::end_abandoned;
pub(crate) use bring_in::{bring_in, done, is_behind};
pub use cancel::cancel;
pub use changed::{ChangedRow, changed_rows, correct_rows};
pub use files::{ImportFileView, file, keep_file};
pub use list::{ImportState, ImportView, import, imports, imports_of};
pub use start::{Import, Known, Sorted, Staging, Started, known, known_by, later_than, source_name, start};
