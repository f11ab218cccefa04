//! Whose session it is.

use chrono::Utc;
use quality::role::Permission;
use quality::trail::{Action, Deed};
use serde::Serialize;
use serde_json::Value;
use store::people::Person;
use tower_sessions::Session;
use utoipa::ToSchema;

use crate::app::App;
use crate::problem::Problem;
use crate::sessions;

/// Where the session keeps who is signed in.
const PERSON: &str = "person";

/// Who is signed in, and what they may do.
#[derive(Serialize, ToSchema)]
pub struct SignedIn {
    #[serde(flatten)]
    person: Person,
    /// What their role carries.
    may: Vec<Permission>,
}

impl From<Person> for SignedIn {
    fn from(person: Person) -> Self {
        let may = person.role.permissions();
        Self { person, may }
    }
}

/// The person of a session. The session itself is not loaded: nothing else stands in it.
pub(crate) async fn signed_in(pool: &sqlx::PgPool, session: &Session) -> Result<Option<Person>, Problem> {
    let Some(id) = session.id() else { return Ok(None) };
    Ok(store::people::of_session(pool, &sessions::hash(&id), PERSON, Utc::now()).await?)
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
    Ok(store::access::record(&app.pool, deed).await?)
}
