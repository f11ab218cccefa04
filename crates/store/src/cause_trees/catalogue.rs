//! A cause that was found true goes into the catalogue, so that answers can name it.

use chrono::{DateTime, Utc};
use quality::cause::CauseGroup;
use quality::cause_tree::may_be_catalogued;
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use super::ideas::told;
use super::list::ideas_of;
use crate::StoreError;
use crate::act::Act;
use crate::causes::add_to;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// Adds a cause to the catalogue under a name and in a group, for all areas, and says so of the idea.
///
/// # Errors
/// When there is no such idea, it was not found true, or its cause is in the catalogue by that name already.
#[compiled_once]
pub async fn to_catalogue(
    pool: &PgPool,
    tree: Uuid,
    idea: Uuid,
    (called, group): (&str, CauseGroup),
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let mut act = Act::begin(pool).await?;
    sqlx::query!("select id from cause_tree where id = $1 for update", tree)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::CauseTree))?;
    let ideas = ideas_of(act.conn(), tree).await?;
    let found = ideas.into_iter().find(|view| view.idea.id == idea).ok_or(StoreError::Missing(ObjectKind::Idea))?;
    may_be_catalogued(&found.idea)?;
    let cause = add_to(&mut act, called, group, None, (Some(person), at)).await?;
    sqlx::query!("update idea set cause_id = $2, version = version + 1 where id = $1", idea, cause)
        .execute(act.conn())
        .await?;
    let mut says = told(&found.idea, false)?;
    says["cause"] = json!(cause);
    let deed = Deed::new(at, Some(person), Action::IdeasChanged, tree, &json!({ "ideas": [says] }));
    act.did(SITE_CHAIN, deed, News::CauseTree { tree });
    act.commit().await?;
    Ok(cause)
}
