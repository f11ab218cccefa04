//! The one door for entries: whoever enters a sample, and by whatever way it comes.

use thiserror::Error;

use super::read::read;
use super::typed::{Tags, Typed, TypedFirst};
use super::usual::{Unusual, Usual, unusual};
use crate::characteristic::Characteristic;
use crate::reading::ReadingRefusal;
use crate::sample::Content;

/// Which way an entry comes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Origin {
    /// A person enters it, who can be asked.
    Hand {
        /// What is unusual was asked about, and confirmed.
        confirmed: bool,
    },
    /// A device sends it. Nobody can be asked, so what is unusual is kept.
    Instrument,
    /// It is brought in with others, from what was recorded before; whoever does that looks at all of it first.
    Import,
}

impl Origin {
    /// Whether somebody has still to be asked about what is unusual.
    pub(super) fn asks(self) -> bool {
        self == Origin::Hand { confirmed: false }
    }
}

/// What an entry becomes.
#[derive(Debug, Clone, PartialEq)]
pub struct Accepted {
    /// What the sample records.
    pub content: Content,
    /// Its tags, trimmed; blank ones are left out.
    pub tags: Tags,
    /// Readings that were changed when somebody asked, as they were typed first.
    pub typed_first: Vec<TypedFirst>,
}

/// Why an entry is not accepted as it is.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum EntryRefusal {
    /// It cannot be kept, for every one of these reasons.
    #[error("{} readings are refused", .0.len())]
    Readings(Vec<ReadingRefusal>),
    /// It can, when whoever enters it confirms these readings.
    #[error("{} readings are not usual", .0.len())]
    Unusual(Vec<Unusual>),
}

/// Accepts an entry.
///
/// # Errors
/// Every refusal at once, so that all can be shown where they are; else every reading to ask about.
pub fn accept(
    characteristic: &Characteristic,
    usual: &Usual,
    typed: &Typed,
    origin: Origin,
) -> Result<Accepted, EntryRefusal> {
    let content = read(characteristic, typed).map_err(EntryRefusal::Readings)?;
    if origin.asks() {
        let unusual = unusual(characteristic, usual, typed, &content);
        if !unusual.is_empty() {
            return Err(EntryRefusal::Unusual(unusual));
        }
    }
    let kept = |(name, value): (&String, &String)| (name.clone(), value.trim().to_owned());
    let tags = typed.tags.iter().map(kept).filter(|(_, value)| !value.is_empty()).collect();
    Ok(Accepted { content, tags, typed_first: typed.typed_first.clone() })
}
