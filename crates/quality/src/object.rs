//! The objects of the job that a request can name, as refusals call them.

use serde::{Deserialize, Serialize};

/// An object that a request can name.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // the names say it
pub enum ObjectKind {
    Analyte,
    Answer,
    Area,
    Cause,
    CauseTree,
    Characteristic,
    Device,
    Episode,
    EventKind,
    File,
    Idea,
    Import,
    Level,
    Limits,
    Note,
    Offer,
    PeerGroup,
    PeerResult,
    Person,
    Phase,
    Product,
    Recipe,
    Review,
    RuleSet,
    Run,
    Sample,
    Shift,
    Signature,
    Station,
    Study,
    Webhook,
}
