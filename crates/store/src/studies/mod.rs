//! Studies: saved questions about a selection of samples, with the answers that were found.
//!
//! | what | module |
//! |---|---|
//! | samples of a selection, what is known of them | `pick` |
//! | what was counted of each kind | `count` |
//! | answering: what is read, what is found | `answer`, `read`, `found` |
//! | the state of the data, then and now | `state` |
//! | kept, changed, refreshed, frozen | `keep` |
//! | signed | `sign` |
//! | listed and opened | `list` |
//! | the samples behind a figure | `behind` |

mod answer;
mod behind;
mod count;
mod found;
mod keep;
mod list;
mod pick;
mod read;
mod sign;
mod state;

pub use answer::answer;
pub use behind::{Behind, BehindSample, behind, tags};
pub use found::{
    About, CapabilityFound, DefectsFound, DistributionFound, OverTimeFound, RuleSetsFound, SideBySideFound, StudyAnswer,
};
pub use keep::{NewStudy, change, freeze, keep};
pub use list::{StudyRow, StudySignature, StudyView, find, list};
pub use sign::sign;
