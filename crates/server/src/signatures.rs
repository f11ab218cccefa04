//! Signatures under decisions, by password or PIN.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use axum_extra::extract::CookieJar;
use chrono::{SubsecRound, Utc};
use serde::Deserialize;
use store::people::Person;
use store::signatures::{SignatureRow, SignatureView, Unsigned};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::access::{Origin, check_password, check_pin};
use crate::app::App;
use crate::client::Client;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// More signatures than this are not sent at once.
const SIGNATURES_AT_MOST: i64 = 200;

/// Decisions of whoever asks that are not signed, the oldest first, at most 500.
#[utoipa::path(get, path = "/api/reviews/unsigned", tag = "episodes", responses((status = 200, body = [Unsigned])))]
pub async fn unsigned(
    State(app): State<App>,
    Extension(person): Extension<Person>,
) -> Result<Json<Vec<Unsigned>>, Problem> {
    Ok(Json(store::signatures::unsigned(&app.pool, person.id).await?))
}

/// The latest signatures, at most 200; for a reader those that cover nothing outside their areas.
#[utoipa::path(get, path = "/api/signatures", tag = "episodes", responses((status = 200, body = [SignatureRow])))]
pub async fn signatures(
    State(app): State<App>,
    Extension(person): Extension<Person>,
) -> Result<Json<Vec<SignatureRow>>, Problem> {
    Ok(Json(store::signatures::list(&app.pool, person.sees_only(), SIGNATURES_AT_MOST).await?))
}

/// A signature with all that it covers, and what has changed since.
#[utoipa::path(get, path = "/api/signatures/{id}", tag = "episodes", params(("id" = Uuid, Path)), responses(
    (status = 200, body = SignatureView), (status = 404, body = Problem, description = "`missing`")))]
pub async fn signature(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<SignatureView>, Problem> {
    Ok(Json(store::signatures::find(&app.pool, id).await?))
}

/// What somebody shows to sign.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SignedBy {
    /// The password.
    Password(String),
    /// The PIN, at a terminal that knows the person.
    Pin(String),
}

impl SignedBy {
    /// Makes sure that it is this person.
    ///
    /// # Errors
    /// When it does not fit, or too many tries did not.
    pub(crate) async fn check(self, app: &App, person: &Person, origin: &Origin) -> Result<(), Problem> {
        match self {
            Self::Password(password) => check_password(app, &person.login, password, origin).await.map(drop),
            Self::Pin(pin) => check_pin(app, person.id, pin, origin).await,
        }
    }
}

/// Decisions to sign.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewSignature {
    /// To be sure who signs.
    by: SignedBy,
    /// 1 to 500 of them.
    reviews: Vec<SeenReview>,
}

/// A decision as it was seen.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SeenReview {
    review: Uuid,
    /// Of all that was seen with it.
    digest: String,
}

/// Signs decisions of one's own: exactly those, as they were seen.
#[utoipa::path(post, path = "/api/signatures", tag = "episodes", request_body = NewSignature, responses(
    (status = 201, body = SignatureView),
    (status = 401, body = Problem, description = "`wrong_sign_in`; `wrong_pin`; `pin_blocked`; `unknown_here`"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: signed already, or something was changed meanwhile"),
    (status = 422, body = Problem, description = "`field_refused`"),
    (status = 429, body = Problem, description = "`too_many_tries`")))]
pub async fn sign(
    State(app): State<App>,
    Client(address): Client,
    Extension(person): Extension<Person>,
    jar: CookieJar,
    Body(new): Body<NewSignature>,
) -> Result<(StatusCode, Json<SignatureView>), Problem> {
    new.by.check(&app, &person, &Origin::of(address, &jar)).await?;
    let reviews: Vec<(Uuid, String)> = new.reviews.into_iter().map(|seen| (seen.review, seen.digest)).collect();
    let id = store::signatures::sign(&app.pool, &person, Utc::now().trunc_subsecs(6), &reviews).await?;
    Ok((StatusCode::CREATED, Json(store::signatures::find(&app.pool, id).await?)))
}
