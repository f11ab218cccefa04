//! What one shows of oneself, set by oneself: password, PIN, badge.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use axum_extra::extract::CookieJar;
use chrono::Utc;
use quality::field::{Allowed, WrongField};
use quality::pin::{BADGE, PIN, is_badge, is_pin};
use quality::trail::Action;
use serde::Deserialize;
use serde_json::json;
use store::people::Person;
use tower_sessions::Session;
use utoipa::ToSchema;

use super::session::{self, SignedIn};
use super::tries::{Origin, check_password};
use crate::app::App;
use crate::client::Client;
use crate::json::Body;
use crate::problem::Problem;
use crate::sessions;

/// A new password.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewPassword {
    /// The one until now, to be sure who asks.
    password: String,
    /// 10 to 200 characters, not what many people take.
    new: String,
}

/// Chooses one's own password; one's other sessions end.
#[utoipa::path(put, path = "/api/me/password", request_body = NewPassword, tag = "access", responses(
    (status = 200, body = SignedIn),
    (status = 401, body = Problem, description = "`wrong_sign_in`"),
    (status = 422, body = Problem, description = "`field_refused`"),
    (status = 429, body = Problem, description = "`too_many_tries`")))]
pub async fn set_password(
    State(app): State<App>,
    Client(address): Client,
    Extension(person): Extension<Person>,
    session: Session,
    jar: CookieJar,
    Body(given): Body<NewPassword>,
) -> Result<Json<SignedIn>, Problem> {
    quality::password::check_password("new", &person.login, &given.new)?;
    if given.new == given.password {
        return Err(WrongField::new("new", Allowed::NotAsBefore).into());
    }
    let origin = Origin::of(address, &jar);
    check_password(&app, &person.login, given.password, &origin).await?;
    let hash = app.passwords.hash(given.new).await?;
    let this = session.id().map(|id| sessions::hash(&id)).unwrap_or_default();
    store::people::set_password(&app.pool, person.id, &hash, &this, Utc::now()).await?;
    Ok(Json(Person { password_is_first: false, ..person }.into()))
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
    let origin = Origin::of(address, &jar);
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
    let origin = Origin::of(address, &jar);
    check_password(&app, &person.login, new.password, &origin).await?;
    // Whether a number is taken tells that it is somebody's badge, so it cannot be asked at will.
    let heard = origin.enter(&app, Some(&person.login)).await?;
    let this_try = heard.begin_try(&app, &format!("badge by {}", person.id)).await?;
    store::terminals::set_badge(&app.pool, person.id, badge).await?;
    store::access::try_fitted(&app.pool, this_try).await?;
    session::record(&app, &person, Action::BadgeSet, json!({})).await?;
    Ok(StatusCode::NO_CONTENT)
}
