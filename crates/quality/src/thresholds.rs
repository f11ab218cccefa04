//! From where on a process counts as able.

use serde::{Deserialize, Serialize};

use crate::field::{Allowed, WrongField, broken};

/// Where a process stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // the names say it
pub enum Standing {
    NotAble,
    Barely,
    Able,
}

/// From where on a process counts as able.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Thresholds {
    /// Able from here.
    pub able: f64,
    /// Barely able from here; not able below.
    pub barely: f64,
}

impl Default for Thresholds {
    fn default() -> Self {
        Self { able: 1.33, barely: 1.0 }
    }
}

impl Thresholds {
    /// Highest that can be asked for.
    const MOST: f64 = 10.0;

    pub(crate) fn wrong(&self) -> Vec<WrongField> {
        let holds = self.barely > 0.0 && self.barely <= self.able && self.able <= Self::MOST;
        broken([("thresholds", holds, Allowed::Thresholds { most: Self::MOST })])
    }

    /// Where an index stands.
    pub fn standing(&self, index: f64) -> Standing {
        if index >= self.able {
            Standing::Able
        } else if index >= self.barely {
            Standing::Barely
        } else {
            Standing::NotAble
        }
    }
}
