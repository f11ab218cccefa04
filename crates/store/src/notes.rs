//! Notes on points.

use chrono::{DateTime, Utc};
use quality::signal::text;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use crate::news::{News, tell};
use crate::{StoreError, trail};

/// Writes a note on a sample; the same entry twice keeps one.
///
/// # Errors
/// When the sample is missing, the text is blank or too long, or the entry id was used for another note.
pub async fn write(
    pool: &PgPool,
    sample: Uuid,
    person: Uuid,
    at: DateTime<Utc>,
    entry: Uuid,
    given: &str,
) -> Result<Uuid, StoreError> {
    let text = text("text", given)?;
    let mut tx = pool.begin().await?;
    let row = sqlx::query!("select characteristic_id, number from sample where id = $1 for no key update", sample)
        .fetch_optional(&mut *tx)
        .await?
        .ok_or(StoreError::Missing("sample"))?;
    let before = sqlx::query!("select id, sample_id, person_id, text from note where entry = $1", entry)
        .fetch_optional(&mut *tx)
        .await?;
    if let Some(before) = before {
        let same = before.sample_id == sample && before.person_id == person && before.text == text;
        return if same { Ok(before.id) } else { Err(StoreError::EntryReused) };
    }
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into note (id, sample_id, person_id, at, text, entry) values ($1, $2, $3, $4, $5, $6)",
        id,
        sample,
        person,
        at,
        text,
        entry
    )
    .execute(&mut *tx)
    .await
    .map_err(|error| match error.as_database_error().and_then(|e| e.constraint()) {
        Some("note_entry_once") => StoreError::EntryReused,
        _ => error.into(),
    })?;
    let deed = Deed::new(at, Some(person), Action::NoteWritten, id, &json!({"sample": row.number, "text": text}));
    trail::append(&mut tx, row.characteristic_id, &[deed]).await?;
    tell(&mut tx, News::Note { characteristic: row.characteristic_id }).await?;
    tx.commit().await?;
    Ok(id)
}
