//! Recipes that are kept: how tables become samples, by name, changed as versions.

use chrono::{DateTime, Utc};
use quality::field::name;
use quality::object::ObjectKind;
use quality::setup::SetUpRefusal;
use quality::trail::{Action, Deed};
use quality::version::Changed;
use serde::Serialize;
use serde_json::{Value, json};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// A recipe that is kept.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct RecipeView {
    pub id: Uuid,
    pub name: String,
    pub version: i32,
    /// As docs/data.md describes it.
    #[schema(value_type = Object)]
    pub recipe: Value,
    /// Columns that a row is known by again, wherever it stands; none where it is known by its number.
    pub key: Vec<String>,
    pub changed_by: String,
    pub changed_at: DateTime<Utc>,
}

/// A recipe as it is to be kept.
#[derive(Debug, Clone, Copy)]
pub struct ToKeep<'a> {
    pub name: &'a str,
    pub recipe: &'a Value,
    /// Columns that a row is known by again; none where it is known by its number.
    pub key: &'a [String],
}

/// Kept recipes, by name.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn recipes(pool: &PgPool) -> Result<Vec<RecipeView>, StoreError> {
    let rows = sqlx::query_as!(
        RecipeView,
        "select r.id, r.name, r.version, r.body as recipe, r.key, p.name as changed_by, r.changed_at
         from recipe r join person p on p.id = r.changed_by order by lower(r.name), r.id"
    );
    Ok(rows.fetch_all(pool).await?)
}

/// A kept recipe as it stands.
///
/// # Errors
/// When there is none such.
#[compiled_once]
pub async fn recipe(pool: &PgPool, id: Uuid) -> Result<RecipeView, StoreError> {
    let row = sqlx::query_as!(
        RecipeView,
        "select r.id, r.name, r.version, r.body as recipe, r.key, p.name as changed_by, r.changed_at
         from recipe r join person p on p.id = r.changed_by where r.id = $1",
        id
    );
    row.fetch_optional(pool).await?.ok_or(StoreError::Missing(ObjectKind::Recipe))
}

/// Keeps a recipe under a name.
///
/// # Errors
/// When the name cannot be, or is taken.
pub async fn keep(
    pool: &PgPool,
    ToKeep { name: given, recipe, key }: ToKeep<'_>,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let name = name("name", given)?;
    let id = Uuid::new_v4();
    let mut act = Act::begin(pool).await?;
    sqlx::query!(
        "with kept as (insert into recipe (id, name, body, key, changed_by, changed_at) values ($1, $2, $3, $6, $4, $5))
         insert into recipe_version (recipe_id, version, body, key, person_id, at) values ($1, 1, $3, $6, $4, $5)",
        id,
        name,
        recipe,
        person,
        at,
        key
    )
    .execute(act.conn())
    .await
    .map_err(taken)?;
    let detail = json!({"name": name, "recipe": recipe, "key": key, "version": 1});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::RecipeKept, id, &detail), News::Plan);
    act.commit().await?;
    Ok(id)
}

/// Changes a recipe: the version before it stays.
///
/// # Errors
/// When there is none such, it has changed since `version`, or its name cannot be.
pub async fn change(
    pool: &PgPool,
    (id, version): (Uuid, i32),
    ToKeep { name: given, recipe, key }: ToKeep<'_>,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let name = name("name", given)?;
    let mut act = Act::begin(pool).await?;
    let now = sqlx::query_scalar!("select version from recipe where id = $1 for update", id);
    match now.fetch_optional(act.conn()).await? {
        None => return Err(StoreError::Missing(ObjectKind::Recipe)),
        Some(now) if now != version => return Err(Changed(ObjectKind::Recipe).into()),
        Some(_) => {}
    }
    sqlx::query!(
        "with changed as (update recipe set name = $2, body = $3, key = $6, version = version + 1, changed_by = $4,
                              changed_at = $5
                          where id = $1 returning version)
         insert into recipe_version (recipe_id, version, body, key, person_id, at)
         select $1, version, $3, $6, $4, $5 from changed",
        id,
        name,
        recipe,
        person,
        at,
        key
    )
    .execute(act.conn())
    .await
    .map_err(taken)?;
    let detail = json!({"name": name, "recipe": recipe, "key": key, "version": version + 1});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::RecipeChanged, id, &detail), News::Plan);
    act.commit().await
}

fn taken(error: sqlx::Error) -> StoreError {
    StoreError::of_constraint(error, |name| (name == "recipe_name_key").then_some(SetUpRefusal::Taken("name").into()))
}
