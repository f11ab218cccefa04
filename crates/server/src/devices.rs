//! Devices as Plan shows them, and the values they offer to whoever enters a sample.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::Utc;
use rand::Rng;
use serde::{Deserialize, Serialize};
use store::devices::{DeviceView, NewDevice, Offer};
use store::people::Person;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Body, Path};
use crate::problem::Problem;
use crate::tokens;

/// Every device, whether it is heard, and what of it was refused.
#[utoipa::path(get, path = "/api/plan/devices", tag = "devices", responses((status = 200, body = [DeviceView])))]
pub async fn devices(State(app): State<App>) -> Result<Json<Vec<DeviceView>>, Problem> {
    Ok(Json(store::devices::list(&app.pool, Utc::now()).await?))
}

/// A device that was set up.
#[derive(Serialize, ToSchema)]
pub struct DeviceCreated {
    id: Uuid,
    /// The token of a device that shows one: given this once, and not kept.
    token: Option<String>,
}

/// Sets a device up.
#[utoipa::path(post, path = "/api/plan/devices", tag = "devices", request_body = NewDevice, responses(
    (status = 201, body = DeviceCreated), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`; `set_up_refused`")))]
pub async fn add_device(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewDevice>,
) -> Result<(StatusCode, Json<DeviceCreated>), Problem> {
    let token = new
        .link
        .shows_token()
        .then(|| format!("{:032x}{:032x}", rand::rng().random::<u128>(), rand::rng().random::<u128>()));
    let hash = token.as_deref().map(tokens::hash);
    let id = store::devices::add(&app.pool, &new, hash.as_deref(), person.id, Utc::now()).await?;
    Ok((StatusCode::CREATED, Json(DeviceCreated { id, token })))
}

/// A device as it shall be.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DeviceChange {
    /// The version that was seen.
    version: i32,
    /// As it shall be; its kind stays.
    device: NewDevice,
}

/// Changes what a device is called, where it stands and how it is spoken with. Its token stays.
#[utoipa::path(put, path = "/api/plan/devices/{id}", tag = "devices", params(("id" = Uuid, Path)),
    request_body = DeviceChange, responses(
    (status = 204), (status = 404, body = Problem, description = "`missing`; also when it is revoked"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first"),
    (status = 422, body = Problem, description = "`field_refused`; `set_up_refused`")))]
pub async fn change_device(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(change): Body<DeviceChange>,
) -> Result<StatusCode, Problem> {
    store::devices::change(&app.pool, id, change.version, &change.device, person.id, Utc::now()).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes nothing more from a device; what it sent stays.
#[utoipa::path(post, path = "/api/plan/devices/{id}/revocation", tag = "devices", params(("id" = Uuid, Path)),
    responses((status = 204), (status = 404, body = Problem, description = "`missing`")))]
pub async fn revoke_device(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::devices::revoke(&app.pool, id, person.id, Utc::now()).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Results of an analyser that wait to be confirmed at a station, the newest of each level.
#[utoipa::path(get, path = "/api/stations/{id}/offers", tag = "devices", params(("id" = Uuid, Path)),
    responses((status = 200, body = [Offer])))]
pub async fn offers(State(app): State<App>, Path(station): Path<Uuid>) -> Result<Json<Vec<Offer>>, Problem> {
    Ok(Json(store::devices::open_offers(&app.pool, station, Utc::now()).await?))
}

/// Who takes an offer, and into what.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Taking {
    /// What is being entered.
    characteristic: Uuid,
}

/// A value that was taken.
#[derive(Serialize, ToSchema)]
pub struct TakenOffer {
    /// As the device sent it.
    value: String,
}

/// Takes a value that a device offers; the first who asks has it.
#[utoipa::path(post, path = "/api/offers/{id}/taking", tag = "devices", params(("id" = Uuid, Path)),
    request_body = Taking, responses(
    (status = 200, body = TakenOffer), (status = 404, body = Problem, description = "`missing`; somebody else took it")))]
pub async fn take_offer(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(taking): Body<Taking>,
) -> Result<Json<TakenOffer>, Problem> {
    let value = store::devices::take(&app.pool, id, taking.characteristic, person.id, Utc::now()).await?;
    Ok(Json(TakenOffer { value }))
}
