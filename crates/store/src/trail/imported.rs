//! What the trail says of samples that were brought in: one digest for all of an import.

use chrono::{DateTime, Utc};
use serde::Serialize;
use serde_json::Value;
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::StoreError;

/// The digest of an import's samples, in the order of their numbers.
#[derive(Default)]
pub(crate) struct ImportDigest(Sha256);

/// A sample as it covers it: one line of JSON each.
#[derive(Serialize)]
struct Line<'a> {
    number: i64,
    /// Microseconds since 1970.
    taken_at: i64,
    entry: Uuid,
    content: &'a Value,
}

impl ImportDigest {
    /// Takes the next sample, as it was brought in.
    pub fn take(
        &mut self,
        (number, taken_at): (i64, DateTime<Utc>),
        entry: Uuid,
        content: &Value,
    ) -> Result<(), StoreError> {
        let taken_at = taken_at.timestamp_micros();
        self.0.update(serde_json::to_vec(&Line { number, taken_at, entry, content })?);
        self.0.update(b"\n");
        Ok(())
    }

    /// In hex.
    pub fn hex(self) -> String {
        format!("{:x}", self.0.finalize())
    }
}
