//! Imports, as they are listed.

use chrono::{DateTime, Utc};
use quality::import::{ImportSource, StatedTimes};
use quality::object::ObjectKind;
use serde::Serialize;
use serde_json::Value;
use sqlx::PgPool;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::{StoreError, word};

/// How an import stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, serde::Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ImportState {
    /// Its samples are being copied, and judged where they come behind all that is there.
    Staged,
    /// Its samples are judged aside.
    Waiting,
    /// They are there.
    Done,
    /// It was taken back before it was made.
    Cancelled,
    /// It could not be made; nothing of it is there.
    Failed,
}

/// An import.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ImportView {
    pub id: Uuid,
    pub characteristic: Uuid,
    /// What the characteristic is called.
    pub into: String,
    pub file_name: String,
    /// SHA-256 of the file, in hex.
    pub file_digest: String,
    /// The list that its rows belong to.
    pub source: String,
    /// How it was read.
    #[schema(value_type = Object)]
    pub recipe: Value,
    /// Columns that a row was known by again; none where it was known by its number.
    pub key: Vec<String>,
    /// Times that were stated for all rows.
    pub stated: Option<StatedTimes>,
    /// Who did it.
    pub person: Uuid,
    pub person_name: String,
    pub at: DateTime<Utc>,
    pub state: ImportState,
    /// Samples that are stored by it, or would have been where it is not done.
    pub stored: i32,
    /// Rows that were stored before.
    pub known: i32,
    /// Rows that were stored before with other cells.
    pub changed: i32,
    /// Rows that were refused.
    pub refused: i32,
    /// Steps that are done while it is under way: a sample is copied, or judged.
    pub done: Option<i64>,
    /// How many there are.
    pub to_do: Option<i64>,
}

/// Imports, newest first.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn imports(pool: &PgPool, at_most: i64) -> Result<Vec<ImportView>, StoreError> {
    read(pool, &Which::default(), at_most).await
}

/// One of them.
///
/// # Errors
/// When there is none such.
#[compiled_once]
pub async fn import(pool: &PgPool, id: Uuid) -> Result<ImportView, StoreError> {
    read(pool, &Which { id: Some(id), ..Which::default() }, 1)
        .await?
        .pop()
        .ok_or(StoreError::Missing(ObjectKind::Import))
}

/// What was made of a file as a list of a characteristic, newest first.
///
/// # Errors
/// When the database fails.
pub async fn imports_of(
    pool: &PgPool,
    source: ImportSource<'_>,
    file_digest: &str,
) -> Result<Vec<ImportView>, StoreError> {
    let which = Which { id: None, list: Some((source.characteristic, source.name)), file_digest: Some(file_digest) };
    read(pool, &which, i64::MAX).await
}

/// Imports that are meant.
#[derive(Default)]
struct Which<'a> {
    id: Option<Uuid>,
    /// Into which characteristic, as which list.
    list: Option<(Uuid, &'a str)>,
    file_digest: Option<&'a str>,
}

async fn read(pool: &PgPool, which: &Which<'_>, at_most: i64) -> Result<Vec<ImportView>, StoreError> {
    let rows = sqlx::query!(
        r#"select i.id, i.characteristic_id, c.name as "into", i.file_name, i.file_digest, i.source, i.recipe,
                  i.key,
                  i.stated as "stated: Json<StatedTimes>", i.person_id, p.name as person_name, i.at, i.state, i.stored,
                  i.known, i.changed, i.refused, 
                  coalesce(j.done, t.done) as done, case when j.id is null then 2 * i.stored::bigint else j.total end as total,
                  i.state in ('staged', 'waiting') as "under_way!"
           from import i join characteristic c on c.id = i.characteristic_id join person p on p.id = i.person_id
           left join judging_again j on j.change -> 'import' ->> 'import' = i.id::text
           left join import_progress t on t.import_id = i.id
           where ($1::uuid is null or i.id = $1) and ($2::uuid is null or i.characteristic_id = $2)
             and ($3::text is null or i.source = $3) and ($4::text is null or i.file_digest = $4)
           order by i.at desc, i.id limit $5"#,
        which.id,
        which.list.map(|(characteristic, _)| characteristic),
        which.list.map(|(_, source)| source),
        which.file_digest,
        at_most
    );
    let each = rows.fetch_all(pool).await?.into_iter().map(|row| {
        Ok(ImportView {
            id: row.id,
            characteristic: row.characteristic_id,
            into: row.into,
            file_name: row.file_name,
            file_digest: row.file_digest,
            source: row.source,
            recipe: row.recipe,
            key: row.key,
            stated: row.stated.map(|stated| stated.0),
            person: row.person_id,
            person_name: row.person_name,
            at: row.at,
            state: word::value(row.state)?,
            stored: row.stored,
            known: row.known,
            changed: row.changed,
            refused: row.refused,
            done: row.done.filter(|_| row.under_way),
            to_do: row.total.filter(|_| row.under_way),
        })
    });
    each.collect()
}
