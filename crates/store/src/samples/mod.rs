//! Samples: saved, skipped, corrected, withdrawn, each with its signals and the trail in one
//! transaction.

mod change;
mod count;
mod distance;
mod pencil;
mod save;
mod usual;

pub use change::{Correction, Rejudged, correct, corrections, find, withdraw};
pub use count::{count, count_entries};
pub use pencil::{Pencil, PencilFinding, PencilPoint, preview};
pub use save::{NewSample, Saved, Visit, save};
pub(crate) use save::{Saving, save_in};
pub use usual::usual;
