//! All tests of the crate from outside, one program: a program for each file took minutes to link.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod access;
mod accounts;
mod answers;
mod came_in;
mod client;
mod collecting;
mod common;
mod data;
mod entry;
mod every_failure;
mod hand_out;
mod ingest;
mod laboratory;
mod live_and_signals;
mod live_since;
mod peers;
mod programs;
mod reports;
mod routes;
mod routes_table;
mod terminals;
mod wall;
mod wrong_input;
