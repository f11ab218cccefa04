//! Notes on points: who may change one, and whom it can be meant for.

use thiserror::Error;
use uuid::Uuid;

use crate::field::{Allowed, LIST_AT_MOST, WrongField, all_unlike};
use crate::role::{Permission, Role};

/// Somebody else wrote the note.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
#[error("only who wrote a note changes it")]
pub struct NotYourNote;

/// Whether `person` may change a note that `wrote` wrote: a note says what one person saw.
///
/// # Errors
/// When it is somebody else's.
pub fn may_change(person: Uuid, wrote: Uuid) -> Result<(), NotYourNote> {
    if person == wrote { Ok(()) } else { Err(NotYourNote) }
}

/// Whether people of a role are told that a note mentions them: those who have a bell.
pub fn may_be_mentioned(role: Role) -> bool {
    role.may(Permission::Look)
}

/// Those whom a note mentions, as they are given.
///
/// # Errors
/// When there are too many, or one of them twice.
pub fn mentions(given: &[Uuid]) -> Result<(), WrongField> {
    if given.len() <= LIST_AT_MOST && all_unlike(given) {
        return Ok(());
    }
    Err(WrongField::new("mentions", Allowed::Entries { least: 0, most: LIST_AT_MOST }))
}
