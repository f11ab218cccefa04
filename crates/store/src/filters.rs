//! Filters of lists that a person keeps for themselves.

use quality::field::{Allowed, WrongField, name, text};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::once::compiled_once;

/// A filter that was kept.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SavedFilter {
    pub id: Uuid,
    pub name: String,
    /// As the address of the list holds it.
    pub query: String,
}

/// A person keeps this many at most.
const FILTERS_AT_MOST: usize = 30;

/// The filters of a person, by name.
#[compiled_once]
pub async fn list(pool: &PgPool, person: Uuid) -> Result<Vec<SavedFilter>, StoreError> {
    let filters = sqlx::query_as!(
        SavedFilter,
        "select id, name, query from saved_filter where person_id = $1 order by name",
        person
    );
    Ok(filters.fetch_all(pool).await?)
}

/// Keeps a filter, over one of the same name.
///
/// # Errors
/// When its name or its query cannot be, or there are too many.
#[compiled_once]
pub async fn keep(pool: &PgPool, person: Uuid, given: &str, query: &str) -> Result<(), StoreError> {
    let (name, query) = (name("name", given)?, text("query", query)?);
    let mut act = Act::begin(pool).await?;
    let others = sqlx::query_scalar!(
        r#"select count(*) as "others!" from saved_filter where person_id = $1 and name <> $2"#,
        person,
        name
    );
    let others = others.fetch_one(act.conn()).await?;
    if usize::try_from(others).is_ok_and(|others| others >= FILTERS_AT_MOST) {
        return Err(WrongField::new("name", Allowed::Entries { least: 0, most: FILTERS_AT_MOST }).into());
    }
    sqlx::query!(
        "insert into saved_filter (id, person_id, name, query) values ($1, $2, $3, $4)
         on conflict on constraint saved_filter_named do update set query = excluded.query",
        Uuid::new_v4(),
        person,
        name,
        query
    )
    .execute(act.conn())
    .await?;
    act.keep().await
}

/// Forgets a filter of a person; one that is gone already is gone.
#[compiled_once]
pub async fn forget(pool: &PgPool, person: Uuid, id: Uuid) -> Result<(), StoreError> {
    sqlx::query!("delete from saved_filter where id = $1 and person_id = $2", id, person).execute(pool).await?;
    Ok(())
}
