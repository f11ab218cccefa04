//! Notes on points.

use chrono::{DateTime, Utc};
use quality::signal::text;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use crate::news::{News, tell};
use crate::{StoreError, trail};

/// Writes a note on a sample.
///
/// # Errors
/// When the sample is missing, or the text is blank or too long.
pub async fn write(
    pool: &PgPool,
    sample: Uuid,
    person: Uuid,
    at: DateTime<Utc>,
    given: &str,
) -> Result<Uuid, StoreError> {
    let text = text("text", given)?;
    let mut tx = pool.begin().await?;
    let row = sqlx::query!("select characteristic_id, number from sample where id = $1", sample)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(StoreError::Missing("sample"))?;
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into note (id, sample_id, person_id, at, text) values ($1, $2, $3, $4, $5)",
        id,
        sample,
        person,
        at,
        text
    )
    .execute(&mut *tx)
    .await?;
    let deed = Deed::new(at, Some(person), Action::NoteWritten, id, &json!({"sample": row.number, "text": text}));
    trail::append(&mut tx, row.characteristic_id, &[deed]).await?;
    tell(&mut tx, News::Note { characteristic: row.characteristic_id }).await?;
    tx.commit().await?;
    Ok(id)
}
