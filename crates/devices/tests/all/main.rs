//! All tests of the crate from outside, one program: a program for each file took minutes to link.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod any_bytes;
#[path = "../../../store/tests/all/common/mod.rs"]
#[allow(dead_code)] // the tests of the store use the rest
mod common;
mod folder;
mod frames;
#[path = "../../../store/tests/all/laboratory.rs"]
#[allow(dead_code)]
mod laboratory;
mod links;
mod peers;
mod post;
mod waiting;
