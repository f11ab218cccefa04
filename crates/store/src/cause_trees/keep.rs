//! Trees started, named, their facts, and copied.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::cause_tree::{Facts, Idea, Origin, check_facts, check_ideas};
use quality::field::name;
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use super::ideas::{in_order, told, write};
use super::list::ideas_of;
use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// A tree to start.
#[derive(Debug, Clone)]
pub struct NewTree {
    pub name: String,
    pub facts: Facts,
    pub origin: Option<Origin>,
    /// Its branches, and what hangs on them already.
    pub ideas: Vec<Idea>,
}

/// Starts a tree.
///
/// # Errors
/// A name, a fact or an idea that cannot be; a characteristic that is missing.
#[compiled_once]
pub async fn start(pool: &PgPool, new: &NewTree, by: (Uuid, DateTime<Utc>)) -> Result<Uuid, StoreError> {
    begin(pool, new, None, by).await
}

async fn begin(
    pool: &PgPool,
    new: &NewTree,
    copy_of: Option<Uuid>,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let called = name("name", &new.name)?;
    check_facts(&new.facts)?;
    check_ideas(&new.ideas)?;
    let (id, of) = (Uuid::new_v4(), new.origin.as_ref().map(Origin::characteristic));
    let mut act = Act::begin(pool).await?;
    if let Some(of) = of {
        crate::characteristics::find(act.conn(), of).await?;
    }
    let (facts, origin) =
        (serde_json::to_value(&new.facts)?, new.origin.as_ref().map(serde_json::to_value).transpose()?);
    sqlx::query!(
        "insert into cause_tree (id, name, facts, origin, characteristic_id, copy_of, made_at, made_by)
         values ($1, $2, $3, $4, $5, $6, $7, $8)",
        id,
        called,
        facts,
        origin,
        of,
        copy_of,
        at,
        person
    )
    .execute(act.conn())
    .await?;
    for idea in in_order(&new.ideas) {
        write(act.conn(), id, idea, (person, at)).await?;
    }
    let says = json!({"name": called, "facts": facts, "origin": origin, "copy_of": copy_of});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::CauseTreeStarted, id, &says), News::CauseTree { tree: id });
    if !new.ideas.is_empty() {
        let written: Vec<Value> = new.ideas.iter().map(|idea| told(idea, false)).collect::<Result<_, _>>()?;
        let deed = Deed::new(at, Some(person), Action::IdeasChanged, id, &json!({ "ideas": written }));
        act.did(SITE_CHAIN, deed, News::CauseTree { tree: id });
    }
    act.commit().await?;
    Ok(id)
}

/// Names a tree otherwise, and changes its facts.
///
/// # Errors
/// When it is missing, or was changed since `seen_version`; a name or a fact that cannot be.
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    (called, facts): (&str, &Facts),
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let called = name("name", called)?;
    check_facts(facts)?;
    let mut act = Act::begin(pool).await?;
    let row = sqlx::query!("select version from cause_tree where id = $1 for update", id)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::CauseTree))?;
    same_version(ObjectKind::CauseTree, seen_version, row.version)?;
    let facts = serde_json::to_value(facts)?;
    sqlx::query!("update cause_tree set name = $2, facts = $3, version = version + 1 where id = $1", id, called, facts)
        .execute(act.conn())
        .await?;
    let says = json!({"name": called, "facts": facts});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::CauseTreeChanged, id, &says), News::CauseTree { tree: id });
    act.commit().await
}

/// Makes a copy for the next team: the same ideas, all of them theirs to change.
///
/// # Errors
/// When it is missing; a name that cannot be.
#[compiled_once]
pub async fn copy(pool: &PgPool, id: Uuid, called: &str, by: (Uuid, DateTime<Utc>)) -> Result<Uuid, StoreError> {
    let found = super::list::find(pool, id).await?;
    let mut conn = pool.acquire().await?;
    let ideas = ideas_of(&mut conn, id).await?;
    drop(conn);
    let anew: HashMap<Uuid, Uuid> = ideas.iter().map(|idea| (idea.idea.id, Uuid::new_v4())).collect();
    let ideas = ideas.into_iter().map(|view| Idea {
        id: anew[&view.idea.id],
        parent: view.idea.parent.and_then(|parent| anew.get(&parent).copied()),
        ..view.idea
    });
    let new = NewTree { name: called.into(), facts: found.facts, origin: found.origin, ideas: ideas.collect() };
    begin(pool, &new, Some(id), by).await
}
