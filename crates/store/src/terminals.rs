//! Shared terminals: who may take one over, by PIN or by badge.

use chrono::{DateTime, Utc};
use quality::pin::PIN_TRIES;
use quality::setup::SetUpRefusal;
use serde::Serialize;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// Somebody who can take a terminal over.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TerminalPerson {
    pub id: Uuid,
    /// The name to show.
    pub name: String,
    /// Has set a PIN.
    pub has_pin: bool,
}

/// A person signed in by password at a terminal: it trusts them from now on, and their PIN has all
/// its tries again.
#[compiled_once]
pub async fn trust(pool: &PgPool, terminal: &[u8], person: Uuid, at: DateTime<Utc>) -> Result<(), StoreError> {
    sqlx::query!(
        "with fresh as (update person set pin_tries = 0 where id = $2)
         insert into terminal_person (terminal_hash, person_id, since) values ($1, $2, $3)
         on conflict (terminal_hash, person_id) do update set since = excluded.since",
        terminal,
        person,
        at
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Those who signed in by password at a terminal before, by name.
#[compiled_once]
pub async fn known(pool: &PgPool, terminal: &[u8]) -> Result<Vec<TerminalPerson>, StoreError> {
    Ok(sqlx::query_as!(
        TerminalPerson,
        r#"select p.id, p.name, p.pin_hash is not null as "has_pin!"
           from terminal_person t join person p on p.id = t.person_id
           where t.terminal_hash = $1 and p.active order by p.name"#,
        terminal
    )
    .fetch_all(pool)
    .await?)
}

/// Whether a terminal knows somebody who signs in by this name, or, without one, anybody.
#[compiled_once]
pub async fn knows(pool: &PgPool, terminal: &[u8], login: Option<&str>) -> Result<bool, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"select exists (select from terminal_person t join person p on p.id = t.person_id
                          where t.terminal_hash = $1 and p.active and ($2::text is null or p.login = lower($2)))
               as "knows!""#,
        terminal,
        login
    )
    .fetch_one(pool)
    .await?)
}

/// A try at a PIN.
#[derive(Debug)]
pub enum PinTry {
    /// It may be checked against this hash; so many tries are left if it does not fit.
    Check(String, i32),
    /// Too many did not fit: only the password helps.
    Blocked,
    /// The person has no PIN, or is not known at this terminal.
    Unknown,
}

/// Counts a try at the PIN of a person before it is checked, so that many at once are still counted.
#[compiled_once]
pub async fn try_pin(pool: &PgPool, terminal: &[u8], person: Uuid) -> Result<PinTry, StoreError> {
    let row = sqlx::query!(
        r#"update person set pin_tries = least(pin_tries + 1, $3 + 1)
           where id = $2 and active and pin_hash is not null
               and exists (select from terminal_person where terminal_hash = $1 and person_id = $2)
           returning pin_hash as "hash!", pin_tries"#,
        terminal,
        person,
        PIN_TRIES
    )
    .fetch_optional(pool)
    .await?;
    Ok(match row {
        None => PinTry::Unknown,
        Some(row) if row.pin_tries > PIN_TRIES => PinTry::Blocked,
        Some(row) => PinTry::Check(row.hash, PIN_TRIES - row.pin_tries),
    })
}

/// The PIN fitted: its tries are forgotten.
#[compiled_once]
pub async fn pin_fitted(pool: &PgPool, person: Uuid) -> Result<(), StoreError> {
    sqlx::query!("update person set pin_tries = 0 where id = $1", person).execute(pool).await?;
    Ok(())
}

/// The active person with this badge, where they are known at the terminal.
#[compiled_once]
pub async fn by_badge(pool: &PgPool, terminal: &[u8], badge: &str) -> Result<Option<Uuid>, StoreError> {
    Ok(sqlx::query_scalar!(
        "select p.id
         from person p join terminal_person t on t.person_id = p.id and t.terminal_hash = $1
         where p.badge = upper($2) and p.active",
        terminal,
        badge
    )
    .fetch_optional(pool)
    .await?)
}

/// Keeps the hash of a new PIN.
#[compiled_once]
pub async fn set_pin(pool: &PgPool, person: Uuid, pin_hash: &str) -> Result<(), StoreError> {
    sqlx::query!("update person set pin_hash = $2, pin_tries = 0 where id = $1", person, pin_hash)
        .execute(pool)
        .await?;
    Ok(())
}

/// Keeps a badge number; `None` takes it away.
///
/// # Errors
/// When it is somebody else's.
#[compiled_once]
pub async fn set_badge(pool: &PgPool, person: Uuid, badge: Option<&str>) -> Result<(), StoreError> {
    sqlx::query!("update person set badge = upper($2) where id = $1", person, badge).execute(pool).await.map_err(
        |error| {
            StoreError::of_constraint(error, |name| {
                (name == "person_badge_key").then_some(SetUpRefusal::Taken("badge").into())
            })
        },
    )?;
    Ok(())
}
