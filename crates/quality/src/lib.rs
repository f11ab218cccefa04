//! The rules of the job, without clock, database or network: time and stored facts come in as
//! values, decisions go out as values.
//!
//! | module | idea |
//! |---|---|
//! | [`role`] | who may do what |
//! | [`characteristic`] | what is measured, how often, between which bounds |
//! | [`reading`] | typed text becomes readings, or a refusal with its facts |
//! | [`limits`] | trial and in force |
//! | [`judging`] | a sample against the limits that hold; one pattern, one signal |
//! | [`signal`] | open → answered → reviewed |
//! | [`due`] | what has to be sampled now |
//! | [`trail`] | the append-only record and its hash chain |
#![deny(missing_docs)]

pub mod characteristic;
pub mod due;
pub mod judging;
pub mod limits;
pub mod reading;
pub mod role;
pub mod signal;
pub mod trail;
