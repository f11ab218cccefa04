//! Which stretch of a chart is asked for, as ranks.

use quality::object::ObjectKind;
use sqlx::PgConnection;
use uuid::Uuid;

use super::types::Asked;
use crate::StoreError;
use crate::series::Rank;

/// After a sample that a chart ends at, so many are shown beside it: a pattern is seen in its surroundings.
const AFTER_IT: i64 = 4;

/// The first and the last rank of what is asked for, where it says so.
pub(super) async fn ranks(
    conn: &mut PgConnection,
    id: Uuid,
    asked: &Asked,
) -> Result<(Option<Rank>, Option<Rank>), StoreError> {
    let from = match asked.from {
        Some(number) => Some(rank_of(conn, id, number).await?),
        None => None,
    };
    let to = match asked.to {
        Some(number) => Some(rank_of(conn, id, number).await?),
        None => None,
    };
    let until = match asked.until {
        Some(sample) => some_after(conn, id, sample).await?,
        None => None,
    };
    // Numbers begin at 1: nothing of that time itself, and all of it.
    let (since, before) = (asked.since.map(|at| (at, 0)), asked.before.map(|at| (at, 0)));
    Ok((from.max(since), [to, before, until].into_iter().flatten().min()))
}

async fn rank_of(conn: &mut PgConnection, id: Uuid, number: i64) -> Result<Rank, StoreError> {
    let at =
        sqlx::query_scalar!("select taken_at from sample where characteristic_id = $1 and number = $2", id, number)
            .fetch_optional(conn)
            .await?;
    Ok((at.ok_or(StoreError::Missing(ObjectKind::Sample))?, number))
}

/// The rank of the last of those shown after a sample; nothing where there are fewer.
async fn some_after(conn: &mut PgConnection, id: Uuid, sample: Uuid) -> Result<Option<Rank>, StoreError> {
    let row = sqlx::query!(
        "select taken_at, number from sample
         where characteristic_id = $1 and taken_at > (select taken_at from sample where id = $2 and characteristic_id = $1)
         order by taken_at, number offset $3 limit 1",
        id,
        sample,
        AFTER_IT
    )
    .fetch_optional(conn)
    .await?;
    // All of its time.
    Ok(row.map(|row| (row.taken_at, i64::MAX)))
}
