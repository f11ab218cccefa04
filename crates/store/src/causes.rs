//! The catalogue of causes.

use serde::{Deserialize, Serialize};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;

/// A cause that answers can name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Cause {
    /// Identity.
    pub id: Uuid,
    /// In words.
    pub name: String,
}

/// All causes, in the order of the catalogue.
pub async fn list(pool: &PgPool) -> Result<Vec<Cause>, StoreError> {
    Ok(sqlx::query_as!(Cause, "select id, name from cause order by place, name").fetch_all(pool).await?)
}

/// Adds a cause.
pub async fn add(conn: &mut PgConnection, name: &str, place: i32) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!("insert into cause (id, name, place) values ($1, $2, $3)", id, name, place).execute(conn).await?;
    Ok(id)
}
