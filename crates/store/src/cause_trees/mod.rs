//! Cause trees: started, filled in by several people at once, copied for the next team.
//!
//! | what | module |
//! |---|---|
//! | started, named, their facts, copied | `keep` |
//! | ideas written, moved, taken out | `ideas` |
//! | a cause found true goes into the catalogue | `catalogue` |
//! | listed and opened | `list` |

mod catalogue;
mod ideas;
mod keep;
mod list;

pub use catalogue::to_catalogue;
pub use ideas::{IdeaChange, IdeaVersion, change_ideas};
pub use keep::{NewTree, change, copy, start};
pub use list::{CauseTreeRow, CauseTreeView, IdeaView, find, list};
