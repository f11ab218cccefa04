//! Sign in, sign out, who is signed in.

use axum::Extension;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum_extra::extract::CookieJar;
use quality::trail::Action;
use serde::Deserialize;
use serde_json::json;
use store::people::Person;
use tower_sessions::Session;
use utoipa::ToSchema;

use super::session::SignedIn;
use super::tries::{Origin, check_password};
use super::{cookie, session};
use crate::app::App;
use crate::client::Client;
use crate::json::Body;
use crate::problem::Problem;

/// Name and password.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SignIn {
    /// The name to sign in with.
    login: String,
    password: String,
}

/// Signs in. The answer to a wrong password is the same, and takes the same time, whether the name
/// exists or not.
#[utoipa::path(post, path = "/api/session", request_body = SignIn, tag = "access", responses(
    (status = 200, body = SignedIn),
    (status = 401, body = Problem, description = "`wrong_sign_in`"),
    (status = 429, body = Problem, description = "`too_many_tries`")))]
pub async fn sign_in(
    State(app): State<App>,
    Client(address): Client,
    session: Session,
    jar: CookieJar,
    Body(given): Body<SignIn>,
) -> Result<(CookieJar, Json<SignedIn>), Problem> {
    let login: String = given.login.trim().chars().filter(|c| !c.is_control()).take(100).collect();
    let origin = Origin::of(address, &jar);
    let person = check_password(&app, &login, given.password, &origin).await?;
    session::begin(&app, &session, &person, json!({"by": "password"})).await?;
    let jar = cookie::trust(&app, jar, person.id).await?;
    Ok((jar, Json(person.into())))
}

/// Who is signed in.
#[utoipa::path(get, path = "/api/session", tag = "access", responses(
    (status = 200, body = SignedIn), (status = 401, body = Problem, description = "`not_signed_in`")))]
pub async fn who(Extension(person): Extension<Person>) -> Json<SignedIn> {
    Json(person.into())
}

/// Signs out; the session is gone from the server.
#[utoipa::path(delete, path = "/api/session", tag = "access", responses((status = 204)))]
pub async fn sign_out(State(app): State<App>, session: Session) -> Result<StatusCode, Problem> {
    if let Some(person) = session::signed_in(&app.pool, &session).await? {
        session::record(&app, &person, Action::SignedOut, json!({})).await?;
    }
    let ended = session.id();
    session.flush().await?;
    app.news.end(ended);
    Ok(StatusCode::NO_CONTENT)
}
