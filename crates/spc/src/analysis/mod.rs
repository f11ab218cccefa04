//! The analysis interface: one pure function from a JSON request to a JSON answer.
//!
//! The same function serves the Rust caller, `nuvek analyze` and `POST /api/analyze`. Numbers are
//! JSON numbers in full double precision; unknown fields, NaN and infinities are refused; indices
//! count from 0.

mod answer;
mod capability;
mod chart;
mod checks;
mod compare;
mod constants;
mod fields;
mod run_length;
mod sampling;
mod task;

pub use answer::Answer;
pub use task::analyze;
