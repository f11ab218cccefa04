//! What an administrator sees of accounts and does with them; nothing is taken from their history.

use chrono::{DateTime, Utc};
use quality::account::{Account, may_lose_administrator};
use quality::object::ObjectKind;
use quality::role::Role;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::add::belong;
use crate::act::Act;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// The account of a person.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct AccountView {
    pub id: Uuid,
    /// The name to sign in with.
    pub login: String,
    #[serde(flatten)]
    pub account: Account,
    /// Counts its changes.
    pub version: i32,
    /// Signs in; nobody does with an account that is closed.
    pub active: bool,
    /// Has not yet chosen a password of their own.
    pub password_is_first: bool,
    pub has_pin: bool,
    pub has_badge: bool,
    /// Sessions that go on.
    pub sessions: i64,
}

/// All accounts, closed ones last.
#[compiled_once]
pub async fn accounts(pool: &PgPool, now: DateTime<Utc>) -> Result<Vec<AccountView>, StoreError> {
    let rows = sqlx::query!(
        r#"select p.id, p.login, p.name, p.role, p.bound, p.version, p.active, p.password_is_first,
                  p.pin_hash is not null as "has_pin!", p.badge is not null as "has_badge!",
                  array(select area_id from belonging where person_id = p.id and area_id is not null order by 1) as "areas!: Vec<Uuid>",
                  array(select station_id from belonging where person_id = p.id and station_id is not null order by 1) as "stations!: Vec<Uuid>",
                  (select count(*) from session s where s.data->>'person' = p.id::text and s.expires_at > $1) as "sessions!"
           from person p where p.role <> 'device' order by not p.active, p.name, p.login"#,
        now
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    rows.map(|row| {
        let role = word::value(row.role)?;
        let account = Account { name: row.name, role, areas: row.areas, stations: row.stations, bound: row.bound };
        Ok(AccountView {
            id: row.id,
            login: row.login,
            account,
            version: row.version,
            active: row.active,
            password_is_first: row.password_is_first,
            has_pin: row.has_pin,
            has_badge: row.has_badge,
            sessions: row.sessions,
        })
    })
    .collect()
}

/// An account, held until the act ends.
async fn hold(conn: &mut PgConnection, person: Uuid) -> Result<(Account, i32, bool), StoreError> {
    let row = sqlx::query!(
        "select name, role, bound, version, active from person where id = $1 and role <> 'device' for update",
        person
    )
    .fetch_optional(&mut *conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Person))?;
    let places = sqlx::query!("select area_id, station_id from belonging where person_id = $1 order by 1, 2", person);
    let (mut areas, mut stations) = (vec![], vec![]);
    for place in places.fetch_all(conn).await? {
        areas.extend(place.area_id);
        stations.extend(place.station_id);
    }
    let account = Account { name: row.name, role: word::value(row.role)?, areas, stations, bound: row.bound };
    Ok((account, row.version, row.active))
}

/// Whether there are administrators beside this person.
async fn others_look_after_people(conn: &mut PgConnection, person: Uuid) -> Result<(), StoreError> {
    // Those who act on administrators at once queue here, so that the last two do not both go.
    let others =
        sqlx::query_scalar!("select id from person where role = 'administrator' and active order by id for update")
            .fetch_all(conn)
            .await?;
    let others = others.into_iter().filter(|other| *other != person).count();
    Ok(may_lose_administrator(i64::try_from(others).unwrap_or(i64::MAX))?)
}

/// Changes an account; `version` is the one that was seen.
///
/// # Errors
/// When it is missing, was changed since, cannot be so, or nobody would be left to look after people.
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    person: Uuid,
    version: i32,
    account: Account,
    by: (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let new = account.accept()?;
    let mut act = Act::begin(pool).await?;
    if new.role != Role::Administrator {
        others_look_after_people(act.conn(), person).await?;
    }
    let (old, now, _) = hold(act.conn(), person).await?;
    same_version(ObjectKind::Person, version, now)?;
    sqlx::query!(
        "update person set name = $2, role = $3, bound = $4, version = version + 1 where id = $1",
        person,
        new.name,
        word::word(new.role)?,
        new.bound
    )
    .execute(act.conn())
    .await?;
    belong(act.conn(), person, &new).await?;
    did(&mut act, by, Action::PersonChanged, person, json!({"old": old, "new": new}));
    act.commit().await
}

fn did(act: &mut Act, (by, at): (Uuid, DateTime<Utc>), action: Action, person: Uuid, detail: Value) {
    act.did_unseen(SITE_CHAIN, Deed::new(at, Some(by), action, person, &detail));
}

/// Closes an account: nobody signs in with it, and what was done in its name stays.
///
/// # Errors
/// When it is missing, closed already, or nobody would be left to look after people.
#[compiled_once]
pub async fn close(pool: &PgPool, person: Uuid, by: (Uuid, DateTime<Utc>)) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    others_look_after_people(act.conn(), person).await?;
    set_active(&mut act, person, false).await?;
    // The badge may be given to somebody else; at the terminals only a password would be heard again.
    sqlx::query!("update person set pin_hash = null, badge = null where id = $1", person).execute(act.conn()).await?;
    sqlx::query!("delete from terminal_person where person_id = $1", person).execute(act.conn()).await?;
    end_all(act.conn(), person, None).await?;
    did(&mut act, by, Action::PersonClosed, person, json!({}));
    act.commit().await
}

/// Opens a closed account again, with a password that is given.
///
/// # Errors
/// When it is missing, or is not closed.
#[compiled_once]
pub async fn reopen(
    pool: &PgPool,
    person: Uuid,
    password_hash: &str,
    by: (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    set_active(&mut act, person, true).await?;
    write_password(act.conn(), person, password_hash, true).await?;
    did(&mut act, by, Action::PersonReopened, person, json!({}));
    act.commit().await
}

async fn set_active(act: &mut Act, person: Uuid, active: bool) -> Result<(), StoreError> {
    let (_, _, was) = hold(act.conn(), person).await?;
    if was == active {
        return Err(quality::version::Changed(ObjectKind::Person).into());
    }
    sqlx::query!("update person set active = $2, version = version + 1 where id = $1", person, active)
        .execute(act.conn())
        .await?;
    Ok(())
}

/// Gives a person a new first password; their sessions end.
///
/// # Errors
/// When the account is missing or closed.
#[compiled_once]
pub async fn give_password(
    pool: &PgPool,
    person: Uuid,
    password_hash: &str,
    by: (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    open(&mut act, person).await?;
    write_password(act.conn(), person, password_hash, true).await?;
    end_all(act.conn(), person, None).await?;
    did(&mut act, by, Action::PasswordReset, person, json!({}));
    act.commit().await
}

/// Takes PIN and badge away; only the password is heard until new ones are set.
///
/// # Errors
/// When the account is missing or closed.
#[compiled_once]
pub async fn take_pin_away(pool: &PgPool, person: Uuid, by: (Uuid, DateTime<Utc>)) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    open(&mut act, person).await?;
    sqlx::query!("update person set pin_hash = null, pin_tries = 0, badge = null where id = $1", person)
        .execute(act.conn())
        .await?;
    did(&mut act, by, Action::PinReset, person, json!({}));
    act.commit().await
}

/// Ends the sessions of a person.
///
/// # Errors
/// When the account is missing or closed.
#[compiled_once]
pub async fn end_sessions(pool: &PgPool, person: Uuid, by: (Uuid, DateTime<Utc>)) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    open(&mut act, person).await?;
    let ended = end_all(act.conn(), person, None).await?;
    did(&mut act, by, Action::SessionsEnded, person, json!({"sessions": ended}));
    act.commit().await
}

/// Keeps the password that a person has chosen; their sessions but this one end.
#[compiled_once]
pub async fn set_password(
    pool: &PgPool,
    person: Uuid,
    password_hash: &str,
    session: &[u8],
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    open(&mut act, person).await?;
    write_password(act.conn(), person, password_hash, false).await?;
    end_all(act.conn(), person, Some(session)).await?;
    did(&mut act, (person, at), Action::PasswordChanged, person, json!({}));
    act.commit().await
}

/// An account that is not closed.
async fn open(act: &mut Act, person: Uuid) -> Result<(), StoreError> {
    let (_, _, active) = hold(act.conn(), person).await?;
    if active { Ok(()) } else { Err(StoreError::Missing(ObjectKind::Person)) }
}

async fn write_password(conn: &mut PgConnection, person: Uuid, hash: &str, first: bool) -> Result<(), StoreError> {
    sqlx::query!("update person set password_hash = $2, password_is_first = $3 where id = $1", person, hash, first)
        .execute(conn)
        .await?;
    Ok(())
}

async fn end_all(conn: &mut PgConnection, person: Uuid, but: Option<&[u8]>) -> Result<u64, StoreError> {
    let ended = sqlx::query!(
        "delete from session where data->>'person' = $1 and token_hash is distinct from $2",
        person.to_string(),
        but
    );
    Ok(ended.execute(conn).await?.rows_affected())
}
