//! Ideas written, moved and taken out, several in one go; by several people at once.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::cause_tree::{Idea, check_ideas};
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::list::ideas_of;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// What shall become of an idea.
#[derive(Debug, Clone, Deserialize, ToSchema)]
#[serde(tag = "change", rename_all = "snake_case")]
pub enum IdeaChange {
    /// It shall be as it is given, new or not.
    Put {
        idea: Idea,
        /// The version that was seen; nothing for a new one.
        seen: Option<i32>,
    },
    /// It shall be taken out, with all that hangs on it.
    Remove { id: Uuid, seen: i32 },
}

/// How often an idea was changed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct IdeaVersion {
    pub id: Uuid,
    pub version: i32,
}

/// Changes ideas of a tree, all of them or none.
///
/// # Errors
/// When the tree is missing, an idea was changed by somebody else since it was seen, or what would come of it is no
/// tree.
#[compiled_once]
pub async fn change_ideas(
    pool: &PgPool,
    tree: Uuid,
    changes: &[IdeaChange],
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Vec<IdeaVersion>, StoreError> {
    let mut act = Act::begin(pool).await?;
    // Who changes ideas of one tree queues here.
    sqlx::query!("select id from cause_tree where id = $1 for update", tree)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::CauseTree))?;
    let before = ideas_of(act.conn(), tree).await?;
    let versions: HashMap<Uuid, i32> = before.iter().map(|view| (view.idea.id, view.version)).collect();
    let mut after: Vec<Idea> = before.into_iter().map(|view| view.idea).collect();
    let mut says: Vec<Value> = vec![];
    let mut written: Vec<Uuid> = vec![];
    for change in changes {
        match change {
            IdeaChange::Put { idea, seen } => {
                seen_as(versions.get(&idea.id).copied(), *seen, written.contains(&idea.id))?;
                match after.iter_mut().find(|known| known.id == idea.id) {
                    // What was sent before its answer was lost.
                    Some(known) if known == idea => continue,
                    Some(known) => *known = idea.clone(),
                    None => after.push(idea.clone()),
                }
                says.push(told(idea, false)?);
                written.push(idea.id);
            }
            IdeaChange::Remove { id, seen } => {
                let Some(version) = versions.get(id) else { continue };
                same_version(ObjectKind::Idea, *seen, *version)?;
                for gone in below(&after, *id) {
                    let Some(place) = after.iter().position(|idea| idea.id == gone) else { continue };
                    says.push(told(&after.remove(place), true)?);
                    sqlx::query!(
                        "update idea set removed = true, version = version + 1, changed_at = $2, changed_by = $3 where id = $1",
                        gone,
                        at,
                        person
                    )
                    .execute(act.conn())
                    .await?;
                }
            }
        }
    }
    check_ideas(&after)?;
    // Parents before those that hang on them.
    let mut found = vec![];
    for idea in in_order(&after).into_iter().filter(|idea| written.contains(&idea.id)) {
        found.push(IdeaVersion { id: idea.id, version: write(act.conn(), tree, idea, (person, at)).await? });
    }
    if says.is_empty() {
        return Ok(found);
    }
    let deed = Deed::new(at, Some(person), Action::IdeasChanged, tree, &json!({ "ideas": says }));
    act.did(SITE_CHAIN, deed, News::CauseTree { tree });
    act.commit().await?;
    Ok(found)
}

/// Whether the idea is as it was seen; one that is changed twice in one go was seen by the one who changes it.
fn seen_as(version: Option<i32>, seen: Option<i32>, again: bool) -> Result<(), StoreError> {
    match (version, seen) {
        _ if again => Ok(()),
        (Some(version), Some(seen)) => Ok(same_version(ObjectKind::Idea, seen, version)?),
        // Somebody took it out.
        (None, Some(_)) => Err(StoreError::Missing(ObjectKind::Idea)),
        // New; or sent again, since its answer was lost.
        (_, None) => Ok(()),
    }
}

/// An idea, and all that hangs on it.
fn below(ideas: &[Idea], id: Uuid) -> Vec<Uuid> {
    let mut all = vec![id];
    let mut at = 0;
    while let Some(parent) = all.get(at).copied() {
        all.extend(ideas.iter().filter(|idea| idea.parent == Some(parent)).map(|idea| idea.id));
        at += 1;
    }
    all
}

/// From branches downwards.
pub(super) fn in_order(ideas: &[Idea]) -> Vec<&Idea> {
    let mut all: Vec<&Idea> = ideas.iter().filter(|idea| idea.parent.is_none()).collect();
    let mut at = 0;
    while let Some(parent) = all.get(at).map(|idea| idea.id) {
        all.extend(ideas.iter().filter(|idea| idea.parent == Some(parent)));
        at += 1;
    }
    all
}

/// Writes an idea as it is given, and says how often it was changed.
pub(super) async fn write(
    conn: &mut PgConnection,
    tree: Uuid,
    idea: &Idea,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<i32, StoreError> {
    let group = idea.group.map(word::word).transpose()?;
    let written = sqlx::query_scalar!(
        "insert into idea (id, tree_id, parent_id, place, text, cause_group, state, owner_id, due, evidence, actions,
                           changed_at, changed_by)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)
         on conflict (id) do update
             set parent_id = excluded.parent_id, place = excluded.place, text = excluded.text,
                 cause_group = excluded.cause_group, state = excluded.state, owner_id = excluded.owner_id,
                 due = excluded.due, evidence = excluded.evidence, actions = excluded.actions,
                 changed_at = excluded.changed_at, changed_by = excluded.changed_by, version = idea.version + 1
             where idea.tree_id = excluded.tree_id and not idea.removed
         returning version",
        idea.id,
        tree,
        idea.parent,
        idea.place,
        idea.text,
        group,
        word::word(idea.state)?,
        idea.owner,
        idea.due,
        serde_json::to_value(&idea.evidence)?,
        serde_json::to_value(&idea.actions)?,
        at,
        person
    );
    // Of another tree, or taken out before.
    written.fetch_optional(conn).await?.ok_or(StoreError::Missing(ObjectKind::Idea))
}

/// As the trail tells it.
pub(super) fn told(idea: &Idea, removed: bool) -> Result<Value, StoreError> {
    let mut says = serde_json::to_value(idea)?;
    says["removed"] = json!(removed);
    Ok(says)
}
