//! Correcting a sample, or withdrawing it.

use axum::extract::State;
use axum::{Extension, Json};
use chrono::Utc;
use quality::entry::{Origin, Typed, accept};
use serde::Deserialize;
use store::characteristics;
use store::people::Person;
use store::samples::{Correction, Rejudged};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// A sample as it should have been.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Corrected {
    /// The version of the sample that was seen.
    version: i32,
    /// What it recorded.
    sample: Typed,
    /// Why it is corrected: 1 to 2000 characters.
    reason: String,
    /// Readings outside the soft bounds were confirmed.
    #[serde(default)]
    confirmed: bool,
}

/// Corrects a sample: one's own within the shift, later a supervisor. Points whose rule windows hold
/// it are judged again; what stood there before stays on record.
#[utoipa::path(post, path = "/api/samples/{id}/corrections", tag = "entry", params(("id" = Uuid, Path)),
    request_body = Corrected, responses(
    (status = 200, body = Rejudged),
    (status = 403, body = Problem, description = "`not_allowed`; `not_your_sample`; `shift_is_over`"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first"),
    (status = 422, body = Problem, description = "`readings_refused`; `confirm_readings`; `field_refused`")))]
pub async fn correct(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(given): Body<Corrected>,
) -> Result<Json<Rejudged>, Problem> {
    let found = store::samples::find(&app.pool, id).await?;
    let setup = characteristics::find(&app.pool, found.characteristic).await?;
    let usual = store::samples::usual(&app.pool, &setup).await?;
    let accepted = accept(&setup.characteristic, &usual, &given.sample, Origin::Hand { confirmed: given.confirmed })?;
    let changed = store::samples::correct(&app.pool, id, given.version, &person, Utc::now(), &accepted, &given.reason);
    Ok(Json(changed.await?))
}

/// Earlier contents of a sample, oldest first.
#[utoipa::path(get, path = "/api/samples/{id}/corrections", tag = "entry", params(("id" = Uuid, Path)),
    responses((status = 200, body = [Correction])))]
pub async fn corrections(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<Vec<Correction>>, Problem> {
    Ok(Json(store::samples::corrections(&app.pool, id).await?))
}

/// A sample that should not have been.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Withdrawal {
    /// The version of the sample that was seen.
    version: i32,
    /// Why it is withdrawn: 1 to 2000 characters.
    reason: String,
}

/// Withdraws a sample: its place on the chart stays as a gap. Who may, and what is judged again, is as
/// for a correction.
#[utoipa::path(post, path = "/api/samples/{id}/withdrawal", tag = "entry", params(("id" = Uuid, Path)),
    request_body = Withdrawal, responses(
    (status = 200, body = Rejudged),
    (status = 403, body = Problem, description = "`not_allowed`; `not_your_sample`; `shift_is_over`"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn withdraw(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(given): Body<Withdrawal>,
) -> Result<Json<Rejudged>, Problem> {
    Ok(Json(store::samples::withdraw(&app.pool, id, given.version, &person, Utc::now(), &given.reason).await?))
}
