//! The people who use the site.

use chrono::Utc;
use quality::field::name;
use quality::role::Role;
use quality::setup::SetUpRefusal;
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::act::Act;
use crate::trail::SITE_CHAIN;
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
}

/// A person with what proves who they are.
#[derive(Debug)]
pub struct Credentials {
    pub person: Person,
    /// Argon2id, in PHC string form.
    pub password_hash: String,
}

/// The active person who signs in as `login`, whatever its case.
pub async fn credentials(pool: &PgPool, login: &str) -> Result<Option<Credentials>, StoreError> {
    sqlx::query!("select id, login, name, role, password_hash from person where login = lower($1) and active", login)
        .fetch_optional(pool)
        .await?
        .map(|row| {
            let person = Person { id: row.id, login: row.login, name: row.name, role: word::value(row.role)? };
            Ok(Credentials { person, password_hash: row.password_hash })
        })
        .transpose()
}

/// The active person with this id.
pub async fn find(pool: &PgPool, id: Uuid) -> Result<Option<Person>, StoreError> {
    sqlx::query!("select id, login, name, role from person where id = $1 and active", id)
        .fetch_optional(pool)
        .await?
        .map(|row| Ok(Person { id: row.id, login: row.login, name: row.name, role: word::value(row.role)? }))
        .transpose()
}

/// The active people of a role, by name.
pub async fn with_role(pool: &PgPool, role: Role) -> Result<Vec<Person>, StoreError> {
    sqlx::query!("select id, login, name, role from person where role = $1 and active order by name", word::word(role)?)
        .fetch_all(pool)
        .await?
        .into_iter()
        .map(|row| Ok(Person { id: row.id, login: row.login, name: row.name, role: word::value(row.role)? }))
        .collect()
}

/// A person by name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PersonName {
    pub id: Uuid,
    pub name: String,
}

/// Everybody who signs in, or did, by name.
pub async fn names(pool: &PgPool) -> Result<Vec<PersonName>, StoreError> {
    let people = sqlx::query_as!(PersonName, "select id, name from person where role <> 'device' order by name, id");
    Ok(people.fetch_all(pool).await?)
}

/// Adds a person.
///
/// # Errors
/// When the sign-in or the name cannot be, or somebody signs in so already.
pub async fn add(
    pool: &PgPool,
    given_login: &str,
    given_name: &str,
    role: Role,
    password_hash: &str,
) -> Result<Uuid, StoreError> {
    let (login, name) = (name("login", given_login)?.to_lowercase(), name("name", given_name)?);
    let mut act = Act::begin(pool).await?;
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into person (id, login, name, role, password_hash) values ($1, $2, $3, $4, $5)",
        id,
        login,
        name,
        word::word(role)?,
        password_hash
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        let taken = |name: &str| (name == "person_login_key").then_some(SetUpRefusal::Taken("login").into());
        StoreError::of_constraint(error, taken)
    })?;
    let detail = json!({"login": login, "name": name, "role": role});
    act.did_unseen(SITE_CHAIN, Deed::new(Utc::now(), None, Action::PersonAdded, id, &detail));
    act.commit().await?;
    Ok(id)
}
