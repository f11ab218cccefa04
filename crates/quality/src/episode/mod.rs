//! Episodes: the signals that tell of one happening. People are asked, answer, review and count by them.
//!
//! Pure: where signals lie comes in, which of them belong together goes out. What somebody has reviewed stays as it
//! was seen; a pattern that goes on after that is a new episode, which names the one before.

mod answer;
mod gather;
mod identity;
mod pattern;
mod stage;

pub use answer::{Addition, Answer};
pub use gather::{Aspect, Episode, Span, gather, high_or_low};
pub use identity::keep;
pub use pattern::{Found, Pattern, patterns, patterns_told};
pub use stage::{Decision, EpisodeRefusal, EpisodeSteps, NotTheirs, Stage};
