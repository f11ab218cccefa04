//! That somebody has read what was handed over.

use chrono::{DateTime, Utc};
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// Keeps that a person has read the handover of a shift, with the episodes that stood open before them; who says so
/// again has said it already.
#[compiled_once]
pub async fn confirm(
    pool: &PgPool,
    shift_began: DateTime<Utc>,
    open: &[Uuid],
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    let id = Uuid::new_v4();
    let kept = sqlx::query!(
        "insert into handover_read (id, shift_began, person_id, at, open) values ($1, $2, $3, $4, $5)
         on conflict (shift_began, person_id) do nothing",
        id,
        shift_began,
        person,
        at,
        open
    )
    .execute(act.conn())
    .await?;
    if kept.rows_affected() == 0 {
        return Ok(());
    }
    let detail = json!({"shift": shift_began, "open": open});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::HandoverRead, id, &detail), News::Handover);
    act.commit().await
}
