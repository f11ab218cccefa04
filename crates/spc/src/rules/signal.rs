use serde::{Deserialize, Serialize};

use super::Rule;

/// On which side of the centre line a pattern lies, or which way it goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // the names say it
pub enum Side {
    Above,
    Below,
    Rising,
    Falling,
}

/// One rule flags one point, or several tested points in a row.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Flag {
    /// Place of the rule in its set.
    pub place: usize,
    /// The rule.
    pub rule: Rule,
    /// Side, where the rule has sides.
    pub side: Option<Side>,
    /// The flagged point, or the first of them.
    pub at: usize,
    /// First tested point of the window that ends at `at`.
    pub from: usize,
    /// The last flagged point.
    pub to: usize,
    /// The tested point before got the same flag, so both belong to one signal. Never for `beyond`:
    /// every point beyond a limit is a signal of its own.
    pub goes_on: bool,
}
