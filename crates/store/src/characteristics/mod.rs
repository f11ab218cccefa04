//! Characteristics: read, held, written.

mod read;
mod write;

pub(crate) use read::lock;
pub use read::{CharacteristicView, find, list};
pub use write::Belongs;
pub(crate) use write::{insert, keep_scheme, write};
