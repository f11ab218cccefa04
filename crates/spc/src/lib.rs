//! Statistical process control: control charts, their limits, and run rules.
//!
//! No clock, no I/O, no words of the job. Everything the screens draw comes from
//! [`chart::compute`]; the JSON interface over it is [`analysis::analyze`].
//!
//! | module | idea |
//! |---|---|
//! | [`constants`] | d2, d3 and the median of the range of normal values |
//! | [`subgroup`] | what one point says: size, mean, range |
//! | [`chart`] | requests and answers of control charts, one module a chart |
//! | [`rules`] | run rules and the signals they raise |
//! | [`analysis`] | the JSON envelope, its errors |
#![deny(missing_docs)]

pub mod analysis;
pub mod capability;
pub mod change_points;
pub mod chart;
pub mod constants;
pub mod dispersion;
pub mod distribution;
mod figure;
pub mod limits_check;
pub mod multirule;
pub mod normal;
pub mod pareto;
pub mod peer;
pub mod points;
pub mod rules;
pub mod run_length;
mod solve;
pub mod subgroup;
pub mod trust;

pub use figure::Figure;

/// Two numbers closer than this share of sigma are equal, in every rule. Without it the last
/// bit of a decimal fraction would decide whether 4.32 lies on or beyond a limit at 4.32.
pub const TIE: f64 = 1e-9;
