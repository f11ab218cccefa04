//! All tests of the crate from outside, one program: a program for each file took minutes to link.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod analyze;
mod backup;
mod cluster;
mod common;
mod demo;
mod older;
mod people;
