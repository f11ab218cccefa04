//! Judging samples against the limits that hold at their time, within the act that saves or changes something.

mod again;
mod judge;
mod waiting;

pub(crate) use again::{AT_ONCE, Judged, Range, judge_again, look_again};
pub(crate) use judge::{Changed, judge, write};
pub use waiting::{JudgingAgain, under_way};
pub(crate) use waiting::{Pending, Progress, forget_failed, put_off};
