//! Characteristics: read, held, written.

mod read;
mod write;

pub use read::{CharacteristicView, find, list};
pub(crate) use read::{Held, hold, set_up};
pub use write::Belongs;
pub(crate) use write::{insert, keep_scheme, write};
