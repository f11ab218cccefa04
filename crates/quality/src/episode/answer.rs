//! What the technician says.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::stage::EpisodeRefusal;
use crate::field::{Allowed, WrongField, name, optional_text, text};
use crate::file::FILES_AT_MOST;

/// What the technician says about an episode.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Answer {
    /// Entry of the catalogue of causes.
    pub cause: Option<Uuid>,
    /// The cause in words, where the catalogue has none.
    pub cause_text: Option<String>,
    /// That cause in words is proposed for the catalogue.
    pub propose: bool,
    /// Looked, nothing found: an honest answer.
    pub nothing_found: bool,
    /// What was done.
    pub action: String,
    /// What else there is to say.
    pub comment: Option<String>,
    /// Steps of the reaction plan that were done.
    pub steps: Vec<String>,
    /// Whether what was made since the last clean sample was held; nothing where nobody was asked.
    pub held: Option<bool>,
    /// The process was corrected: rules start afresh with the next sample.
    pub corrected: bool,
    /// Photos and documents, sent before.
    pub files: Vec<Uuid>,
}

impl Answer {
    /// The answer with its texts trimmed.
    ///
    /// # Errors
    /// When it names no cause, or more than one of cause, cause in words and nothing found, or has
    /// no action.
    pub fn check(self) -> Result<Self, EpisodeRefusal> {
        let cause_text = optional_text("cause_text", self.cause_text.as_deref())?;
        let causes =
            usize::from(self.cause.is_some()) + usize::from(cause_text.is_some()) + usize::from(self.nothing_found);
        if causes != 1 {
            return Err(WrongField::new("cause", Allowed::OneCause).into());
        }
        if self.propose {
            let proposed = cause_text.as_deref().ok_or(WrongField::new("propose", Allowed::InWordsToPropose))?;
            name("cause_text", proposed)?;
        }
        few_files(&self.files)?;
        let comment = optional_text("comment", self.comment.as_deref())?;
        let steps = self.steps.iter().map(|step| text("steps", step)).collect::<Result<_, _>>()?;
        Ok(Self { cause_text, action: text("action", &self.action)?, comment, steps, ..self })
    }
}

/// What is said later: an answer is added to, never rewritten.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Addition {
    /// What there is to add.
    pub comment: String,
    /// Photos and documents, sent before.
    pub files: Vec<Uuid>,
}

impl Addition {
    /// The addition with its text trimmed.
    ///
    /// # Errors
    /// When it says nothing, or has too many files.
    pub fn check(self) -> Result<Self, EpisodeRefusal> {
        few_files(&self.files)?;
        Ok(Self { comment: text("comment", &self.comment)?, ..self })
    }
}

fn few_files(files: &[Uuid]) -> Result<(), WrongField> {
    let once = files.iter().enumerate().all(|(i, id)| !files[..i].contains(id));
    if once && files.len() <= FILES_AT_MOST {
        return Ok(());
    }
    Err(WrongField::new("files", Allowed::Entries { least: 0, most: FILES_AT_MOST }))
}
