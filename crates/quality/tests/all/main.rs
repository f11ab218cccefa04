//! All tests of the crate from outside, one program: a program for each file took minutes to link.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod account;
mod answer;
mod cause_tree;
mod common;
mod device;
mod due_limits_trail;
mod entry;
mod episode_life;
mod episodes;
mod handover;
mod import;
mod judging;
mod learn;
mod limits;
mod look;
mod note;
mod notice;
mod password;
mod peers;
mod pin;
mod replay;
mod run;
mod setup_and_chooser;
mod studies;
mod studies_of_counts;
mod studies_of_values;
mod tries;
mod usual;
mod webhook;
