//! What stands where: a function a shape, each draws the samples of one.

mod across;
mod columns;
mod counts;
mod crossed;
mod cut;
mod period;

pub(super) use across::across;
pub(super) use columns::{down, of_columns};
pub(super) use counts::{Counted, Of, counts};
pub(super) use crossed::{Labels, cells, rows};
pub(super) use cut::{column, grouped};
pub(super) use period::period;
