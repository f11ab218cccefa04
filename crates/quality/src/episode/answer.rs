//! What the technician says.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::stage::EpisodeRefusal;
use crate::field::{Allowed, WrongField, optional_text, text};

/// What the technician says about an episode.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Answer {
    /// Entry of the catalogue of causes.
    pub cause: Option<Uuid>,
    /// The cause in words, where the catalogue has none.
    pub cause_text: Option<String>,
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
        let comment = optional_text("comment", self.comment.as_deref())?;
        let steps = self.steps.iter().map(|step| text("steps", step)).collect::<Result<_, _>>()?;
        Ok(Self { cause_text, action: text("action", &self.action)?, comment, steps, ..self })
    }
}
