//! Signals: raised, grown and withdrawn with samples; answered and reviewed by people.

mod life;
mod list;
mod raise;

pub use life::{answer, review};
pub use list::{AnswerView, ReviewView, SignalFilter, SignalView, WaitingSignals, find, list, waiting};
pub(crate) use raise::{Basis, Because, Stands, apply, standing};
