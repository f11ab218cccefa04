//! Benches of the laboratory: what is determined there, and how its runs are judged.

mod analytes;
mod assigned;
mod judge;

pub use analytes::{Analyte, Level, levels_of};
pub(crate) use analytes::{analytes, hold_levels, hold_levels_beside, rejected};
pub(crate) use judge::judge_again;
pub use judge::{AnalyteJudgement, JudgedResult, foresee};
