//! Shared terminals: several people on one screen, each in their own name.
//!
//! A browser where somebody signed in by password is a terminal. Only there, and only for those who signed in
//! there, PIN and badge are heard.

use axum::Json;
use axum::extract::State;
use axum_extra::extract::CookieJar;
use serde::Deserialize;
use serde_json::json;
use store::terminals::TerminalPerson;
use tower_sessions::Session;
use utoipa::ToSchema;
use uuid::Uuid;

use super::cookie::hash_of;
use super::session::{self, SignedIn};
use super::tries::{Origin, check_pin};
use crate::app::App;
use crate::client::Client;
use crate::failure::Failure;
use crate::json::Body;
use crate::problem::Problem;

/// Who can take this terminal over.
#[utoipa::path(get, path = "/api/terminal", tag = "access", responses((status = 200, body = [TerminalPerson])))]
pub async fn known(State(app): State<App>, jar: CookieJar) -> Result<Json<Vec<TerminalPerson>>, Problem> {
    match hash_of(&jar) {
        Some(terminal) => Ok(Json(store::terminals::known(&app.pool, &terminal).await?)),
        None => Ok(Json(Vec::new())),
    }
}

/// What somebody shows to take a terminal over.
#[derive(Deserialize, ToSchema)]
#[serde(untagged, deny_unknown_fields)]
pub enum Shown {
    /// A PIN.
    Pin {
        person: Uuid,
        /// 4 to 8 digits.
        pin: String,
    },
    /// A badge.
    Badge {
        /// As the reader reads it.
        badge: String,
    },
}

/// Signs in at a terminal that knows the person. Five PINs that do not fit, and only the password
/// helps.
#[utoipa::path(post, path = "/api/terminal", request_body = Shown, tag = "access", responses(
    (status = 200, body = SignedIn),
    (status = 401, body = Problem, description = "`wrong_pin`; `pin_blocked`; `unknown_here`"),
    (status = 429, body = Problem, description = "`too_many_tries`")))]
pub async fn take_over(
    State(app): State<App>,
    Client(address): Client,
    session: Session,
    jar: CookieJar,
    Body(shown): Body<Shown>,
) -> Result<Json<SignedIn>, Problem> {
    let unknown = || Failure::UnknownHere {};
    let terminal = hash_of(&jar).ok_or_else(unknown)?;
    let origin = Origin { address, terminal: Some(terminal.clone()) };
    let (person, by) = match shown {
        Shown::Pin { person, pin } => {
            check_pin(&app, person, pin, &origin).await?;
            (person, "pin")
        }
        Shown::Badge { badge } => {
            let heard = origin.enter(&app, None).await?;
            let this_try = heard.begin_try(&app, "badge").await?;
            let Some(id) = store::terminals::by_badge(&app.pool, &terminal, &badge).await? else {
                heard.failed(&app, None, json!({"by": "badge"})).await?;
                return Err(unknown().into());
            };
            store::access::try_fitted(&app.pool, this_try).await?;
            (id, "badge")
        }
    };
    let person = store::people::find(&app.pool, person).await?.ok_or_else(unknown)?;
    session::begin(&app, &session, &person, json!({"by": by})).await?;
    Ok(Json(person.into()))
}
