//! That a device was heard, and what of it was refused.

use chrono::{DateTime, Utc};
use quality::device::Reason;
use sqlx::PgPool;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::{StoreError, word};

/// A device was heard, and so many values or samples were taken from it.
#[compiled_once]
pub async fn heard(pool: &PgPool, device: Uuid, at: DateTime<Utc>, accepted: usize) -> Result<(), StoreError> {
    sqlx::query!(
        "update device set heard_at = greatest(heard_at, $2), accepted = accepted + $3 where id = $1",
        device,
        at,
        accepted as i64
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Longest text of a refusal that is kept.
const LAST_AT_MOST: usize = 200;

/// Counts what was refused of a device.
#[compiled_once]
pub async fn refuse(
    pool: &PgPool,
    device: Uuid,
    at: DateTime<Utc>,
    reason: Reason,
    count: usize,
    last: &str,
) -> Result<(), StoreError> {
    // The database keeps no zero character, and what cannot be shown says nothing.
    let shown: String = last.chars().map(|c| if c.is_control() { '·' } else { c }).take(LAST_AT_MOST).collect();
    sqlx::query!(
        "insert into device_refusal as old (device_id, reason, count, last_at, last) values ($1, $2, $3, $4, $5)
         on conflict (device_id, reason) do update
         set count = old.count + excluded.count, last_at = excluded.last_at, last = excluded.last",
        device,
        word::word(reason)?,
        count as i64,
        at,
        shown
    )
    .execute(pool)
    .await?;
    Ok(())
}
