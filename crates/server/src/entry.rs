//! Entering a sample: the point in pencil while it is typed, and saving it.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::due::is_from_the_future;
use quality::reading::{Unusual, read, read_so_far, unusual};
use serde::{Deserialize, Serialize};
use serde_json::json;
use store::characteristics;
use store::people::Person;
use store::samples::{NewSample, Pencil, Saved};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::App;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// Readings as they stand in the fields, blanks included.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Typed {
    /// One text a piece, with decimal point or comma.
    readings: Vec<String>,
}

/// What the readings typed so far would be.
#[derive(Serialize, ToSchema)]
pub struct Preview {
    /// The point in pencil; nothing while nothing is typed.
    pencil: Option<Pencil>,
    /// Readings outside the soft bounds.
    unusual: Vec<Unusual>,
}

/// The point in pencil for the readings typed so far. Nothing is stored.
#[utoipa::path(post, path = "/api/characteristics/{id}/preview", tag = "entry", params(("id" = Uuid, Path)),
    request_body = Typed, responses(
    (status = 200, body = Preview),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`readings_refused`; `refusals`")))]
pub async fn preview(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(typed): Body<Typed>,
) -> Result<Json<Preview>, Problem> {
    let characteristic = characteristics::find(&app.pool, id).await?.characteristic();
    let readings =
        read_so_far(&characteristic, &typed.readings).map_err(|refusals| Problem::readings_refused(&refusals))?;
    let unusual = unusual(&characteristic, &readings);
    let pencil = match readings.is_empty() {
        true => None,
        false => Some(store::samples::preview(&app.pool, id, readings, Utc::now()).await?),
    };
    Ok(Json(Preview { pencil, unusual }))
}

/// A sample to save.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SampleEntry {
    /// The device it was typed on.
    device: Uuid,
    /// Made by the device; sending it twice saves one sample.
    entry: Uuid,
    /// When it was taken; now when left out.
    taken_at: Option<DateTime<Utc>>,
    /// One text a piece, with decimal point or comma.
    readings: Vec<String>,
    /// Readings outside the soft bounds were confirmed.
    #[serde(default)]
    confirmed: bool,
}

/// Saves a sample and judges it. Sent again with the same entry id it answers 200 and stores
/// nothing.
#[utoipa::path(post, path = "/api/characteristics/{id}/samples", tag = "entry", params(("id" = Uuid, Path)),
    request_body = SampleEntry, responses(
    (status = 201, body = Saved), (status = 200, body = Saved, description = "saved before"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`entry_reused`"),
    (status = 422, body = Problem,
     description = "`readings_refused`; `confirm_readings`; `from_the_future`")))]
pub async fn save(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(entry): Body<SampleEntry>,
) -> Result<(StatusCode, Json<Saved>), Problem> {
    let now = Utc::now();
    let characteristic = characteristics::find(&app.pool, id).await?.characteristic();
    let readings = read(&characteristic, &entry.readings).map_err(|refusals| Problem::readings_refused(&refusals))?;
    let unusual = unusual(&characteristic, &readings);
    if !unusual.is_empty() && !entry.confirmed {
        return Err(Problem::confirm_readings(&unusual));
    }
    let taken_at = entry.taken_at.unwrap_or(now);
    if is_from_the_future(taken_at, now) {
        let params = json!({"taken_at": taken_at, "now": now});
        let title = "the sample lies in the future";
        return Err(Problem::new(StatusCode::UNPROCESSABLE_ENTITY, "from_the_future", title, params));
    }
    let new = NewSample {
        characteristic: id,
        device: entry.device,
        entry: entry.entry,
        taken_at,
        arrived_at: now,
        person: person.id,
        readings,
    };
    let saved = store::samples::save(&app.pool, &new).await?;
    let status = if saved.again { StatusCode::OK } else { StatusCode::CREATED };
    Ok((status, Json(saved)))
}
