//! A sample to save.

use chrono::{DateTime, Utc};
use quality::entry::Accepted;
use uuid::Uuid;

/// A sample to save; what it holds has been accepted.
#[derive(Debug, Clone)]
pub struct NewSample {
    /// What was sampled.
    pub characteristic: Uuid,
    /// The device it was entered on.
    pub device: Uuid,
    /// Made by the device; saving it twice keeps one sample.
    pub entry: Uuid,
    /// When the sample was taken.
    pub taken_at: DateTime<Utc>,
    /// When it reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Who entered it.
    pub person: Uuid,
    /// What came of the visit.
    pub visit: Visit,
}

/// What came of going there.
#[derive(Debug, Clone, PartialEq)]
pub enum Visit {
    /// A sample was taken. The shift is added to its tags, from the calendar.
    Taken(Accepted),
    /// None was taken, for a reason: a gap.
    Skipped {
        /// The reason.
        because: String,
    },
}
