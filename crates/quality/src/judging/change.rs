//! Signals that stand, and what a judgement changes about them.

use spc::chart::{Signal, Statistic};
use spc::rules::{Rule, Side};
use uuid::Uuid;

/// Where a sample lies as seen from the window.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Place {
    /// Before the window's first point.
    Before,
    /// At this point of the window.
    At(usize),
    /// After the window's last point.
    After,
}

/// A signal that was raised earlier and has not been withdrawn.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StandingSignal {
    /// As it was raised.
    pub id: Uuid,
    /// The panel it was found in.
    pub panel: Statistic,
    /// The rule that was broken.
    pub rule: Rule,
    /// Nothing where the pattern has none.
    pub side: Option<Side>,
    /// First point of the pattern.
    pub from: Place,
    /// The first flagged point.
    pub at: Place,
    /// The last flagged point.
    pub to: Place,
    /// Reviewed signals stay as they were seen.
    pub reviewed: bool,
}

/// Where a pattern ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum End {
    /// At this point of the window.
    At(usize),
    /// Behind the window, where this signal ended until now.
    Of(Uuid),
}

/// What a judgement changes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Change {
    /// A new signal.
    Raise {
        /// What was found, in places of the window.
        finding: Signal,
        /// Its last point.
        end: End,
    },
    /// The pattern of a signal goes on.
    Grow {
        /// One that stands.
        signal: Uuid,
        /// Its new last point.
        end: End,
    },
    /// The pattern of a signal begins elsewhere or ends earlier than it did.
    Reshape {
        /// One that stands.
        signal: Uuid,
        /// Its new evidence and first flagged point, where they have moved.
        start: Option<(usize, usize)>,
        /// Its last point, where that has moved.
        end: Option<End>,
    },
    /// The finding no longer holds.
    Withdraw {
        /// One that stands.
        signal: Uuid,
        /// The signal that its pattern belongs to now, where two have become one.
        joined: Option<Uuid>,
    },
}
