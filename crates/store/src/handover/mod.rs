//! The handover from shift to shift.

mod read;
mod view;
mod words;

pub use read::confirm;
pub use view::{HandoverReader, HandoverView, SilentDevice, Skipped, begun, view};
pub use words::{HandoverWord, NewWord, write};
