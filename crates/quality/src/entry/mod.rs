//! What a person or a device enters becomes what a sample records, or every reason why not.

mod accept;
mod read;
mod results;
mod slip;
mod time;
mod typed;
mod usual;

pub use accept::{Accepted, EntryRefusal, Origin, accept};
pub use read::read_so_far;
pub use results::{RefusedResult, ResultsRefusal, UnusualResult, accept_results};
pub use time::{LONG_AGO, TimeRefusal, accept_time};
pub use typed::{Tags, Typed, TypedFirst};
pub use usual::{Doubt, RECORDED_AT_LEAST, Recorded, Unusual, Usual, UsualBy, doubts, unusual};
