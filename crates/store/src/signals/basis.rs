//! What signals are raised against, and why judging changes them.

use chrono::{DateTime, Utc};
use quality::judging::StandingSignal;
use quality::scheme::Schemes;
use quality::signal::{FoundBy, SignalState, WithdrawnReason};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use spc::chart::Figures;
use uuid::Uuid;

use crate::phases::Hold;
use crate::{StoreError, word};

/// What signals are raised against, and why judging changes them.
pub(crate) struct Basis<'a> {
    pub characteristic: Uuid,
    pub limits: Uuid,
    pub hold: Hold,
    pub schemes: &'a Schemes,
    /// Found after the sample had its place among later ones.
    pub late: bool,
    pub found: FoundBy,
    /// When the running shift began; nothing without shifts.
    pub shift_began: Option<DateTime<Utc>>,
    pub because: Because,
}

/// What made findings go away, or come again.
#[derive(Debug, Clone, Copy, Serialize, Deserialize)]
pub(crate) struct Because {
    pub reason: WithdrawnReason,
    /// The sample that something happened to.
    pub sample: Option<Uuid>,
    /// Who did it, where somebody else has to review what it makes go away.
    pub person: Option<Uuid>,
    pub at: DateTime<Utc>,
}

/// A signal that stands, and the sample where its pattern ends.
pub(crate) struct Stands {
    pub as_seen: StandingSignal,
    pub(super) end: End,
    /// Raised against trial limits, so that it goes away without a review.
    pub(super) trial: bool,
}

/// A sample of a pattern that its signal keeps with its time.
#[derive(Clone, Copy)]
pub(super) struct End {
    pub sample: Uuid,
    pub taken_at: DateTime<Utc>,
}

impl Basis<'_> {
    pub(super) fn figures(&self) -> Result<Figures, StoreError> {
        self.hold.figures.ok_or_else(found_without)
    }

    /// Where a signal begins that ends here.
    pub(super) fn state_of_new(&self, end: End) -> SignalState {
        SignalState::of_new(self.found, end.taken_at, self.shift_began)
    }
}

impl Because {
    /// As the trail says it: what happened, and to which sample.
    pub(super) fn said(&self) -> Result<Value, StoreError> {
        Ok(json!({word::word(self.reason)?: self.sample}))
    }
}

pub(super) fn found_without() -> StoreError {
    StoreError::Corrupt("a finding without figures to find it by".into())
}
