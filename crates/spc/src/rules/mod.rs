//! Run rules: what they are, how a series is judged by them, and the signals that come of it.
//!
//! Every rule works on z = (statistic − centre)/sigma of the point, so rules hold for stepped
//! limits too. One-sided patterns are looked for on each side separately.

mod judge;
mod rule;
mod signal;

pub use judge::{Beyond, Judge, Tested};
pub use rule::{Preset, Rule, RuleKind, RuleSet};
pub use signal::{Flag, Side};
