use std::collections::HashMap;

use serde::{Deserialize, Serialize};

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

/// One rule flags one point.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Flag {
    /// Place of the rule in its list.
    pub rule: usize,
    /// Side, where the rule has sides.
    pub side: Option<Side>,
    /// The flagged point.
    pub at: usize,
    /// First tested point of the window that ends at `at`.
    pub from: usize,
}

/// Flags of one rule on one side that follow one another: one signal.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Run {
    /// Place of the rule in its list.
    pub rule: usize,
    /// Side, where the rule has sides.
    pub side: Option<Side>,
    /// The first flagged point.
    pub at: usize,
    /// First point of the first window.
    pub from: usize,
    /// The last flagged point.
    pub to: usize,
}

/// Merges flags into signals. `follows(a, b)` says whether no tested point lies between a and b and
/// no window was cut between them; `single(rule)` whether each flag of the rule is its own signal.
pub fn merge(flags: &[Flag], follows: impl Fn(usize, usize) -> bool, single: impl Fn(usize) -> bool) -> Vec<Run> {
    let mut runs: Vec<Run> = Vec::new();
    let mut going_on: HashMap<(usize, Option<Side>), usize> = HashMap::new();
    for flag in flags {
        let key = (flag.rule, flag.side);
        match going_on.get(&key) {
            Some(&place) if !single(flag.rule) && follows(runs[place].to, flag.at) => runs[place].to = flag.at,
            _ => {
                going_on.insert(key, runs.len());
                runs.push(Run { rule: flag.rule, side: flag.side, at: flag.at, from: flag.from, to: flag.at });
            }
        }
    }
    runs
}
