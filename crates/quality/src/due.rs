//! What has to be sampled now.

use chrono::{DateTime, Duration, Utc};
use serde::{Deserialize, Serialize};

/// How a characteristic stands against its sampling interval.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DueState {
    /// Its time has passed by more than the grace.
    Overdue,
    /// Its time has come.
    Due,
    /// The next one is still ahead.
    Done,
}

/// When the next sample is due, and how that stands now.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Due {
    /// When the next sample is due.
    pub at: DateTime<Utc>,
    /// How that stands now.
    pub state: DueState,
}

/// A sample is due from the end of the interval, and overdue once a quarter of the interval more
/// has passed. A characteristic never sampled is due since it exists.
pub fn due(last: Option<DateTime<Utc>>, exists_since: DateTime<Utc>, interval_minutes: u32, now: DateTime<Utc>) -> Due {
    let interval = Duration::minutes(i64::from(interval_minutes));
    let at = last.map_or(exists_since, |last| last + interval);
    let state = if now < at {
        DueState::Done
    } else if now < at + interval / 4 {
        DueState::Due
    } else {
        DueState::Overdue
    };
    Due { at, state }
}

/// Clocks of devices drift; a sample may be this far ahead of the server before it counts as
/// coming from the future.
pub const CLOCK_TOLERANCE: Duration = Duration::minutes(2);

/// Whether a sample taken at `taken_at` lies in the future.
pub fn is_from_the_future(taken_at: DateTime<Utc>, now: DateTime<Utc>) -> bool {
    taken_at > now + CLOCK_TOLERANCE
}
