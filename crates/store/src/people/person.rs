//! Who somebody is.

use chrono::{DateTime, Utc};
use quality::note::may_be_mentioned;
use quality::role::Role;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::{StoreError, word};

/// A person.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Person {
    pub id: Uuid,
    /// The name to sign in with.
    pub login: String,
    /// The name to show.
    pub name: String,
    /// The part the person plays.
    pub role: Role,
    /// The stations that are theirs, by themselves or by their area; where there is none, they belong nowhere in
    /// particular.
    pub stations: Vec<Uuid>,
    /// Enters samples at those alone.
    pub bound: bool,
    /// Was given a password, and has to choose one before anything else.
    pub password_is_first: bool,
}

impl Person {
    /// The stations that they are kept to in all that they see; nothing where they see everything.
    pub fn sees_only(&self) -> Option<&[Uuid]> {
        (self.role == Role::Reader).then_some(&self.stations)
    }

    /// The stations that a list is kept to: those they are kept to, or, where only what is `mine` is asked for, their
    /// own, where they belong somewhere.
    pub fn looks_at(&self, mine: bool) -> Option<&[Uuid]> {
        self.sees_only().or((mine && !self.stations.is_empty()).then_some(self.stations.as_slice()))
    }
}

/// What proves who somebody is.
#[derive(Debug)]
pub struct Credentials {
    pub person: Uuid,
    /// Argon2id, in PHC string form.
    pub password_hash: String,
}

/// The active person who signs in as `login`, whatever its case.
#[compiled_once]
pub async fn credentials(pool: &PgPool, login: &str) -> Result<Option<Credentials>, StoreError> {
    Ok(sqlx::query_as!(
        Credentials,
        "select id as person, password_hash from person where login = lower($1) and active",
        login
    )
    .fetch_optional(pool)
    .await?)
}

/// The active person with this id.
#[compiled_once]
pub async fn find(pool: &PgPool, id: Uuid) -> Result<Option<Person>, StoreError> {
    let of = Whose { id: Some(id), session: None };
    of.find(pool).await
}

/// The active person of a session that has not expired: what its data say under `key`. With the session in one trip, since
/// each request asks it.
#[compiled_once]
pub async fn of_session(
    pool: &PgPool,
    token_hash: &[u8],
    key: &str,
    now: DateTime<Utc>,
) -> Result<Option<Person>, StoreError> {
    let of = Whose { id: None, session: Some((token_hash, key, now)) };
    of.find(pool).await
}

/// Who is looked for.
struct Whose<'a> {
    id: Option<Uuid>,
    session: Option<(&'a [u8], &'a str, DateTime<Utc>)>,
}

impl Whose<'_> {
    async fn find(self, pool: &PgPool) -> Result<Option<Person>, StoreError> {
        sqlx::query!(
            r#"select p.id, p.login, p.name, p.role, p.bound, p.password_is_first,
                      array(select s.id from station s where exists (
                          select from belonging b
                          where b.person_id = p.id and (b.station_id = s.id or b.area_id = s.area_id))
                      ) as "stations!"
               from person p
               where p.active and p.id = coalesce($1, (
                   select (data ->> $3)::uuid from session where token_hash = $2 and expires_at > $4))"#,
            self.id,
            self.session.map(|(token_hash, ..)| token_hash),
            self.session.map(|(_, key, _)| key),
            self.session.map(|(.., now)| now)
        )
        .fetch_optional(pool)
        .await?
        .map(|row| {
            Ok(Person {
                id: row.id,
                login: row.login,
                name: row.name,
                role: word::value(row.role)?,
                stations: row.stations,
                bound: row.bound,
                password_is_first: row.password_is_first,
            })
        })
        .transpose()
    }
}

/// The active people of a role, by name.
#[compiled_once]
pub async fn with_role(pool: &PgPool, role: Role) -> Result<Vec<Uuid>, StoreError> {
    let ids = sqlx::query_scalar!("select id from person where role = $1 and active order by name", word::word(role)?);
    Ok(ids.fetch_all(pool).await?)
}

/// A person by name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PersonName {
    pub id: Uuid,
    pub name: String,
    /// Is there, and is told what concerns them.
    pub has_bell: bool,
}

/// Everybody who signs in, or did, by name.
#[compiled_once]
pub async fn names(pool: &PgPool) -> Result<Vec<PersonName>, StoreError> {
    sqlx::query!("select id, name, role, active from person where role <> 'device' order by name, id")
        .fetch_all(pool)
        .await?
        .into_iter()
        .map(|row| {
            let has_bell = row.active && may_be_mentioned(word::value(row.role)?);
            Ok(PersonName { id: row.id, name: row.name, has_bell })
        })
        .collect()
}
