//! Run rules: what they are, how a series is judged by them, and the flags that come of it.
//!
//! Every rule works on z = (statistic − centre)/sigma of the point, so rules hold for stepped
//! limits too. One-sided patterns are looked for on each side separately.
//!
//! There are two judges that find the same: [`Judge`] takes points as they arrive, [`WordJudge`] a thousand
//! at a time, which is many times faster on a long history.

mod judge;
mod rule;
mod signal;
mod words;

pub use judge::{Beyond, Judge, Tested};
pub use rule::{LONGEST_WINDOW, ListedRule, OutOfBounds, Panels, Preset, Rule, RuleKind, RuleSet};
pub use signal::{Flag, Side};
pub use words::{BLOCK, LOOKS_BACK, WordJudge};
