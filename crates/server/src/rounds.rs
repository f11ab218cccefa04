//! What is due, and what happens at the stations.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::entry::{Origin, accept_time};
use serde::{Deserialize, Serialize};
use store::events::{EventKind, NewEvent, NewPieces};
use store::people::Person;
use store::rounds::RoundStation;
use store::sites::Site;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// Every station with what is due, overdue and done there; for a reader those of their areas.
#[utoipa::path(get, path = "/api/rounds", tag = "rounds", responses((status = 200, body = [RoundStation])))]
pub async fn rounds(
    State(app): State<App>,
    Extension(person): Extension<Person>,
) -> Result<Json<Vec<RoundStation>>, Problem> {
    let mut stations = store::rounds::list(&app.pool, Some(person.id), Utc::now()).await?;
    if let Some(seen) = person.sees_only() {
        stations.retain(|station| seen.contains(&station.id));
    }
    Ok(Json(stations))
}

/// The site, its clock and its shifts.
#[utoipa::path(get, path = "/api/site", tag = "rounds", responses((status = 200, body = Site)))]
pub async fn site(State(app): State<App>) -> Result<Json<Site>, Problem> {
    Ok(Json(store::sites::site(&app.pool).await?))
}

/// Pins a station to the top of one's own round.
#[utoipa::path(put, path = "/api/stations/{id}/pin", tag = "rounds", params(("id" = Uuid, Path)),
    responses((status = 204), (status = 404, body = Problem, description = "`missing`")))]
pub async fn pin(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::rounds::pin(&app.pool, person.id, id, true).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes the pin away.
#[utoipa::path(delete, path = "/api/stations/{id}/pin", tag = "rounds", params(("id" = Uuid, Path)),
    responses((status = 204)))]
pub async fn unpin(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::rounds::pin(&app.pool, person.id, id, false).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What can happen to a process.
#[utoipa::path(get, path = "/api/event-kinds", tag = "rounds", responses((status = 200, body = [EventKind])))]
pub async fn event_kinds(State(app): State<App>) -> Result<Json<Vec<EventKind>>, Problem> {
    Ok(Json(store::events::kinds(&app.pool).await?))
}

/// Something that happened to the process.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EventEntry {
    /// The device it was told on.
    device: Uuid,
    /// PiecesMade by the device; sending it twice records one event.
    entry: Uuid,
    /// When it happened; now when left out.
    at: Option<DateTime<Utc>>,
    /// What happened.
    kind: Uuid,
    /// The new lot, for kinds that name one.
    lot: Option<String>,
    /// A remark.
    text: Option<String>,
    /// A time long ago was confirmed.
    #[serde(default)]
    confirmed: bool,
}

/// Records an event; it stands in the diary lane of every chart of the station.
#[utoipa::path(post, path = "/api/stations/{id}/events", tag = "rounds", params(("id" = Uuid, Path)),
    request_body = EventEntry, responses(
    (status = 201, body = Created),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`entry_reused`"),
    (status = 422, body = Problem, description = "`field_refused`; `confirm_time`; `from_the_future`; `too_early`")))]
pub async fn record_event(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(station): Path<Uuid>,
    Body(given): Body<EventEntry>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let now = Utc::now();
    let EventEntry { device, entry, at, kind, lot, text, confirmed } = given;
    let at = accept_time(at, now, Origin::Hand { confirmed })?;
    let new = NewEvent { station, kind, at, arrived_at: now, person: person.id, lot, text, device, entry };
    Ok((StatusCode::CREATED, Json(Created { id: store::events::record(&app.pool, &new).await? })))
}

/// Pieces made at a station.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Pieces {
    /// The device it was told on.
    device: Uuid,
    /// PiecesMade by the device; sending it twice counts them once.
    entry: Uuid,
    /// When they were counted; now when left out.
    at: Option<DateTime<Utc>>,
    /// Since the last count, 1 to 1,000,000.
    pieces: i64,
    /// A time long ago was confirmed.
    #[serde(default)]
    confirmed: bool,
}

/// All pieces made at a station.
#[derive(Serialize, ToSchema)]
pub struct PiecesMade {
    /// Since counting began.
    made: i64,
}

/// Counts pieces made at a station, for samples that are due every so many pieces.
#[utoipa::path(post, path = "/api/stations/{id}/pieces", tag = "rounds", params(("id" = Uuid, Path)),
    request_body = Pieces, responses(
    (status = 200, body = PiecesMade),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn count_pieces(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(station): Path<Uuid>,
    Body(given): Body<Pieces>,
) -> Result<Json<PiecesMade>, Problem> {
    let now = Utc::now();
    let Pieces { device, entry, at, pieces, confirmed } = given;
    let at = accept_time(at, now, Origin::Hand { confirmed })?;
    let new = NewPieces { station, pieces, at, arrived_at: now, person: person.id, device, entry };
    let made = store::events::count_pieces(&app.pool, &new).await?;
    Ok(Json(PiecesMade { made }))
}
