//! Imports whose server ended while it copied their samples.

use chrono::{DateTime, Duration, Utc};
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// So long after it began an import that nobody copies is given up.
const GIVEN_UP_AFTER: Duration = Duration::minutes(1);

/// Says, until the transaction ends, that an import's samples are being copied.
pub(super) async fn copying(conn: &mut PgConnection, import: Uuid) -> Result<(), StoreError> {
    sqlx::query!("select pg_advisory_xact_lock(hashtextextended($1, 0))", import.to_string()).execute(conn).await?;
    Ok(())
}

/// Ends what nobody copies any more; nothing of it is there. Gives how many there were.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn end_abandoned(pool: &PgPool, now: DateTime<Utc>) -> Result<u64, StoreError> {
    let ended = sqlx::query!(
        "update import set state = 'failed', ended_at = $1
         where state = 'staged' and at < $2 and pg_try_advisory_xact_lock(hashtextextended(id::text, 0))",
        now,
        now - GIVEN_UP_AFTER
    );
    Ok(ended.execute(pool).await?.rows_affected())
}
