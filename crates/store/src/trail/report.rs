//! What a check of the trail found.

use serde_json::Value;
use uuid::Uuid;

/// More findings than this are counted, not kept.
const FINDINGS_AT_MOST: usize = 20;

/// Something that is not as it was written.
#[derive(Debug, Clone, PartialEq)]
pub enum Finding {
    /// An entry that does not agree with the one before it, or is missing.
    Broken {
        chain: Uuid,
        /// Its place, from 1.
        position: i64,
    },
    /// A chain that the site's chain lists and that is not there, or one that it does not list.
    Chain {
        chain: Uuid,
        /// It is listed.
        listed: bool,
    },
    /// A chain that is not the one that was sealed.
    NotAsSealed {
        chain: Uuid,
        /// Its last entry when it was sealed.
        position: i64,
    },
    /// A row that is not what the trail says of it.
    Row(Difference),
}

/// What a check found.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Report {
    /// Chains checked.
    pub chains: usize,
    /// Entries checked.
    pub entries: u64,
    /// Rows held against them.
    pub rows: u64,
    /// What does not agree, the first of it.
    pub findings: Vec<Finding>,
    /// How much does not agree.
    pub found: usize,
}

impl Report {
    pub(super) fn find(&mut self, finding: Finding) {
        self.found += 1;
        if self.findings.len() < FINDINGS_AT_MOST {
            self.findings.push(finding);
        }
    }

    /// Everything agrees.
    pub fn is_whole(&self) -> bool {
        self.found == 0
    }
}

/// A field of a row that is not what the trail says.
#[derive(Debug, Clone, PartialEq)]
pub struct Difference {
    pub table: &'static str,
    /// The row, by the identity of what it tells of.
    pub row: Uuid,
    /// The field; `row` where the whole row is missing, or unknown to the trail.
    pub field: String,
    /// What the trail says.
    pub trail: Value,
    /// What the table holds.
    pub holds: Value,
}
