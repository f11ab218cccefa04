//! Handing over from shift to shift: which shift is handed over at a moment.

use chrono::{DateTime, Duration, Utc};

use crate::shift::{Calendar, Turn};

/// Until this share of the running shift has gone, the one before it is what is handed over.
const HANDED_OVER_UNTIL: f64 = 0.25;

/// A shift that is handed over, and those beside it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HandedOver {
    /// The shift.
    pub turn: Turn,
    /// When the one before it began.
    pub before: Option<DateTime<Utc>>,
    /// When the one after it began, where that has begun.
    pub after: Option<DateTime<Utc>>,
}

/// The shift that holds `asked`, or else the one that is handed over at `now`: the one before, while the running one is
/// young, and the running one then. Nothing where the site has no shifts, or the shift is still to come.
pub fn handed_over(calendar: &Calendar, asked: Option<DateTime<Utc>>, now: DateTime<Utc>) -> Option<HandedOver> {
    let turn = match asked {
        Some(asked) => calendar.at(asked)?,
        None => {
            let running = calendar.at(now)?;
            let (gone, lasts) = (now - running.began, running.ends - running.began);
            let young = (gone.num_seconds() as f64) < HANDED_OVER_UNTIL * lasts.num_seconds() as f64;
            if young { just_before(calendar, &running)? } else { running }
        }
    };
    if turn.began > now {
        return None;
    }
    let before = just_before(calendar, &turn).map(|before| before.began);
    let after = (turn.ends <= now).then_some(turn.ends);
    Some(HandedOver { turn, before, after })
}

fn just_before(calendar: &Calendar, turn: &Turn) -> Option<Turn> {
    calendar.at(turn.began.checked_sub_signed(Duration::microseconds(1))?)
}
