//! Sessions, and the count of tries to sign in. Both live in the database so that several
//! instances share them.

use chrono::{DateTime, Duration, Utc};
use quality::trail::Deed;
use quality::tries::{self, Tries};
use serde_json::Value;
use sqlx::PgPool;

use crate::StoreError;
use crate::act::Act;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// A try to sign in.
#[derive(Debug)]
pub enum Try {
    /// It is heard. It counts as one that does not fit until [`try_fitted`] takes it back.
    Heard(i64),
    /// There were too many: how long until the next is heard.
    Wait(Duration),
}

/// Records a try of `name` at `place`. The tries of one place queue, so that many at once are still
/// counted.
#[compiled_once]
pub async fn begin_try(pool: &PgPool, name: &str, place: &str, now: DateTime<Utc>) -> Result<Try, StoreError> {
    let name = name.to_lowercase();
    let mut act = Act::begin(pool).await?;
    sqlx::query!("select pg_advisory_xact_lock(hashtextextended($1, 0))", place).execute(act.conn()).await?;
    let since = now - tries::REMEMBERED;
    sqlx::query!("delete from sign_in_attempt where at < $1", since).execute(act.conn()).await?;
    let earlier = sqlx::query!(
        r#"select count(*) as "of_place!", max(at) as last_of_place,
                  count(*) filter (where login = $1) as "of_name!", max(at) filter (where login = $1) as last_of_name
           from sign_in_attempt where address = $2"#,
        name,
        place
    )
    .fetch_one(act.conn())
    .await?;
    let of_name = Tries { count: earlier.of_name, last: earlier.last_of_name };
    let of_place = Tries { count: earlier.of_place, last: earlier.last_of_place };
    if let Some(wait) = tries::wait(of_name, of_place, now) {
        return Ok(Try::Wait(wait));
    }
    let id = sqlx::query_scalar!(
        "insert into sign_in_attempt (login, address, at) values ($1, $2, $3) returning id",
        name,
        place,
        now
    )
    .fetch_one(act.conn())
    .await?;
    act.keep().await?;
    Ok(Try::Heard(id))
}

/// A try fitted: it no longer counts. Others still do.
#[compiled_once]
pub async fn try_fitted(pool: &PgPool, id: i64) -> Result<(), StoreError> {
    sqlx::query!("delete from sign_in_attempt where id = $1", id).execute(pool).await?;
    Ok(())
}

/// Tells the trail who signed in or out, or tried to.
#[compiled_once]
pub async fn record(pool: &PgPool, deed: Deed) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    act.did_unseen(SITE_CHAIN, deed);
    act.commit().await
}

/// Begins a session; `false` when its token is taken. Only the hash of the token is stored.
#[compiled_once]
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
#[compiled_once]
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
#[compiled_once]
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
#[compiled_once]
pub async fn end_session(pool: &PgPool, token_hash: &[u8]) -> Result<(), StoreError> {
    sqlx::query!("delete from session where token_hash = $1", token_hash).execute(pool).await?;
    Ok(())
}

/// Clears away sessions that have expired.
#[compiled_once]
pub async fn end_expired_sessions(pool: &PgPool, now: DateTime<Utc>) -> Result<u64, StoreError> {
    Ok(sqlx::query!("delete from session where expires_at <= $1", now).execute(pool).await?.rows_affected())
}
