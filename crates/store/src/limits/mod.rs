//! Limits: on trial, started, put in force.

mod in_force;
mod start;
mod trial;

pub use in_force::put_in_force;
pub use start::start_phase;
pub(crate) use start::{NewPhase, start_given, start_on_trial};
pub use trial::fill_trial;
