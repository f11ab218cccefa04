//! All tests of the crate from outside, one program: a program for each file took minutes to link.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod access;
mod answers;
mod came_in;
mod cause_trees;
mod changes;
mod common;
mod devices;
mod episodes;
mod escalation;
mod handover;
mod imports;
mod lab;
mod laboratory;
mod limits;
mod limits_and_whole;
mod live_and_whole;
mod look;
mod looking;
mod notes;
mod notices;
mod peers;
mod plan_and_stations;
mod rare_and_short;
mod reports;
mod rules;
mod run_episodes;
mod samples;
mod signatures;
mod small_charts;
mod studies;
mod studies_of_counts;
mod trail_and_constraints;
mod trips;
mod views;
mod whole;
