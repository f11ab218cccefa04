//! Data sets side by side: the figures of each, and how each differs from the first.
//!
//! | what is compared | charts | module |
//! |---|---|---|
//! | measured values: means by Welch's t, spreads by F | `xbar_r`, `xbar_s`, `median_r`, `i_mr` | `measured` |
//! | shares of units: exact intervals, Newcombe's difference, Fisher's exact test | `p`, `np` | `units` |
//! | rates of nonconformities: exact intervals, the exact conditional test | `u`, `c` | `events` |

mod answer;
mod events;
mod measured;
mod request;
mod share;
mod units;

pub use answer::{Comparison, compare};
pub use events::{EventSet, RateAgainst};
pub use measured::{MeasuredAgainst, MeasuredSet};
pub use request::{CompareRequest, DataSet, Estimate, SETS_AT_MOST, compared};
pub use units::{ShareAgainst, UnitSet};
