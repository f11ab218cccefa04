//! The time of what is recorded.

use chrono::{DateTime, Duration, SubsecRound, Utc};
use thiserror::Error;

use super::accept::Origin;

/// Clocks of devices drift; a sample may be this far ahead of the server before it counts as
/// coming from the future.
const CLOCK_TOLERANCE: Duration = Duration::minutes(2);

/// What is older than this was entered by a clock that stands wrong, more likely than late.
pub const LONG_AGO: Duration = Duration::days(31);

/// Nothing that is recorded here is older.
const EARLIEST: DateTime<Utc> = DateTime::<Utc>::UNIX_EPOCH;

/// Why a time is not accepted as it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum TimeRefusal {
    /// It lies after now.
    #[error("{given} lies in the future")]
    Future {
        /// As it was given.
        given: DateTime<Utc>,
        /// What it is now.
        now: DateTime<Utc>,
    },
    /// It lies before 1970.
    #[error("{given} lies before 1970")]
    TooEarly {
        /// As it was given.
        given: DateTime<Utc>,
    },
    /// It lies longer ago than anybody waits to record something: asked, as a clock that was dead shows such times.
    #[error("{given} lies long ago")]
    LongAgo {
        /// As it was given.
        given: DateTime<Utc>,
    },
}

/// The time of what is recorded `now`; now where none is given.
///
/// # Errors
/// When it cannot be, or somebody has to confirm it first.
pub fn accept_time(
    given: Option<DateTime<Utc>>,
    now: DateTime<Utc>,
    origin: Origin,
) -> Result<DateTime<Utc>, TimeRefusal> {
    let given = given.unwrap_or(now);
    if given > now + CLOCK_TOLERANCE {
        Err(TimeRefusal::Future { given, now })
    } else if given < EARLIEST {
        Err(TimeRefusal::TooEarly { given })
    } else if given < now - LONG_AGO && origin.asks() {
        Err(TimeRefusal::LongAgo { given })
    } else {
        // As exact as it is kept, so that what is told of it is what stands there.
        Ok(given.trunc_subsecs(6))
    }
}
