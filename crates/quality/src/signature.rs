//! What a signature covers, by a digest of what was seen; what has changed since is told part by part.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use sha2::{Digest, Sha256};

/// What a signature says.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Meaning {
    /// I have reviewed these, and decided as it stands there.
    Reviewed,
}

/// What was seen with a decision.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Seen {
    /// What was decided, why, when, by whom.
    pub decision: Value,
    /// What was found, and against which limits.
    pub signals: Value,
    /// What was answered and added, with digests of files.
    pub answers: Value,
    /// What the flagged samples hold.
    pub samples: Value,
}

/// A part of what was seen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // the names say it
pub enum SeenPart {
    Decision,
    Signals,
    Answers,
    Samples,
}

impl Seen {
    /// As it is kept and hashed.
    pub fn text(&self) -> String {
        // Texts, numbers and lists always serialise.
        serde_json::to_string(self).unwrap_or_default()
    }

    /// What differs from it now.
    pub fn changed(&self, now: &Self) -> Vec<SeenPart> {
        [
            (SeenPart::Decision, self.decision != now.decision),
            (SeenPart::Signals, self.signals != now.signals),
            (SeenPart::Answers, self.answers != now.answers),
            (SeenPart::Samples, self.samples != now.samples),
        ]
        .into_iter()
        .filter_map(|(part, changed)| changed.then_some(part))
        .collect()
    }
}

/// SHA-256 in hexadecimal over what was seen, as it is kept.
pub fn digest(text: &str) -> String {
    hex::encode(Sha256::digest(text))
}
