//! Accounts: people are made, changed, closed and opened again.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::Utc;
use quality::account::Account;
use rand::seq::IndexedRandom;
use serde::{Deserialize, Serialize};
use store::people::{AccountView, NewPerson, Person};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// All accounts, closed ones last.
#[utoipa::path(get, path = "/api/accounts", tag = "people", responses((status = 200, body = [AccountView])))]
pub async fn accounts(State(app): State<App>) -> Result<Json<Vec<AccountView>>, Problem> {
    Ok(Json(store::people::accounts(&app.pool, Utc::now()).await?))
}

/// A person to add.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewAccount {
    /// The name to sign in with: 1 to 80 characters, kept in small letters.
    login: String,
    account: Account,
}

/// A password that was made for somebody, shown this once.
#[derive(Serialize, ToSchema)]
pub struct FirstPassword {
    /// Whose it is.
    person: Uuid,
    /// To be handed over; they have to choose one of their own with it.
    password: String,
}

/// Adds a person, with a first password.
#[utoipa::path(post, path = "/api/accounts", tag = "people", request_body = NewAccount, responses(
    (status = 201, body = FirstPassword),
    (status = 404, body = Problem, description = "`missing`: an area or a station"),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn add_account(
    State(app): State<App>,
    Extension(by): Extension<Person>,
    Body(new): Body<NewAccount>,
) -> Result<(StatusCode, Json<FirstPassword>), Problem> {
    let (password, hash) = first_password(&app).await?;
    let NewAccount { login, account } = new;
    let new = NewPerson { login: &login, account, password_hash: &hash, password_is_first: true };
    let person = store::people::add(&app.pool, new, Some(by.id), Utc::now()).await?;
    Ok((StatusCode::CREATED, Json(FirstPassword { person, password })))
}

/// An account as it shall be.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AccountChange {
    /// The version that was seen.
    version: i32,
    account: Account,
}

/// Changes an account.
#[utoipa::path(put, path = "/api/accounts/{id}", tag = "people", params(("id" = Uuid, Path)),
    request_body = AccountChange, responses(
    (status = 204),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`; `last_administrator`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn change_account(
    State(app): State<App>,
    Extension(by): Extension<Person>,
    Path(person): Path<Uuid>,
    Body(change): Body<AccountChange>,
) -> Result<StatusCode, Problem> {
    store::people::change(&app.pool, person, change.version, change.account, (by.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Closes an account: nobody signs in with it any more, and what was done in its name stays.
#[utoipa::path(post, path = "/api/accounts/{id}/closing", tag = "people", params(("id" = Uuid, Path)), responses(
    (status = 204),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: closed already; `last_administrator`")))]
pub async fn close_account(
    State(app): State<App>,
    Extension(by): Extension<Person>,
    Path(person): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::people::close(&app.pool, person, (by.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Opens a closed account again, with a first password.
#[utoipa::path(post, path = "/api/accounts/{id}/reopening", tag = "people", params(("id" = Uuid, Path)), responses(
    (status = 200, body = FirstPassword),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: open already")))]
pub async fn reopen_account(
    State(app): State<App>,
    Extension(by): Extension<Person>,
    Path(person): Path<Uuid>,
) -> Result<Json<FirstPassword>, Problem> {
    let (password, hash) = first_password(&app).await?;
    store::people::reopen(&app.pool, person, &hash, (by.id, Utc::now())).await?;
    Ok(Json(FirstPassword { person, password }))
}

/// Gives somebody who has forgotten theirs a first password; their sessions end.
#[utoipa::path(post, path = "/api/accounts/{id}/password", tag = "people", params(("id" = Uuid, Path)), responses(
    (status = 200, body = FirstPassword),
    (status = 404, body = Problem, description = "`missing`")))]
pub async fn give_password(
    State(app): State<App>,
    Extension(by): Extension<Person>,
    Path(person): Path<Uuid>,
) -> Result<Json<FirstPassword>, Problem> {
    let (password, hash) = first_password(&app).await?;
    store::people::give_password(&app.pool, person, &hash, (by.id, Utc::now())).await?;
    Ok(Json(FirstPassword { person, password }))
}

/// Takes PIN and badge away; until new ones are set only the password is heard.
#[utoipa::path(delete, path = "/api/accounts/{id}/pin", tag = "people", params(("id" = Uuid, Path)), responses(
    (status = 204),
    (status = 404, body = Problem, description = "`missing`")))]
pub async fn take_pin_away(
    State(app): State<App>,
    Extension(by): Extension<Person>,
    Path(person): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::people::take_pin_away(&app.pool, person, (by.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Ends the sessions of a person, wherever they are signed in.
#[utoipa::path(delete, path = "/api/accounts/{id}/sessions", tag = "people", params(("id" = Uuid, Path)), responses(
    (status = 204),
    (status = 404, body = Problem, description = "`missing`")))]
pub async fn end_sessions(
    State(app): State<App>,
    Extension(by): Extension<Person>,
    Path(person): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::people::end_sessions(&app.pool, person, (by.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Letters and digits that are not taken for one another when they are read out or written down.
const PLAIN: &[u8] = b"abcdefghjkmnpqrstuvwxyz23456789";

/// Groups of a first password, and characters in each: some 79 bits.
const GROUPS: (usize, usize) = (4, 4);

/// A password to hand over, and its hash.
async fn first_password(app: &App) -> Result<(String, String), Problem> {
    let group = || -> String {
        let mut random = rand::rng();
        (0..GROUPS.1).filter_map(|_| PLAIN.choose(&mut random).map(|c| char::from(*c))).collect()
    };
    let password = (0..GROUPS.0).map(|_| group()).collect::<Vec<_>>().join("-");
    let hash = app.passwords.hash(password.clone()).await?;
    Ok((password, hash))
}
