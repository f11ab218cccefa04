//! A sample is judged when it is saved, from a window of points around it. The cost does not grow
//! with the length of the history.
//!
//! One pattern, one signal: while a run or trend goes on its signal grows. After its review a
//! pattern that still goes on is a new signal. Every point beyond a limit is its own signal. A
//! finding that no longer holds after a late, corrected or withdrawn sample is withdrawn, never
//! deleted.

mod change;
mod reconcile;
mod window;

pub use change::{Change, End, Lies, StandingSignal};
pub use reconcile::{Judgement, reconcile};
pub use window::{Ground, Reach, judge_window, plot_window, reach};
