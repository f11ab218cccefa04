//! Sign in, sign out, who is signed in.

use std::net::SocketAddr;

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use axum::Extension;
use axum::Json;
use axum::extract::{ConnectInfo, State};
use axum::http::StatusCode;
use axum_extra::extract::CookieJar;
use chrono::Utc;
use quality::trail::{Action, Deed};
use serde::Deserialize;
use serde_json::{Value, json};
use store::people::Person;
use tower_sessions::Session;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::App;
use crate::json::Body;
use crate::problem::Problem;
use crate::terminals;

/// Where the session keeps who is signed in.
const PERSON: &str = "person";

/// A longer password is not hashed; hashing is made to be costly.
const PASSWORD_AT_MOST: usize = 200;

/// Passwords checked at once. Each takes about 20 MB, which the allocator keeps for its thread.
const CHECKED_AT_ONCE: usize = 2;

/// Checks passwords, a few at a time and on threads of their own.
pub struct Passwords {
    /// What an unknown name is checked against, so that the answer takes the same time.
    nobody: String,
    threads: rayon::ThreadPool,
}

/// Argon2id with the recommended parameters and a fresh salt, as a PHC string.
///
/// # Errors
/// When the system has no random numbers.
pub fn hash_password(password: &str) -> Result<String, String> {
    Argon2::default().hash_password(password.as_bytes()).map(|hash| hash.to_string()).map_err(|e| e.to_string())
}

impl Passwords {
    /// With its threads waiting.
    ///
    /// # Errors
    /// When the system has no threads left.
    pub fn new() -> Result<Self, rayon::ThreadPoolBuildError> {
        // Whoever waits for what panicked is told that the server failed.
        let threads = rayon::ThreadPoolBuilder::new().num_threads(CHECKED_AT_ONCE).panic_handler(|_| {}).build()?;
        // An empty hash never matches; it would only make unknown names answer faster.
        Ok(Self { nobody: hash_password("nobody").unwrap_or_default(), threads })
    }

    async fn aside<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        let (tell, told) = tokio::sync::oneshot::channel();
        self.threads.spawn(move || {
            let _ = tell.send(work());
        });
        told.await.map_err(|error| Problem::internal(&error))
    }

    /// As [`hash_password`], off the runtime and a few at a time.
    pub(crate) async fn hash(&self, password: String) -> Result<String, Problem> {
        self.aside(move || hash_password(&password)).await?.map_err(|error| Problem::internal(&error))
    }

    pub(crate) async fn fits(&self, password: String, hash: Option<String>) -> Result<bool, Problem> {
        let exists = hash.is_some();
        let hash = hash.unwrap_or_else(|| self.nobody.clone());
        let fits = self.aside(move || {
            PasswordHash::new(&hash)
                .is_ok_and(|hash| Argon2::default().verify_password(password.as_bytes(), &hash).is_ok())
        });
        Ok(fits.await? && exists)
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
    jar: CookieJar,
    Body(given): Body<SignIn>,
) -> Result<(CookieJar, Json<Person>), Problem> {
    let login: String = given.login.trim().chars().take(100).collect();
    let person = check_password(&app, &login, given.password, &address).await?;
    begin(&app, &session, &person, json!({"by": "password"})).await?;
    let jar = terminals::trust(&app, jar, person.id).await?;
    Ok((jar, Json(person)))
}

/// Refuses when there were too many tries of this name from this address.
pub(crate) async fn not_too_many(app: &App, login: &str, address: &SocketAddr) -> Result<(), Problem> {
    let address = address.ip().to_string();
    let Some(wait) = store::access::try_sign_in(&app.pool, login, &address, Utc::now()).await? else {
        return Ok(());
    };
    let params = json!({"retry_after_seconds": wait.num_seconds().max(0) + 1});
    Err(Problem::new(StatusCode::TOO_MANY_REQUESTS, "too_many_tries", "too many tries", params))
}

/// The person whose name and password these are.
pub(crate) async fn check_password(
    app: &App,
    login: &str,
    password: String,
    address: &SocketAddr,
) -> Result<Person, Problem> {
    not_too_many(app, login, address).await?;
    let known = store::people::credentials(&app.pool, login).await?;
    let (person, hash) = known.map(|known| (known.person, known.password_hash)).unzip();
    let password = password.chars().take(PASSWORD_AT_MOST).collect();
    let fits = app.passwords.fits(password, hash).await?;
    let Some(person) = person.filter(|_| fits) else {
        let title = "name or password is wrong";
        return Err(Problem::new(StatusCode::UNAUTHORIZED, "wrong_sign_in", title, json!({})));
    };
    store::access::forget_attempts(&app.pool, login, &address.ip().to_string()).await?;
    Ok(person)
}

/// Begins the session of a person who has shown who they are.
pub(crate) async fn begin(app: &App, session: &Session, person: &Person, how: Value) -> Result<(), Problem> {
    // A new token: one that was known before signing in must be worth nothing after.
    session.cycle_id().await.map_err(|error| Problem::internal(&error))?;
    session.insert(PERSON, person.id).await.map_err(|error| Problem::internal(&error))?;
    record(app, person, Action::SignedIn, how).await
}

pub(crate) async fn record(app: &App, person: &Person, action: Action, detail: Value) -> Result<(), Problem> {
    let deed = Deed::new(Utc::now(), Some(person.id), action, person.id, &detail);
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
        record(&app, &person, Action::SignedOut, json!({})).await?;
    }
    session.flush().await.map_err(|error| Problem::internal(&error))?;
    Ok(StatusCode::NO_CONTENT)
}
