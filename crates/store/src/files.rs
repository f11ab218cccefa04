//! Photos and documents: sent first, and then named by the answer or the addition that they belong to.

use chrono::{DateTime, Duration, Utc};
use quality::field::{Allowed, WrongField, name};
use quality::file::FileKind;
use quality::object::ObjectKind;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::act::Act;
use crate::once::compiled_once;
use crate::{StoreError, word};

/// A file, as it is listed.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct FileView {
    pub id: Uuid,
    pub name: String,
    /// What its content is.
    pub kind: FileKind,
    pub bytes: i64,
}

/// So many files of one person may wait for what they belong to.
const LOOSE_AT_MOST: usize = 50;

/// So long a file waits for it: longer than any device is away.
const WAITS_DAYS: i64 = 30;

/// Keeps a file until an answer names it; the same file under the same id twice keeps one.
///
/// # Errors
/// When its name or its content cannot be, the id was used for another, or too many wait already.
#[compiled_once]
pub async fn keep(
    pool: &PgPool,
    id: Uuid,
    given_name: &str,
    content: &[u8],
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<FileView, StoreError> {
    let (name, kind) = (name("name", given_name)?, FileKind::of(content)?);
    let bytes = i64::try_from(content.len()).unwrap_or(i64::MAX);
    let mut act = Act::begin(pool).await?;
    sqlx::query!(
        "delete from file where answer_id is null and addition_id is null and person_id = $1 and at < $2",
        person,
        at - Duration::days(WAITS_DAYS)
    )
    .execute(act.conn())
    .await?;
    let kept = sqlx::query_scalar!(
        r#"insert into file (id, name, kind, content, person_id, at) values ($1, $2, $3, $4, $5, $6)
           on conflict (id) do update set at = file.at where file.person_id = $5 and file.content = $4
           returning (select count(*) from file where person_id = $5 and answer_id is null and addition_id is null)
               as "loose!""#,
        id,
        name,
        word::word(kind)?,
        content,
        person,
        at
    )
    .fetch_optional(act.conn())
    .await?;
    // As many as there were before this one.
    let loose = kept.ok_or(StoreError::EntryReused)?;
    if usize::try_from(loose).is_ok_and(|loose| loose >= LOOSE_AT_MOST) {
        return Err(WrongField::new("files", Allowed::Entries { least: 0, most: LOOSE_AT_MOST }).into());
    }
    act.keep().await?;
    Ok(FileView { id, name, kind, bytes })
}

/// A file with its content, for who may see what it belongs to: one that waits is for who sent it.
///
/// # Errors
/// When there is none such.
#[compiled_once]
pub async fn read(pool: &PgPool, id: Uuid, viewer: Uuid) -> Result<(FileView, Vec<u8>), StoreError> {
    let row = sqlx::query!(
        "select name, kind, content from file
         where id = $1 and (person_id = $2 or answer_id is not null or addition_id is not null)",
        id,
        viewer
    )
    .fetch_optional(pool)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::File))?;
    let bytes = i64::try_from(row.content.len()).unwrap_or(i64::MAX);
    Ok((FileView { id, name: row.name, kind: word::value(row.kind)?, bytes }, row.content))
}

/// What a file belongs to.
#[derive(Debug, Clone, Copy)]
pub(crate) enum Of {
    Answer(Uuid),
    Addition(Uuid),
}

/// Gives files that wait to what they belong to; tells what the trail says of them.
///
/// # Errors
/// When one is not there, is somebody else's, or belongs to something already.
pub(crate) async fn give(act: &mut Act, files: &[Uuid], person: Uuid, of: Of) -> Result<Value, StoreError> {
    let (answer, addition) = match of {
        Of::Answer(id) => (Some(id), None),
        Of::Addition(id) => (None, Some(id)),
    };
    let given = sqlx::query!(
        r#"update file set answer_id = $3, addition_id = $4
           where id = any($1) and person_id = $2 and answer_id is null and addition_id is null
           returning id, name, encode(sha256(content), 'hex') as "digest!""#,
        files,
        person,
        answer,
        addition
    )
    .fetch_all(act.conn())
    .await?;
    if given.len() < files.len() {
        return Err(StoreError::Missing(ObjectKind::File));
    }
    Ok(given.iter().map(|file| json!({"file": file.id, "name": file.name, "sha256": file.digest})).collect())
}
