//! Shared terminals: several people on one screen, each in their own name.
//!
//! A browser where somebody signed in by password is a terminal. Only there, and only for those who signed in
//! there, PIN and badge are heard.

use axum::Extension;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum_extra::extract::CookieJar;
use quality::field::WrongField;
use quality::pin::{BADGE, PIN, is_badge, is_pin};
use quality::trail::Action;
use serde::Deserialize;
use serde_json::json;
use store::people::Person;
use store::terminals::TerminalPerson;
use tower_sessions::Session;
use utoipa::ToSchema;
use uuid::Uuid;

use super::cookie::hash_of;
use super::session::{self, SignedIn};
use super::tries::{Origin, check_password, check_pin};
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
            (store::people::find(&app.pool, person).await?.ok_or_else(unknown)?, "pin")
        }
        Shown::Badge { badge } => {
            let heard = origin.enter(&app, None).await?;
            let this_try = heard.begin_try(&app, "badge").await?;
            let Some(person) = store::terminals::by_badge(&app.pool, &terminal, &badge).await? else {
                heard.failed(&app, None, json!({"by": "badge"})).await?;
                return Err(unknown().into());
            };
            store::access::try_fitted(&app.pool, this_try).await?;
            (person, "badge")
        }
    };
    session::begin(&app, &session, &person, json!({"by": by})).await?;
    Ok(Json(person.into()))
}

/// A new PIN.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewPin {
    /// The password, to be sure who asks.
    password: String,
    /// 4 to 8 digits.
    pin: String,
}

/// Sets one's own PIN.
#[utoipa::path(put, path = "/api/me/pin", request_body = NewPin, tag = "access", responses(
    (status = 204),
    (status = 401, body = Problem, description = "`wrong_sign_in`"),
    (status = 422, body = Problem, description = "`field_refused`"),
    (status = 429, body = Problem, description = "`too_many_tries`")))]
pub async fn set_pin(
    State(app): State<App>,
    Client(address): Client,
    Extension(person): Extension<Person>,
    jar: CookieJar,
    Body(new): Body<NewPin>,
) -> Result<StatusCode, Problem> {
    if !is_pin(&new.pin) {
        return Err(WrongField::new("pin", PIN).into());
    }
    let origin = Origin { address, terminal: hash_of(&jar) };
    check_password(&app, &person.login, new.password, &origin).await?;
    let hash = app.passwords.hash(new.pin).await?;
    store::terminals::set_pin(&app.pool, person.id, &hash).await?;
    session::record(&app, &person, Action::PinSet, json!({})).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A new badge number.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewBadge {
    /// The password, to be sure who asks.
    password: String,
    /// 8 to 32 letters and digits; left out, the badge is taken away.
    badge: Option<String>,
}

/// Sets one's own badge number.
#[utoipa::path(put, path = "/api/me/badge", request_body = NewBadge, tag = "access", responses(
    (status = 204),
    (status = 401, body = Problem, description = "`wrong_sign_in`"),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`field_refused`"),
    (status = 429, body = Problem, description = "`too_many_tries`")))]
pub async fn set_badge(
    State(app): State<App>,
    Client(address): Client,
    Extension(person): Extension<Person>,
    jar: CookieJar,
    Body(new): Body<NewBadge>,
) -> Result<StatusCode, Problem> {
    let badge = new.badge.as_deref().map(str::trim);
    if badge.is_some_and(|badge| !is_badge(badge)) {
        return Err(WrongField::new("badge", BADGE).into());
    }
    let origin = Origin { address, terminal: hash_of(&jar) };
    check_password(&app, &person.login, new.password, &origin).await?;
    // Whether a number is taken tells that it is somebody's badge, so it cannot be asked at will.
    let heard = origin.enter(&app, Some(&person.login)).await?;
    let this_try = heard.begin_try(&app, &format!("badge by {}", person.id)).await?;
    store::terminals::set_badge(&app.pool, person.id, badge).await?;
    store::access::try_fitted(&app.pool, this_try).await?;
    session::record(&app, &person, Action::BadgeSet, json!({})).await?;
    Ok(StatusCode::NO_CONTENT)
}
