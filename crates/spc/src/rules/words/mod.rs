//! Judging a thousand points at a time, for long series. What each point is (above, beyond 2 sigma, rising …) becomes
//! one bit of a word, and a rule becomes a few shifts of words: that n points in a row are above is n shifted words
//! and-ed. Finds exactly what [`Judge`](super::Judge) finds, which judges points as they arrive; a contract test holds
//! the two equal.

mod bits;
mod block;
mod judge;
mod places;
mod scale;
mod seen;

pub use bits::{BLOCK, LOOKS_BACK};
pub use judge::WordJudge;
