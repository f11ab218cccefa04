//! The data that an answer is found from, and what has happened to them since.

use quality::study::{DataState, Since};
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;

/// Of these characteristics, as they are now. The cost does not depend on their history.
pub(super) async fn state(conn: &mut PgConnection, of: &[Uuid]) -> Result<DataState, StoreError> {
    let rows = sqlx::query!(
        r#"select c.id, h.next_number - 1 as "samples!", t.position,
                  (select max(taken_at) from sample where characteristic_id = c.id) as newest
           from characteristic c
           join sample_head h on h.characteristic_id = c.id
           join trail_head t on t.chain = c.id
           where c.id = any($1)"#,
        of
    )
    .fetch_all(conn)
    .await?;
    Ok(DataState {
        samples: rows.iter().map(|row| row.samples).sum(),
        newest: rows.iter().filter_map(|row| row.newest).max(),
        trails: rows.iter().map(|row| (row.id, row.position)).collect(),
    })
}

/// What has happened since, as the trail tells it; nothing where the data are as they were.
pub(super) async fn since(conn: &mut PgConnection, then: &DataState) -> Result<Option<Since>, StoreError> {
    let (chains, positions): (Vec<Uuid>, Vec<i64>) = then.trails.iter().map(|(chain, at)| (*chain, *at)).unzip();
    let row = sqlx::query!(
        r#"select count(*) filter (where t.action in ('sample_saved', 'sample_skipped')) as "samples!",
                  count(*) filter (where t.action not in ('sample_saved', 'sample_skipped') and t.person_id is not null)
                      as "others!",
                  coalesce(bool_or(t.action = 'characteristic_changed'), false) as "set_up!"
           from unnest($1::uuid[], $2::bigint[]) as known (chain, position)
           join trail t on t.chain = known.chain and t.position > known.position"#,
        &chains,
        &positions
    )
    .fetch_one(conn)
    .await?;
    let since = Since { samples: row.samples, others: row.others, set_up: row.set_up };
    Ok((since != Since::default()).then_some(since))
}
