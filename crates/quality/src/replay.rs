//! Rules replayed over what a characteristic went through: what they would have found of that which proved to be
//! something, and what they would have spared of that which proved to be nothing. No textbook can tell.

use serde::Serialize;
use spc::chart::{Signal, Statistic};
use spc::rules::Side;

/// How looking into a signal ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Ended {
    /// The answer named a cause.
    Cause,
    /// Looked, nothing found.
    NothingFound,
}

/// A signal that was answered, with its flagged points as places of the series.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Answered {
    /// The panel it was found in.
    pub panel: Statistic,
    /// On which side.
    pub side: Option<Side>,
    /// The first flagged point.
    pub at: usize,
    /// The last flagged point.
    pub to: usize,
    /// How it ended.
    pub ended: Ended,
}

/// What rules would have done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Replayed {
    /// Points that were judged.
    pub points: usize,
    /// Signals that they would have raised.
    pub signals: usize,
    /// Signals with a cause that they would have found.
    pub found: usize,
    /// Signals with a cause that they would have missed.
    pub missed: usize,
    /// Signals behind which nothing was found that they would not have raised.
    pub spared: usize,
    /// Signals behind which nothing was found that they would have raised all the same.
    pub raised_for_nothing: usize,
    /// Signals that they would have raised where nobody answered one: nobody knows whether something was there.
    pub unknown: usize,
}

impl Replayed {
    /// Adds what they would have done elsewhere.
    #[must_use]
    pub fn and(self, other: Self) -> Self {
        Self {
            points: self.points + other.points,
            signals: self.signals + other.signals,
            found: self.found + other.found,
            missed: self.missed + other.missed,
            spared: self.spared + other.spared,
            raised_for_nothing: self.raised_for_nothing + other.raised_for_nothing,
            unknown: self.unknown + other.unknown,
        }
    }
}

/// Holds findings against the answered signals of the same points. A signal is found when a finding of its panel and
/// side flags one of its flagged points; `counts` says which places rules look at.
pub fn replay(findings: &[Signal], answered: &[Answered], counts: &[bool]) -> Replayed {
    let flags = |f: &Signal, a: &Answered| {
        let common = || f.at.max(a.at)..=f.to.min(a.to);
        f.panel == a.panel && f.side == a.side && common().any(|i| counts.get(i).copied().unwrap_or(false))
    };
    let mut all = Replayed {
        points: counts.iter().filter(|counts| **counts).count(),
        signals: findings.len(),
        unknown: findings.iter().filter(|f| !answered.iter().any(|a| flags(f, a))).count(),
        ..Replayed::default()
    };
    for signal in answered {
        let found = findings.iter().any(|f| flags(f, signal));
        match (signal.ended, found) {
            (Ended::Cause, true) => all.found += 1,
            (Ended::Cause, false) => all.missed += 1,
            (Ended::NothingFound, true) => all.raised_for_nothing += 1,
            (Ended::NothingFound, false) => all.spared += 1,
        }
    }
    all
}
