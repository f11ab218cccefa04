//! Reports: what happened in a period, as a whole that can be printed, kept and checked.

mod episodes;
mod head;
mod make;
mod points;
mod reviews;

pub use episodes::{EpisodeLine, ReportAnswer, ReportReview, answers_of};
pub use head::{Asked, ReportHead, ReportKind};
pub use make::{Report, ReportLines, make};
pub use points::{PointLine, ReportNote};
pub use reviews::ReviewLine;
