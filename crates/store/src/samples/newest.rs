//! The newest sample of a characteristic, which its head tells.

use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;

/// Looks for it anew: it was withdrawn, or many came at once. Who saves a single one tells it at the same time.
pub(crate) async fn newest_anew(conn: &mut PgConnection, characteristic: Uuid) -> Result<(), StoreError> {
    sqlx::query!(
        "update sample_head set (newest_at, newest_pieces) = (
             select taken_at, pieces_made from sample where characteristic_id = $1 and withdrawn_at is null
             order by taken_at desc, number desc limit 1)
         where characteristic_id = $1",
        characteristic
    )
    .execute(conn)
    .await?;
    Ok(())
}
