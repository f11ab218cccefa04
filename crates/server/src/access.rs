//! Sign in, sign out, who is signed in.

use std::net::IpAddr;

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use axum::Extension;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum_extra::extract::CookieJar;
use chrono::Utc;
use quality::trail::{Action, Deed};
use serde::Deserialize;
use serde_json::{Value, json};
use store::access::Try;
use store::people::Person;
use tower_sessions::Session;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::App;
use crate::client::{Client, place};
use crate::gate::{Lane, Passage, too_many_tries};
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
        Err(error) => Err(error.into()),
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
    Client(address): Client,
    session: Session,
    jar: CookieJar,
    Body(given): Body<SignIn>,
) -> Result<(CookieJar, Json<Person>), Problem> {
    let login: String = given.login.trim().chars().filter(|c| !c.is_control()).take(100).collect();
    let origin = Origin { address, terminal: terminals::hash_of(&jar) };
    let person = check_password(&app, &login, given.password, &origin).await?;
    begin(&app, &session, &person, json!({"by": "password"})).await?;
    let jar = terminals::trust(&app, jar, person.id).await?;
    Ok((jar, Json(person)))
}

/// Where somebody tries to sign in.
pub(crate) struct Origin {
    pub address: IpAddr,
    /// Hash of the terminal's cookie.
    pub terminal: Option<Vec<u8>>,
}

/// Where tries are counted, and a place in the queue there.
pub(crate) struct Heard {
    pub place: String,
    _passage: Passage,
}

impl Origin {
    /// Takes a place in the queue. At a terminal that knows `login` (or, without one, anybody) tries are
    /// counted apart, so that nobody elsewhere can make its people wait.
    pub(crate) async fn enter(&self, app: &App, login: Option<&str>) -> Result<Heard, Problem> {
        let known = match &self.terminal {
            Some(terminal) if store::terminals::knows(&app.pool, terminal, login).await? => Some(terminal),
            _ => None,
        };
        let (lane, place) = match known {
            Some(terminal) => (Lane::Known, format!("terminal {}", hex::encode(&terminal[..8]))),
            None => (Lane::Place(place(self.address)), place(self.address).to_string()),
        };
        Ok(Heard { place, _passage: app.gate.enter(lane)? })
    }
}

impl Heard {
    /// A try of `name`, unless there were too many. It counts as one that does not fit until it is taken back.
    pub(crate) async fn begin_try(&self, app: &App, name: &str) -> Result<i64, Problem> {
        match store::access::begin_try(&app.pool, name, &self.place, Utc::now()).await? {
            Try::Heard(id) => Ok(id),
            Try::Wait(wait) => Err(too_many_tries(wait.num_seconds().max(0) + 1)),
        }
    }

    /// Tells the trail that a try did not fit: whose name it was, if anybody's, and what was shown.
    pub(crate) async fn failed(&self, app: &App, person: Option<Uuid>, mut shown: Value) -> Result<(), Problem> {
        shown["place"] = json!(self.place);
        let deed = Deed::new(Utc::now(), None, Action::SignInFailed, person.unwrap_or_default(), &shown);
        Ok(store::trail::record(&app.pool, store::trail::SITE_CHAIN, &[deed]).await?)
    }
}

/// The person whose name and password these are.
pub(crate) async fn check_password(
    app: &App,
    login: &str,
    password: String,
    origin: &Origin,
) -> Result<Person, Problem> {
    let heard = origin.enter(app, Some(login)).await?;
    let this_try = heard.begin_try(app, login).await?;
    let known = store::people::credentials(&app.pool, login).await?;
    let (person, hash) = known.map(|known| (known.person, known.password_hash)).unzip();
    let password = password.chars().take(PASSWORD_AT_MOST).collect();
    let fits = app.passwords.fits(password, hash).await?;
    match person {
        Some(person) if fits => {
            store::access::try_fitted(&app.pool, this_try).await?;
            Ok(person)
        }
        person => {
            heard.failed(app, person.map(|person| person.id), json!({"by": "password", "login": login})).await?;
            let title = "name or password is wrong";
            Err(Problem::new(StatusCode::UNAUTHORIZED, "wrong_sign_in", title, json!({})))
        }
    }
}

/// Begins the session of a person who has shown who they are.
pub(crate) async fn begin(app: &App, session: &Session, person: &Person, how: Value) -> Result<(), Problem> {
    // A new token: one that was known before signing in must be worth nothing after.
    session.cycle_id().await?;
    session.insert(PERSON, person.id).await?;
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
    let ended = session.id();
    session.flush().await?;
    app.live.end(ended);
    Ok(StatusCode::NO_CONTENT)
}
