//! The points of a characteristic in their order, as limits and judging look at them.

mod beside;
mod read;
mod rows;
mod trial;
mod window;

pub(crate) use beside::{Beside, BesideRow};
pub(crate) use rows::{Rank, SeriesPoint, Stretch};
pub use trial::fill_trial;
pub(crate) use window::{Window, around, lead_in};
