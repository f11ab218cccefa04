//! Limits that are to be looked at, since the points that came after them say otherwise.

mod list;
mod look_at;

pub use list::{Kept, ToLookAt, to_look_at};
pub use look_at::look_at_changed;
