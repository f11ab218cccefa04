//! All tests of the crate from outside, one program: a program for each file took minutes to link.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod any_request;
mod as_trees;
mod bounds;
mod charts;
mod common;
mod constants;
mod distributions;
mod incremental;
mod multirule;
mod properties;
mod rules;
mod run_lengths;
mod sums;
mod thinning;
mod vectors;
mod worked_cases;
