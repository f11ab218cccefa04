//! What stood there before the trail told of it, written down once.

use chrono::Utc;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;

use super::append::{SITE_CHAIN, append};
use crate::StoreError;

/// Writes down once, in the site's chain, what was there before the trail told of it: chains, people with
/// their roles, limits that were given. On a new database that is nothing.
pub(crate) async fn record_state(pool: &PgPool) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    // Instances that start at once queue at the end of the site's chain.
    sqlx::query!("select 1 as one from trail_head where chain = $1 for update", SITE_CHAIN).fetch_one(&mut *tx).await?;
    let recorded = sqlx::query_scalar!(
        r#"select exists (select from trail where chain = $1 and action = 'state_recorded') as "recorded!""#,
        SITE_CHAIN
    )
    .fetch_one(&mut *tx)
    .await?;
    if recorded {
        return Ok(());
    }
    sqlx::query!(
        "insert into trail_head (chain, position, hash) select id, 0, '' from characteristic on conflict do nothing"
    )
    .execute(&mut *tx)
    .await?;
    let chains = sqlx::query_scalar!("select chain from trail_head where chain <> $1 order by chain", SITE_CHAIN)
        .fetch_all(&mut *tx)
        .await?;
    let people: Vec<_> = sqlx::query!("select id, login, role from person order by id")
        .fetch_all(&mut *tx)
        .await?
        .into_iter()
        .map(|row| json!({"id": row.id, "login": row.login, "role": row.role}))
        .collect();
    let limits: Vec<_> = sqlx::query!("select id, center, sigma from limits where state <> 'trial' order by id")
        .fetch_all(&mut *tx)
        .await?
        .into_iter()
        .map(|row| json!({"id": row.id, "center": row.center, "sigma": row.sigma}))
        .collect();
    let detail = json!({"chains": chains, "people": people, "limits": limits});
    let deed = Deed::new(Utc::now(), None, Action::StateRecorded, SITE_CHAIN, &detail);
    append(&mut tx, SITE_CHAIN, &[deed]).await?;
    Ok(tx.commit().await?)
}
