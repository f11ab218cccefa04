//! The laboratory: analytes with their levels, and the runs that measure them.

mod figures;
mod lots;
mod reviews;
mod runs;
mod setup;
mod view;

pub use figures::{LevelFigures, figures};
pub use lots::{begin_lot, take_over};
pub use reviews::{NewRunAction, act_on, review};
pub use runs::{NewResult, NewRun, override_verdict, release, save};
pub use setup::{add_analyte, assign};
pub use view::{Bench, RunActionView, RunDeed, RunFilter, RunRef, RunView, benches, find, list};
