//! The trail: who did what, when, with old and new values. Each entry carries a hash over itself
//! and the entry before it in its chain, so a changed, removed or inserted entry shows.
//!
//! There is one chain for each characteristic and one for the site. A single chain for everything
//! would make every save in the house wait for every other.

use chrono::{DateTime, SubsecRound, Utc};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use sha2::{Digest, Sha256};
use uuid::Uuid;

/// One thing that was done.
#[derive(Debug, Clone, PartialEq)]
pub struct Deed {
    /// When, to the microsecond.
    pub at: DateTime<Utc>,
    /// Who; `None` for the program itself.
    pub person: Option<Uuid>,
    /// What, such as `sample saved`.
    pub action: Action,
    /// The object it was done to.
    pub object: Uuid,
    /// Old and new values as JSON text, hashed as it stands.
    pub detail: String,
}

/// What can be done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // the names say it
pub enum Action {
    SampleSaved,
    SampleSkipped,
    SampleCorrected,
    SampleWithdrawn,
    SamplesImported,
    SignalRaised,
    SignalGrown,
    SignalReshaped,
    SignalWithdrawn,
    SignalTakenUp,
    SignalGathered,
    EpisodeAnswered,
    AnswerAddedTo,
    EpisodeReviewed,
    EpisodeEscalated,
    ReviewsSigned,
    /// As trails before episodes tell it: an answer was given to one signal.
    SignalAnswered,
    /// And a review.
    SignalReviewed,
    NoteWritten,
    NoteChanged,
    SampleSetAside,
    SampleTakenBack,
    RestartMarked,
    RestartUndone,
    RestartPlanned,
    RestartDropped,
    LimitsPutInForce,
    LimitsKept,
    EventRecorded,
    PiecesCounted,
    StationSetUp,
    ProductSetUp,
    CharacteristicSetUp,
    CharacteristicChanged,
    PhaseStarted,
    PhaseMoved,
    PhaseMerged,
    PhaseRenamed,
    PhaseDeclined,
    RunSaved,
    RunJudgedAgain,
    RunReleased,
    RunOverridden,
    RunReviewed,
    RunActedOn,
    AnalyteSetUp,
    LevelAssigned,
    ControlLotBegun,
    ControlLotTookOver,
    CauseAdded,
    CauseProposed,
    CauseChanged,
    RuleSetNamed,
    RuleSetChanged,
    DeviceSetUp,
    DeviceChanged,
    DeviceRevoked,
    PinSet,
    BadgeSet,
    HandoverWritten,
    HandoverRead,
    NoticesChosen,
    WebhookSetUp,
    WebhookChanged,
    PersonAdded,
    PersonChanged,
    PersonClosed,
    PersonReopened,
    PasswordReset,
    PasswordChanged,
    PinReset,
    SessionsEnded,
    SignedIn,
    SignInFailed,
    SignedOut,
    StudyKept,
    StudyChanged,
    StudyFrozen,
    StudySigned,
    CauseTreeStarted,
    CauseTreeChanged,
    IdeasChanged,
    PeerGroupSetUp,
    PeerGroupChanged,
    PeerResultsGiven,
    PeerResultsWithdrawn,
    PeerStatisticsTold,
    RecipeKept,
    RecipeChanged,
    ChainBegun,
    StateRecorded,
}

impl Deed {
    /// A deed with its time cut to the microsecond, the precision it is stored with.
    pub fn new(at: DateTime<Utc>, person: Option<Uuid>, action: Action, object: Uuid, detail: &Value) -> Self {
        Self { at: at.trunc_subsecs(6), person, action, object, detail: detail.to_string() }
    }
}

/// An entry as it is hashed: every stored field, and the hash before it in its chain (empty for the
/// first).
#[derive(Debug, Clone, Copy, Serialize)]
pub struct Link<'a> {
    /// Hash of the entry before.
    pub before: &'a str,
    /// The chain.
    pub chain: Uuid,
    /// Place in the chain, from 1.
    pub position: i64,
    /// When, in microseconds since 1970.
    pub at: i64,
    /// Who.
    pub person: Option<Uuid>,
    /// What, by the stored name.
    pub action: &'a str,
    /// The object it was done to.
    pub object: Uuid,
    /// Old and new values.
    pub detail: &'a str,
}

impl Link<'_> {
    /// SHA-256, in hexadecimal, over the JSON text of the entry.
    pub fn hash(&self) -> String {
        // A struct of texts and numbers always serialises; an empty text would still be a stable input.
        hex::encode(Sha256::digest(serde_json::to_string(self).unwrap_or_default()))
    }
}
