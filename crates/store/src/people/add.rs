//! A person who is added.

use chrono::{DateTime, Utc};
use quality::account::Account;
use quality::field::name;
use quality::setup::SetUpRefusal;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use crate::act::Act;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// A person to add.
#[derive(Debug, Clone)]
pub struct NewPerson<'a> {
    /// The name to sign in with, in any case.
    pub login: &'a str,
    pub account: Account,
    pub password_hash: &'a str,
    /// It was given to them, and they have to choose one of their own.
    pub password_is_first: bool,
}

/// Adds a person; `by` is nobody where it is done from the command line.
///
/// # Errors
/// When the sign-in or the account cannot be, somebody signs in so already, or a place is missing.
pub async fn add(pool: &PgPool, new: NewPerson<'_>, by: Option<Uuid>, at: DateTime<Utc>) -> Result<Uuid, StoreError> {
    let (login, account) = (name("login", new.login)?.to_lowercase(), new.account.accept()?);
    let mut act = Act::begin(pool).await?;
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into person (id, login, name, role, bound, password_hash, password_is_first)
         values ($1, $2, $3, $4, $5, $6, $7)",
        id,
        login,
        account.name,
        word::word(account.role)?,
        account.bound,
        new.password_hash,
        new.password_is_first
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        let taken = |name: &str| (name == "person_login_key").then_some(SetUpRefusal::Taken("login").into());
        StoreError::of_constraint(error, taken)
    })?;
    belong(act.conn(), id, &account).await?;
    let mut detail = serde_json::to_value(&account)?;
    detail["login"] = json!(login);
    act.did_unseen(SITE_CHAIN, Deed::new(at, by, Action::PersonAdded, id, &detail));
    act.commit().await?;
    Ok(id)
}

/// Lets a person belong where their account says.
///
/// # Errors
/// When there is no such area or station.
pub(super) async fn belong(conn: &mut PgConnection, person: Uuid, account: &Account) -> Result<(), StoreError> {
    use quality::object::ObjectKind::{Area, Station};
    sqlx::query!("delete from belonging where person_id = $1", person).execute(&mut *conn).await?;
    sqlx::query!(
        "insert into belonging (person_id, area_id, station_id)
         select $1::uuid, area, null::uuid from unnest($2::uuid[]) area
         union all select $1::uuid, null, station from unnest($3::uuid[]) station",
        person,
        &account.areas,
        &account.stations
    )
    .execute(conn)
    .await
    .map_err(|error| {
        StoreError::of_constraint(error, |name| match name {
            "belonging_area_id_fkey" => Some(StoreError::Missing(Area)),
            "belonging_station_id_fkey" => Some(StoreError::Missing(Station)),
            _ => None,
        })
    })?;
    Ok(())
}
