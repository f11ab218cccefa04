//! Answers as JSON text.

use serde::Serialize;

use crate::wrong_request::{Need, WrongRequest};

/// An answer, written.
pub(super) fn write<T: Serialize>(answer: &T) -> Result<String, WrongRequest> {
    serde_json::to_string(answer).map_err(|error| WrongRequest::new("request", error, Need::WritableFigures))
}
