//! Who may still change a sample that has been saved.

use chrono::{DateTime, Duration, Utc};
use thiserror::Error;
use uuid::Uuid;

use crate::role::Role;
use crate::shift::Calendar;

/// Why a sample may not be corrected or withdrawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum NotYours {
    /// Somebody else entered it.
    #[error("only who entered a sample, or a supervisor, may change it")]
    SomebodyElses,
    /// The shift in which it was entered is over.
    #[error("after the shift only a supervisor may change a sample")]
    ShiftOver,
}

/// Where no calendar says how long a shift is.
fn shift_without_calendar() -> Duration {
    Duration::hours(8)
}

/// Whether `person` may change a sample that `entered_by` entered at `entered_at`: their own within
/// the shift, later and of others a supervisor or an engineer. A device that follows a table changes what it entered
/// itself whenever the table does.
///
/// # Errors
/// Why not.
pub fn may_change(
    person: Uuid,
    role: Role,
    entered_by: Uuid,
    entered_at: DateTime<Utc>,
    calendar: &Calendar,
    now: DateTime<Utc>,
) -> Result<(), NotYours> {
    if matches!(role, Role::Supervisor | Role::Engineer) {
        return Ok(());
    }
    if person != entered_by {
        return Err(NotYours::SomebodyElses);
    }
    if role == Role::Device {
        return Ok(());
    }
    let ends = calendar.at(entered_at).map_or(entered_at + shift_without_calendar(), |turn| turn.ends);
    if now < ends { Ok(()) } else { Err(NotYours::ShiftOver) }
}
