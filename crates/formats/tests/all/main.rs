//! All tests of the crate from outside, one program: a program for each file took minutes to link.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod keys;
mod layout;
mod names_and_texts;
mod proposals;
mod shapes;
mod tables;
