//! Notices: what somebody is told who does not look, whom it concerns, and when it is sent again.

use chrono::Duration;
use serde::{Deserialize, Serialize};

use crate::field::{Allowed, WrongField};
use crate::note::may_be_mentioned;
use crate::role::Role;

/// What a notice tells of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum NoticeKind {
    /// An episode began to ask.
    EpisodeRaised,
    /// An episode waited longer than its characteristic allows.
    OpenTooLong,
    /// An answer was sent back with a question.
    SentBack,
    /// An answer was overruled.
    Overruled,
    /// A run of the laboratory was rejected.
    RunRejected,
    /// Somebody proposed a cause.
    CauseProposed,
    /// A note on a point mentions somebody.
    Mentioned,
}

impl NoticeKind {
    /// All of them.
    pub const ALL: [Self; 7] = [
        Self::EpisodeRaised,
        Self::OpenTooLong,
        Self::SentBack,
        Self::Overruled,
        Self::RunRejected,
        Self::CauseProposed,
        Self::Mentioned,
    ];

    /// Whether it concerns people of a role; an answer concerns whoever gave it, a note whom it mentions.
    pub fn concerns(self, role: Role) -> bool {
        match self {
            Self::EpisodeRaised | Self::SentBack | Self::Overruled => {
                matches!(role, Role::Technician | Role::Supervisor | Role::Engineer)
            }
            Self::OpenTooLong | Self::RunRejected => matches!(role, Role::Supervisor | Role::Engineer),
            Self::CauseProposed => role == Role::Engineer,
            Self::Mentioned => may_be_mentioned(role),
        }
    }

    /// Whether it stands under the bell of those whom it concerns. What asks for an answer stands where it is answered,
    /// and counts beside Signals; it is sent to those alone who wish for it.
    pub fn rings(self) -> bool {
        self != Self::EpisodeRaised
    }
}

/// Longest address of a mailbox, in characters (RFC 5321, with the angle brackets left out).
pub const EMAIL_AT_MOST: usize = 254;

/// An address for mail, trimmed.
///
/// # Errors
/// When it has no name and no host around one `@`, holds a blank or a control character, or is too long. Whether mail
/// arrives there shows when some is sent.
pub fn email(field: &'static str, given: &str) -> Result<String, WrongField> {
    let given = given.trim();
    let plain = given.chars().all(|c| !c.is_whitespace() && !c.is_control() && !"<>(),;:\\\"[]".contains(c));
    let parts = given.rsplit_once('@').is_some_and(|(name, host)| {
        !name.is_empty() && !name.contains('@') && !host.is_empty() && !host.starts_with('.') && !host.ends_with('.')
    });
    if plain && parts && given.chars().count() <= EMAIL_AT_MOST {
        return Ok(given.to_owned());
    }
    Err(WrongField::new(field, Allowed::Email { most: EMAIL_AT_MOST }))
}

/// The first time that a delivery waits before it is tried again; it doubles with each try.
const FIRST_WAIT_SECONDS: i64 = 5;

/// The longest.
const LONGEST_WAIT_SECONDS: i64 = 3600;

/// Tries until a delivery is given up: some three days.
const TRIES_AT_MOST: u32 = 80;

/// How long a delivery waits that failed so many times; nothing once it is given up.
pub fn tried_again_after(tries: u32) -> Option<Duration> {
    if tries >= TRIES_AT_MOST {
        return None;
    }
    let doubled = FIRST_WAIT_SECONDS.checked_shl(tries.saturating_sub(1).min(32)).unwrap_or(LONGEST_WAIT_SECONDS);
    Some(Duration::seconds(doubled.clamp(FIRST_WAIT_SECONDS, LONGEST_WAIT_SECONDS)))
}
