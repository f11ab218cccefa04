//! Cause trees: a problem with its facts, ideas under ideas of what may cause it, what was found true or ruled out, and
//! the actions that follow.

use std::collections::HashMap;

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::cause::CauseGroup;
use crate::field::{Allowed, LIST_AT_MOST, TEXT_AT_MOST, WrongField, broken};

/// Ideas of a tree at most: more are read by nobody.
pub const IDEAS_AT_MOST: usize = 1000;
/// Ideas under ideas at most.
const DEPTH_AT_MOST: usize = 12;
/// Characters of an idea at most: it is one line.
const IDEA_AT_MOST: usize = 300;
/// Characters of an address at most.
const ADDRESS_AT_MOST: usize = 500;

/// What is known of a problem; what is not known yet is left empty.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Facts {
    /// What is wrong.
    pub what: String,
    /// Where it is seen, and where not.
    pub place: String,
    /// Since when.
    pub since: String,
    /// How much of the whole.
    pub share: String,
    /// What it costs.
    pub cost: String,
}

/// What a tree was started from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "from", rename_all = "snake_case", deny_unknown_fields)]
pub enum Origin {
    /// A kind of defect.
    Defect {
        /// Where it is counted.
        characteristic: Uuid,
        /// The kind, by its name.
        kind: String,
    },
    /// An episode.
    Episode {
        /// On this characteristic.
        characteristic: Uuid,
        /// The episode.
        episode: Uuid,
    },
    /// A study.
    Study {
        /// About this characteristic.
        characteristic: Uuid,
        /// The study.
        study: Uuid,
    },
}

impl Origin {
    /// The characteristic where the problem is seen.
    pub fn characteristic(&self) -> Uuid {
        match self {
            Self::Defect { characteristic, .. }
            | Self::Episode { characteristic, .. }
            | Self::Study { characteristic, .. } => *characteristic,
        }
    }
}

/// Where an idea stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum IdeaState {
    /// It may be so.
    #[default]
    Idea,
    /// Somebody is to find out.
    ToCheck,
    /// It is not so.
    RuledOut,
    /// It is so.
    FoundTrue,
}

/// What speaks for an idea, or against it: an address within the site.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Evidence {
    /// What it shows.
    pub says: String,
    /// A chart, a study, an episode, a file: its path, from `/` on.
    pub path: String,
}

/// What is done about a cause, and when it is looked at whether it helped.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TreeAction {
    /// What is done.
    pub text: String,
    /// Who does it.
    #[serde(default)]
    pub owner: Option<Uuid>,
    /// The day on which it is looked at.
    #[serde(default)]
    pub check_on: Option<NaiveDate>,
    /// What was seen then; nothing before.
    #[serde(default)]
    pub outcome: Option<String>,
}

/// An idea of what may cause the problem, or a branch that such ideas hang on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Idea {
    /// Identity, given by who wrote it: what is sent twice is kept once.
    pub id: Uuid,
    /// The idea it hangs on; nothing for a branch.
    #[serde(default)]
    pub parent: Option<Uuid>,
    /// Where it stands among those of its parent: the smaller comes first.
    pub place: f64,
    /// One line; it may be empty while it is written.
    pub text: String,
    /// The group of causes that a branch stands for.
    #[serde(default)]
    pub group: Option<CauseGroup>,
    /// Where it stands.
    #[serde(default)]
    pub state: IdeaState,
    /// Who finds out.
    #[serde(default)]
    pub owner: Option<Uuid>,
    /// Until when.
    #[serde(default)]
    pub due: Option<NaiveDate>,
    /// What speaks for it, or against it.
    #[serde(default)]
    pub evidence: Vec<Evidence>,
    /// What is done about it.
    #[serde(default)]
    pub actions: Vec<TreeAction>,
}

/// Facts, each of 0 to 2000 characters.
///
/// # Errors
/// The first that is longer.
pub fn check_facts(facts: &Facts) -> Result<(), WrongField> {
    let short = |text: &str| text.chars().count() <= TEXT_AT_MOST;
    let text = Allowed::Text { most: TEXT_AT_MOST };
    let Facts { what, place, since, share, cost } = facts;
    let wrong = broken([
        ("what", short(what), text),
        ("place", short(place), text),
        ("since", short(since), text),
        ("share", short(share), text),
        ("cost", short(cost), text),
    ]);
    wrong.into_iter().next().map_or(Ok(()), Err)
}

/// Whether these ideas, and no others, make a tree.
///
/// # Errors
/// The first field of an idea that cannot be as it is given.
pub fn check_ideas(ideas: &[Idea]) -> Result<(), WrongField> {
    let by_id: HashMap<Uuid, &Idea> = ideas.iter().map(|idea| (idea.id, idea)).collect();
    let entries = Allowed::Entries { least: 0, most: IDEAS_AT_MOST };
    if ideas.len() > IDEAS_AT_MOST || by_id.len() < ideas.len() {
        return Err(WrongField::new("ideas", entries));
    }
    ideas.iter().try_for_each(|idea| {
        let wrong = broken([
            ("text", idea.text.chars().count() <= IDEA_AT_MOST, Allowed::Text { most: IDEA_AT_MOST }),
            ("place", idea.place.is_finite(), Allowed::Number { size: f64::MAX }),
            ("parent", hangs(idea, &by_id), Allowed::IdeaOfTheTree { deep: DEPTH_AT_MOST }),
            ("group", idea.group.is_none() || idea.parent.is_none(), Allowed::GroupOfABranch),
            ("evidence", idea.evidence.iter().all(Evidence::holds), Allowed::PathWithinTheSite),
            ("evidence", idea.evidence.len() <= LIST_AT_MOST, Allowed::Entries { least: 0, most: LIST_AT_MOST }),
            ("actions", idea.actions.iter().all(TreeAction::holds), Allowed::Text { most: TEXT_AT_MOST }),
            ("actions", idea.actions.len() <= LIST_AT_MOST, Allowed::Entries { least: 0, most: LIST_AT_MOST }),
        ]);
        wrong.into_iter().next().map_or(Ok(()), Err)
    })
}

/// Whether the way up from an idea ends at a branch.
fn hangs(idea: &Idea, by_id: &HashMap<Uuid, &Idea>) -> bool {
    let mut at = idea;
    for _ in 0..DEPTH_AT_MOST {
        let Some(parent) = at.parent else { return true };
        let Some(next) = by_id.get(&parent) else { return false };
        at = next;
    }
    false
}

impl Evidence {
    fn holds(&self) -> bool {
        let said = (1..=IDEA_AT_MOST).contains(&self.says.trim().chars().count());
        // Within the site: `//` would lead to another one.
        let within = self.path.starts_with('/') && !self.path.starts_with("//") && !self.path.contains('\\');
        said && within && self.path.chars().count() <= ADDRESS_AT_MOST && !self.path.chars().any(char::is_control)
    }
}

impl TreeAction {
    fn holds(&self) -> bool {
        let text = |text: &str| (1..=TEXT_AT_MOST).contains(&text.trim().chars().count());
        text(&self.text) && self.outcome.as_deref().is_none_or(text)
    }
}

/// Whether an idea can go into the catalogue of causes.
///
/// # Errors
/// When it is no idea that was found true, or longer than a cause is called.
pub fn may_be_catalogued(idea: &Idea) -> Result<(), WrongField> {
    if idea.state == IdeaState::FoundTrue { Ok(()) } else { Err(WrongField::new("state", Allowed::FoundTrue)) }
}
