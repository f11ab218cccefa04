//! Samples: saved, skipped, corrected, withdrawn, each with its signals and the trail in one
//! transaction.

mod change;
mod content;
mod count;
mod distance;
mod insert;
mod new;
mod newest;
mod pencil;
mod save;
mod set_up;
mod usual;

pub(crate) use change::correct_by_table;
pub use change::{Correction, Rejudged, correct, corrections, find, withdraw};
pub(crate) use content::{Columns, columns, said};
pub use count::{count, count_entries};
pub use new::{NewSample, Visit};
pub(crate) use newest::newest_anew;
pub use pencil::{Pencil, PencilFinding, PencilPoint, Pencilling};
pub use save::{Entering, Saved, save};
pub(crate) use save::{Saving, save_in};
pub use usual::usual;
