//! Notes on points.

use chrono::{DateTime, Utc};
use quality::field::text;
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;

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
    let mut act = Act::begin(pool).await?;
    let row = sqlx::query!("select characteristic_id, number from sample where id = $1 for no key update", sample)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Sample))?;
    let before = sqlx::query!("select id, sample_id, person_id, text from note where entry = $1", entry)
        .fetch_optional(act.conn())
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
    .execute(act.conn())
    .await
    .map_err(|error| {
        StoreError::of_constraint(error, |name| (name == "note_entry_once").then_some(StoreError::EntryReused))
    })?;
    let characteristic = row.characteristic_id;
    let deed = Deed::new(at, Some(person), Action::NoteWritten, id, &json!({"sample": row.number, "text": text}));
    act.did(characteristic, deed, News::Note { characteristic });
    act.commit().await?;
    Ok(id)
}
