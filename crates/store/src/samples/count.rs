//! How many samples there are.

use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// All samples.
#[compiled_once]
pub async fn count(pool: &PgPool) -> Result<i64, StoreError> {
    Ok(sqlx::query_scalar!(r#"select count(*) as "count!" from sample"#).fetch_one(pool).await?)
}

/// Samples that were entered under these ids.
#[compiled_once]
pub async fn count_entries(pool: &PgPool, entries: &[Uuid]) -> Result<i64, StoreError> {
    Ok(sqlx::query_scalar!(r#"select count(distinct entry) as "count!" from sample where entry = any($1)"#, entries)
        .fetch_one(pool)
        .await?)
}
