//! What has to be sampled now.

use chrono::{DateTime, Duration, Utc};
use serde::{Deserialize, Serialize};

use crate::characteristic::Sampling;
use crate::shift::Turn;

/// How a characteristic stands against its sampling plan.
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
    /// When the next sample is due; nothing where no clock tells.
    pub at: Option<DateTime<Utc>>,
    /// How that stands now.
    pub state: DueState,
    /// Pieces still to be made until then; below 0 how many have been made since.
    pub pieces_left: Option<i64>,
}

/// What is known about a characteristic and its station.
#[derive(Debug, Clone, PartialEq)]
pub struct Facts {
    /// When it was last sampled, or skipped.
    pub last: Option<DateTime<Utc>>,
    /// Since when it exists.
    pub exists_since: DateTime<Utc>,
    /// Pieces made at the station since then.
    pub pieces_since: i64,
    /// When the lot that is being worked on began.
    pub lot_began: Option<DateTime<Utc>>,
    /// The turn that is at work.
    pub turn: Option<Turn>,
}

/// A lot is overdue when it has been worked on for so long without a sample.
fn lot_grace() -> Duration {
    Duration::minutes(30)
}

/// How a characteristic stands at `now`.
///
/// - By minutes: due from the end of the interval, overdue once a quarter of the interval more has
///   passed. What was never sampled is due since it exists.
/// - By pieces: due when so many have been made, overdue with a quarter more.
/// - By lot: due when a lot begins, overdue after half an hour. Without a lot nothing is due.
/// - Never: what is entered when it happens is not due.
/// - By shift: due when it begins, overdue when half of it has passed.
pub fn due(sampling: Sampling, facts: &Facts, now: DateTime<Utc>) -> Due {
    let by_clock = |at: DateTime<Utc>, grace: Duration| {
        let state = match now {
            now if now < at => DueState::Done,
            now if now < at + grace => DueState::Due,
            _ => DueState::Overdue,
        };
        Due { at: Some(at), state, pieces_left: None }
    };
    let done = Due { at: None, state: DueState::Done, pieces_left: None };
    let sampled_since = |at: DateTime<Utc>| facts.last.is_some_and(|last| last >= at);
    match sampling {
        Sampling::Minutes { count } => {
            let interval = Duration::minutes(i64::from(count));
            by_clock(facts.last.map_or(facts.exists_since, |last| last + interval), interval / 4)
        }
        Sampling::Pieces { count } => {
            let left = i64::from(count) - facts.pieces_since;
            let state = match left {
                1.. => DueState::Done,
                left if -left < i64::from(count) / 4 => DueState::Due,
                _ => DueState::Overdue,
            };
            Due { at: None, state, pieces_left: Some(left) }
        }
        Sampling::Lot => match facts.lot_began {
            Some(began) if !sampled_since(began) => by_clock(began, lot_grace()),
            _ => done,
        },
        Sampling::Never => done,
        Sampling::Shift => match &facts.turn {
            Some(turn) if !sampled_since(turn.began) => by_clock(turn.began, (turn.ends - turn.began) / 2),
            Some(turn) => Due { at: Some(turn.ends), ..done },
            None => done,
        },
    }
}
