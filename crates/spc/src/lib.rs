//! Statistical process control: control charts, their limits, run rules, and what else is asked of
//! measured values and counts.
//!
//! No clock, no I/O, no words of the job. Everything the screens draw comes from
//! [`chart::compute`] and [`chart::Watch`]; the JSON interface over all of it is [`analysis::analyze`].
//! The choices that have rivals are explained, with examples, in `docs/statistics.md`.
//!
//! | module | idea |
//! |---|---|
//! | [`constants`] | d2, d3, c4, the error of the median |
//! | [`normal`], [`distribution`] | the normal and other distributions, fits, histograms, probability plots |
//! | [`subgroup`], [`points`] | what one point says, and many of them |
//! | `sigma` | estimators of sigma, which charts, capability and checks share |
//! | [`chart`] | requests and answers of control charts; judging points as they arrive |
//! | [`rules`] | run rules and the flags they raise |
//! | [`run_length`] | what a rule set costs and finds |
//! | [`mixed`] | whether points hug the centre, as where streams are mixed |
//! | [`sampling`] | what a sampling plan sees |
//! | [`trust`], [`limits_check`], [`dispersion`], [`change_points`] | whether to believe a chart and its limits |
//! | [`capability`] | whether the process can meet its specification |
//! | [`multirule`], [`peer`] | laboratory control |
//! | [`pareto`] | defects by kind |
//! | [`differs`] | tags that are commoner inside a pattern than outside it |
//! | [`thin`] | which of many points to draw on a screen with room for few |
//! | [`analysis`], [`bounds`] | the JSON envelope, and what an answer may take |
//! | [`wrong_request`] | what is wrong with a request, as facts |
//! | [`stop`] | giving up what nobody waits for any more |
#![deny(missing_docs)]

pub mod analysis;
pub mod bounds;
pub mod capability;
pub mod change_points;
pub mod chart;
pub mod compare;
pub mod constants;
pub mod differs;
pub mod dispersion;
pub mod distribution;
mod exact;
mod figure;
pub mod limits_check;
pub mod mixed;
pub mod multirule;
pub mod normal;
pub mod pareto;
pub mod peer;
pub mod points;
pub mod rules;
pub mod run_length;
pub mod sampling;
mod sigma;
mod solve;
pub mod stop;
pub mod subgroup;
pub mod thin;
pub mod trust;
pub mod wrong_request;

pub use figure::Figure;

/// Two numbers closer than this share of sigma are equal, in every rule. Without it the last
/// bit of a decimal fraction would decide whether 4.32 lies on or beyond a limit at 4.32.
pub const TIE: f64 = 1e-9;

/// The examples of the page for quality engineers, run with the tests.
#[cfg(doctest)]
#[doc = include_str!("../../../docs/statistics.md")]
pub struct StatisticsPage;
