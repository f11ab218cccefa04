//! Words that one shift leaves to the next.

use chrono::{DateTime, Utc};
use quality::field::text;
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// Words that somebody left.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct HandoverWord {
    pub id: Uuid,
    /// The area they are about; all where there is none.
    pub area: Option<String>,
    pub person: String,
    pub at: DateTime<Utc>,
    pub text: String,
}

/// Words to leave.
#[derive(Debug, Clone)]
pub struct NewWord {
    /// When the shift began that they are written for.
    pub shift_began: DateTime<Utc>,
    pub area: Option<Uuid>,
    pub person: Uuid,
    pub at: DateTime<Utc>,
    pub text: String,
    /// Made by the device.
    pub entry: Uuid,
}

/// Leaves words; the same entry twice leaves them once.
///
/// # Errors
/// When the text is blank or too long, the area is missing, or the entry id was used for other words.
#[compiled_once]
pub async fn write(pool: &PgPool, new: &NewWord) -> Result<Uuid, StoreError> {
    let text = text("text", &new.text)?;
    let mut act = Act::begin(pool).await?;
    let before =
        sqlx::query!("select id, shift_began, area_id, person_id, text from handover_word where entry = $1", new.entry)
            .fetch_optional(act.conn())
            .await?;
    if let Some(before) = before {
        let same = before.shift_began == new.shift_began
            && before.area_id == new.area
            && before.person_id == new.person
            && before.text == text;
        return if same { Ok(before.id) } else { Err(StoreError::EntryReused) };
    }
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into handover_word (id, shift_began, area_id, person_id, at, text, entry)
         values ($1, $2, $3, $4, $5, $6, $7)",
        id,
        new.shift_began,
        new.area,
        new.person,
        new.at,
        text,
        new.entry
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        StoreError::of_constraint(error, |name| match name {
            "handover_word_area_id_fkey" => Some(StoreError::Missing(ObjectKind::Area)),
            "handover_word_entry_once" => Some(StoreError::EntryReused),
            _ => None,
        })
    })?;
    let detail = json!({"shift": new.shift_began, "area": new.area, "text": text});
    act.did(SITE_CHAIN, Deed::new(new.at, Some(new.person), Action::HandoverWritten, id, &detail), News::Handover);
    act.commit().await?;
    Ok(id)
}

/// The words of a shift that concern stations: those of their areas, and those for all.
pub(super) async fn of_shift(
    conn: &mut PgConnection,
    shift_began: DateTime<Utc>,
    within: Option<&[Uuid]>,
) -> Result<Vec<HandoverWord>, StoreError> {
    Ok(sqlx::query_as!(
        HandoverWord,
        r#"select w.id, a.name as "area?", p.name as person, w.at, w.text
           from handover_word w join person p on p.id = w.person_id left join area a on a.id = w.area_id
           where w.shift_began = $1 and ($2::uuid[] is null or w.area_id is null
               or exists (select from station s where s.area_id = w.area_id and s.id = any($2)))
           order by w.at, w.id"#,
        shift_began,
        within
    )
    .fetch_all(conn)
    .await?)
}
