//! Signals that stand, and what a judgement changes about them.

use spc::chart::{Signal, Statistic};
use spc::rules::{Rule, Side};
use uuid::Uuid;

/// Where a sample lies, as seen from the stretch that is judged.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Lies {
    /// Before the window's first point.
    Before,
    /// At this point of the window.
    At(usize),
    /// After the window's last point.
    After,
}

/// A signal that was raised earlier.
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
    pub from: Lies,
    /// The first flagged point.
    pub at: Lies,
    /// The last flagged point.
    pub to: Lies,
    /// Reviewed signals stay as they were seen.
    pub reviewed: bool,
    /// Its finding did not hold any more; it is taken up again where it does.
    pub withdrawn: bool,
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
    /// The finding of a withdrawn signal holds again.
    TakeUp {
        /// One that was withdrawn.
        signal: Uuid,
        /// Its evidence and first flagged point now.
        start: (usize, usize),
        /// Its last point now.
        end: End,
    },
    /// The finding no longer holds.
    Withdraw {
        /// One that stands.
        signal: Uuid,
        /// The signal that its pattern belongs to now, where two have become one.
        joined: Option<Uuid>,
    },
}
