//! Judging samples against the limits that hold at their time, within the act that saves or changes something.

mod again;
mod judge;
mod judged;
mod waiting;

pub(crate) use again::{AT_A_TIME, Range, judge_again, look_again};
pub(crate) use judge::{Changed, judge};
pub(crate) use judged::{How, Judged, Outcome, write};
pub(crate) use waiting::{AT_ONCE, Pending, Progress, forget_failed, put_off};
pub use waiting::{JudgingAgain, under_way};
