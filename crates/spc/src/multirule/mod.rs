//! The laboratory multirule: is a control run accepted?
//!
//! A run measures one or more control materials (levels), each with its own mean and sd. Rules look
//! across the levels of one run, and at one level or all of them across runs.
//! Source: Westgard et al. (1981); CLSI C24.

mod find;
mod judge;
mod request;
mod rule;

pub use judge::{Hit, RunVerdict, multirule};
pub use request::{Level, MultiruleRequest, Run, z};
pub use rule::{LabRule, Verdict};
