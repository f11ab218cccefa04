//! Samples: saved, skipped, corrected, withdrawn, each with its signals and the trail in one
//! transaction.

mod change;
mod count;
mod distance;
mod newest;
mod pencil;
mod save;
mod set_up;
mod usual;

pub(crate) use change::correct_by_table;
pub use change::{Correction, Rejudged, correct, corrections, find, withdraw};
pub use count::{count, count_entries};
pub(crate) use newest::newest_anew;
pub use pencil::{Pencil, PencilFinding, PencilPoint, preview};
pub(crate) use save::{Columns, Saving, columns, said, save_in};
pub use save::{Entering, NewSample, Saved, Visit, save};
pub use usual::usual;
