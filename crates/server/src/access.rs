//! Sign in, sign out, who is signed in.

use std::net::SocketAddr;

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use axum::Extension;
use axum::Json;
use axum::extract::{ConnectInfo, State};
use axum::http::StatusCode;
use chrono::Utc;
use quality::trail::{Action, Deed};
use serde::Deserialize;
use serde_json::json;
use store::people::Person;
use tokio::sync::Semaphore;
use tower_sessions::Session;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::App;
use crate::json::Body;
use crate::problem::Problem;

/// Where the session keeps who is signed in.
const PERSON: &str = "person";

/// A longer password is not hashed; hashing is made to be costly.
const PASSWORD_AT_MOST: usize = 200;

/// Checks passwords, a few at a time: each check takes about 20 MB for a moment.
pub struct Passwords {
    /// What an unknown name is checked against, so that the answer takes the same time.
    nobody: String,
    at_once: Semaphore,
}

impl Default for Passwords {
    fn default() -> Self {
        // An empty hash never matches; it would only make unknown names answer faster.
        Self { nobody: hash_password("nobody").unwrap_or_default(), at_once: Semaphore::new(4) }
    }
}

/// Argon2id with the recommended parameters and a fresh salt, as a PHC string.
///
/// # Errors
/// When the system has no random numbers.
pub fn hash_password(password: &str) -> Result<String, String> {
    Argon2::default().hash_password(password.as_bytes()).map(|hash| hash.to_string()).map_err(|e| e.to_string())
}

impl Passwords {
    async fn fits(&self, password: String, hash: Option<String>) -> Result<bool, Problem> {
        let exists = hash.is_some();
        let hash = hash.unwrap_or_else(|| self.nobody.clone());
        let _turn = self.at_once.acquire().await.map_err(|error| Problem::internal(&error))?;
        let fits = tokio::task::spawn_blocking(move || {
            PasswordHash::new(&hash)
                .is_ok_and(|hash| Argon2::default().verify_password(password.as_bytes(), &hash).is_ok())
        });
        Ok(fits.await.map_err(|error| Problem::internal(&error))? && exists)
    }
}

/// The person of a session.
pub(crate) async fn signed_in(pool: &sqlx::PgPool, session: &Session) -> Result<Option<Person>, Problem> {
    match session.get::<Uuid>(PERSON).await {
        Ok(Some(id)) => Ok(store::people::find(pool, id).await?),
        Ok(None) => Ok(None),
        Err(error) => Err(Problem::internal(&error)),
    }
}

/// Name and password.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SignIn {
    /// The name to sign in with.
    login: String,
    /// The password.
    password: String,
}

/// Signs in. The answer to a wrong password is the same, and takes the same time, whether the name
/// exists or not.
#[utoipa::path(post, path = "/api/session", request_body = SignIn, tag = "access", responses(
    (status = 200, body = Person),
    (status = 401, body = Problem, description = "`wrong_sign_in`"),
    (status = 429, body = Problem, description = "`too_many_tries`; `retry_after_seconds`")))]
pub async fn sign_in(
    State(app): State<App>,
    ConnectInfo(address): ConnectInfo<SocketAddr>,
    session: Session,
    Body(given): Body<SignIn>,
) -> Result<Json<Person>, Problem> {
    let now = Utc::now();
    let address = address.ip().to_string();
    let login: String = given.login.trim().chars().take(100).collect();
    if let Some(wait) = store::access::try_sign_in(&app.pool, &login, &address, now).await? {
        let seconds = wait.num_seconds().max(0) + 1;
        let params = json!({"retry_after_seconds": seconds});
        return Err(Problem::new(StatusCode::TOO_MANY_REQUESTS, "too_many_tries", "too many tries", params));
    }
    let known = store::people::credentials(&app.pool, &login).await?;
    let (person, hash) = known.map(|known| (known.person, known.password_hash)).unzip();
    let password: String = given.password.chars().take(PASSWORD_AT_MOST).collect();
    let fits = app.passwords.fits(password, hash).await?;
    let Some(person) = person.filter(|_| fits) else {
        let title = "name or password is wrong";
        return Err(Problem::new(StatusCode::UNAUTHORIZED, "wrong_sign_in", title, json!({})));
    };
    store::access::forget_attempts(&app.pool, &login, &address).await?;
    // A new token: one that was known before signing in must be worth nothing after.
    session.cycle_id().await.map_err(|error| Problem::internal(&error))?;
    session.insert(PERSON, person.id).await.map_err(|error| Problem::internal(&error))?;
    record(&app, &person, Action::SignedIn).await?;
    Ok(Json(person))
}

async fn record(app: &App, person: &Person, action: Action) -> Result<(), Problem> {
    let deed = Deed::new(Utc::now(), Some(person.id), action, person.id, &json!({}));
    Ok(store::trail::record(&app.pool, store::trail::SITE_CHAIN, &[deed]).await?)
}

/// Who is signed in.
#[utoipa::path(get, path = "/api/session", tag = "access", responses(
    (status = 200, body = Person), (status = 401, body = Problem, description = "`not_signed_in`")))]
pub async fn who(Extension(person): Extension<Person>) -> Json<Person> {
    Json(person)
}

/// Signs out; the session is gone from the server.
#[utoipa::path(delete, path = "/api/session", tag = "access", responses((status = 204)))]
pub async fn sign_out(State(app): State<App>, session: Session) -> Result<StatusCode, Problem> {
    if let Some(person) = signed_in(&app.pool, &session).await? {
        record(&app, &person, Action::SignedOut).await?;
    }
    session.flush().await.map_err(|error| Problem::internal(&error))?;
    Ok(StatusCode::NO_CONTENT)
}
