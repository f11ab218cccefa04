//! Tries to sign in that did not fit slow the next ones down. Nobody is locked out: whoever knows the
//! password waits half a minute at most, and where they signed in before not even for what others try
//! elsewhere. One's own success takes back one's own try alone, so it cannot hide other tries.

use chrono::{DateTime, Duration, Utc};

/// Tries before the next has to wait.
const FREE: i64 = 5;

/// Tries of one place under whatever names before the next has to wait.
const FREE_OF_PLACE: i64 = 30;

/// A place that tries many names is heard once in so long.
const PACE_OF_PLACE: Duration = Duration::seconds(1);

/// Nobody waits longer.
const LONGEST: Duration = Duration::seconds(30);

/// Tries that did not fit are forgotten after this time.
pub const REMEMBERED: Duration = Duration::minutes(15);

/// Tries that did not fit, or are under way.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Tries {
    /// How many within [`REMEMBERED`].
    pub count: i64,
    /// The latest.
    pub last: Option<DateTime<Utc>>,
}

impl Tries {
    fn wait(self, free: i64, pace: Duration, now: DateTime<Utc>) -> Option<Duration> {
        let heard_at = self.last.filter(|_| self.count >= free)? + pace;
        (heard_at > now).then(|| heard_at - now)
    }
}

/// How long until the next try is heard, after those of one name at one place and those of that place
/// under whatever names; `None` for at once.
pub fn wait(of_name: Tries, of_place: Tries, now: DateTime<Utc>) -> Option<Duration> {
    // 1, 2, 4, 8, 16, 30 seconds.
    let doublings = u32::try_from((of_name.count - FREE).clamp(0, 5)).unwrap_or(0);
    let pace = LONGEST.min(Duration::seconds(1 << doublings));
    of_name.wait(FREE, pace, now).max(of_place.wait(FREE_OF_PLACE, PACE_OF_PLACE, now))
}
