//! Sessions, and the count of tries to sign in. Both live in the database so that several
//! instances share them.

use chrono::{DateTime, Duration, Utc};
use serde_json::Value;
use sqlx::PgPool;

use crate::StoreError;

/// Tries allowed for one name and address within [`attempt_window`].
pub const ATTEMPTS_AT_MOST: i64 = 10;

/// Tries older than this are forgotten.
pub fn attempt_window() -> Duration {
    Duration::minutes(5)
}

/// Records a try to sign in. `Some(wait)` when there were too many: how long until the next is
/// heard. The tries of one name and address queue, so that many at once are still counted.
pub async fn try_sign_in(
    pool: &PgPool,
    login: &str,
    address: &str,
    now: DateTime<Utc>,
) -> Result<Option<Duration>, StoreError> {
    let login = login.to_lowercase();
    let since = now - attempt_window();
    let mut tx = pool.begin().await?;
    sqlx::query!("select pg_advisory_xact_lock(hashtextextended($1 || ' ' || $2, 0))", login, address)
        .execute(&mut *tx)
        .await?;
    sqlx::query!("delete from sign_in_attempt where at < $1", since).execute(&mut *tx).await?;
    let earlier = sqlx::query!(
        r#"select count(*) as "count!", min(at) as first from sign_in_attempt where login = $1 and address = $2"#,
        login,
        address
    )
    .fetch_one(&mut *tx)
    .await?;
    let wait = earlier.first.filter(|_| earlier.count >= ATTEMPTS_AT_MOST).map(|first| first + attempt_window() - now);
    if wait.is_none() {
        sqlx::query!("insert into sign_in_attempt (login, address, at) values ($1, $2, $3)", login, address, now)
            .execute(&mut *tx)
            .await?;
    }
    tx.commit().await?;
    Ok(wait)
}

/// Forgets the tries of a name and address after a success.
pub async fn forget_attempts(pool: &PgPool, login: &str, address: &str) -> Result<(), StoreError> {
    let login = login.to_lowercase();
    sqlx::query!("delete from sign_in_attempt where login = $1 and address = $2", login, address).execute(pool).await?;
    Ok(())
}

/// Begins a session; `false` when its token is taken. Only the hash of the token is stored.
pub async fn begin_session(
    pool: &PgPool,
    token_hash: &[u8],
    data: &Value,
    expires_at: DateTime<Utc>,
) -> Result<bool, StoreError> {
    let begun = sqlx::query!(
        "insert into session (token_hash, data, expires_at) values ($1, $2, $3) on conflict do nothing",
        token_hash,
        data,
        expires_at
    )
    .execute(pool)
    .await?;
    Ok(begun.rows_affected() == 1)
}

/// Keeps what has changed in a session; one that was ended meanwhile stays ended.
pub async fn save_session(
    pool: &PgPool,
    token_hash: &[u8],
    data: &Value,
    expires_at: DateTime<Utc>,
) -> Result<(), StoreError> {
    sqlx::query!("update session set data = $2, expires_at = $3 where token_hash = $1", token_hash, data, expires_at)
        .execute(pool)
        .await?;
    Ok(())
}

/// The data of a session that has not expired, with its expiry.
pub async fn session(
    pool: &PgPool,
    token_hash: &[u8],
    now: DateTime<Utc>,
) -> Result<Option<(Value, DateTime<Utc>)>, StoreError> {
    let row =
        sqlx::query!("select data, expires_at from session where token_hash = $1 and expires_at > $2", token_hash, now)
            .fetch_optional(pool)
            .await?;
    Ok(row.map(|row| (row.data, row.expires_at)))
}

/// Ends a session.
pub async fn end_session(pool: &PgPool, token_hash: &[u8]) -> Result<(), StoreError> {
    sqlx::query!("delete from session where token_hash = $1", token_hash).execute(pool).await?;
    Ok(())
}

/// Clears away sessions that have expired.
pub async fn end_expired_sessions(pool: &PgPool, now: DateTime<Utc>) -> Result<u64, StoreError> {
    Ok(sqlx::query!("delete from session where expires_at <= $1", now).execute(pool).await?.rows_affected())
}
