//! Files as they came.

use chrono::{DateTime, Duration, Utc};
use quality::field::{Allowed, WrongField};
use quality::object::ObjectKind;
use serde::Serialize;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// A file that was sent to be brought in.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ImportFileView {
    pub id: Uuid,
    pub name: String,
    /// SHA-256, in hex.
    pub digest: String,
    pub bytes: i64,
    /// The same file was brought in before: when last.
    pub imported_at: Option<DateTime<Utc>>,
}

/// So long a file is kept; what was made of it stays, and its digest with it.
const KEPT_DAYS: i64 = 7;

/// Longest name of a file, in characters.
const NAME_AT_MOST: usize = 200;

/// Keeps a file until it is brought in, for a while.
///
/// # Errors
/// When its name cannot be.
#[compiled_once]
pub async fn keep_file(
    pool: &PgPool,
    given_name: &str,
    content: &[u8],
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<ImportFileView, StoreError> {
    let name = given_name.trim();
    if name.is_empty() || name.chars().count() > NAME_AT_MOST || name.chars().any(char::is_control) {
        return Err(WrongField::new("name", Allowed::Text { most: NAME_AT_MOST }).into());
    }
    sqlx::query!("delete from import_file where at < $1", at - Duration::days(KEPT_DAYS)).execute(pool).await?;
    let row = sqlx::query!(
        r#"insert into import_file (id, name, content, digest, person_id, at)
           values ($1, $2, $3, encode(sha256($3), 'hex'), $4, $5)
           returning id, digest, (select max(i.at) from import i where i.file_digest = digest and i.state = 'done')
               as imported_at"#,
        Uuid::new_v4(),
        name,
        content,
        person,
        at
    )
    .fetch_one(pool)
    .await?;
    let bytes = i64::try_from(content.len()).unwrap_or(i64::MAX);
    Ok(ImportFileView { id: row.id, name: name.into(), digest: row.digest, bytes, imported_at: row.imported_at })
}

/// A file with its content, for who sent it.
///
/// # Errors
/// When there is none such.
#[compiled_once]
pub async fn file(pool: &PgPool, id: Uuid, person: Uuid) -> Result<(ImportFileView, Vec<u8>), StoreError> {
    let row = sqlx::query!(
        r#"select name, content, digest,
                  (select max(i.at) from import i where i.file_digest = digest and i.state = 'done') as imported_at
           from import_file where id = $1 and person_id = $2"#,
        id,
        person
    )
    .fetch_optional(pool)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::File))?;
    let bytes = i64::try_from(row.content.len()).unwrap_or(i64::MAX);
    let view = ImportFileView { id, name: row.name, digest: row.digest, bytes, imported_at: row.imported_at };
    Ok((view, row.content))
}
