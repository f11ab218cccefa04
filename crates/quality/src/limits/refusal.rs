//! Why something is not done to limits.

use thiserror::Error;

use crate::field::WrongField;

/// Why something is not done to limits.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum LimitsRefusal {
    /// There are too few points for limits, or they do not differ.
    #[error("{found} points that differ, where {needed} are needed")]
    TooFewPoints {
        /// How many there must be.
        needed: usize,
        /// How many there are.
        found: usize,
    },
    /// They are in force already: revised ones begin a phase of their own.
    #[error("the limits are not on trial")]
    NotOnTrial,
    /// Only limits in force can be kept.
    #[error("the limits are not in force")]
    NotInForce,
    /// The last point that is left cannot be set aside.
    #[error("no point of the phase would be left")]
    NothingLeft,
    /// It is set aside already, or marked.
    #[error("that is said of the point already")]
    SaidAlready,
    /// There is nothing to take back.
    #[error("that is not said of the point")]
    NotSaid,
    /// A gap is no point that could be set aside, and no start.
    #[error("nothing was measured there")]
    Gap,
    /// A phase begins there already.
    #[error("a phase begins there already")]
    PhaseThere,
    /// The first phase holds everything before it: its start does not move, and nothing is there to merge it into.
    #[error("it is the first phase")]
    FirstPhase,
    /// A phase would be without any point.
    #[error("a phase would have no points")]
    EmptyPhase,
    /// What the limits rest on speaks against them; that asks for a reason.
    #[error("the ground is unfit, and no reason is given")]
    ReasonNeeded,
    /// The points of a longer stretch are being judged again; the next change waits for it.
    #[error("points are being judged again")]
    Judging,
    /// A field cannot be as it is given.
    #[error(transparent)]
    Field(#[from] WrongField),
}
