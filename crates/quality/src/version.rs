//! Whoever changes something names the version that was seen. What has changed since is not overwritten.

use thiserror::Error;

use crate::object::ObjectKind;

/// Somebody else acted first: it is no longer what the person saw.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
#[error("the {0:?} has changed since it was shown")]
pub struct Changed(pub ObjectKind);

/// Holds the version that was seen against the one that is.
///
/// # Errors
/// When they differ.
pub fn same_version(object: ObjectKind, seen: i32, is: i32) -> Result<(), Changed> {
    if seen == is { Ok(()) } else { Err(Changed(object)) }
}
