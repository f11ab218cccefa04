//! The catalogue of causes.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::Utc;
use quality::cause::{CauseGroup, CausePlace, CauseState};
use serde::Deserialize;
use store::causes::{Cause, CauseEntry};
use store::people::Person;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::json::{Body, Path, Query};
use crate::problem::Problem;

/// What causes are asked for.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct For {
    /// Those that fit this characteristic, what was named most often in its area first.
    characteristic: Option<Uuid>,
}

/// Causes that answers can name.
#[utoipa::path(get, path = "/api/causes", tag = "episodes", params(For),
    responses((status = 200, body = [Cause])))]
pub async fn causes(State(app): State<App>, Query(asked): Query<For>) -> Result<Json<Vec<Cause>>, Problem> {
    Ok(Json(store::causes::list(&app.pool, asked.characteristic).await?))
}

/// The whole catalogue: what is proposed first, then what is in use, then what is retired.
#[utoipa::path(get, path = "/api/causes/catalogue", tag = "episodes",
    responses((status = 200, body = [CauseEntry])))]
pub async fn catalogue(State(app): State<App>) -> Result<Json<Vec<CauseEntry>>, Problem> {
    Ok(Json(store::causes::catalogue(&app.pool).await?))
}

/// A cause to add.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewCause {
    /// In words: 1 to 80 characters. It stays as it is.
    name: String,
    group: CauseGroup,
    /// The area where it occurs; all areas when left out.
    area: Option<Uuid>,
}

/// Adds a cause that answers can name.
#[utoipa::path(post, path = "/api/causes", tag = "episodes", request_body = NewCause, responses(
    (status = 201, body = Created),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn add_cause(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewCause>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let NewCause { name, group, area } = new;
    let id = store::causes::add(&app.pool, &name, group, area, (Some(person.id), Utc::now())).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// The place of a cause, changed.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CauseChange {
    /// The version that was seen.
    version: i32,
    /// Its group; required in use.
    group: Option<CauseGroup>,
    /// The area where it occurs; nothing for all areas.
    area: Option<Uuid>,
    /// In use, or retired.
    state: CauseState,
    /// Another one that says the same; only of a retired one.
    same_as: Option<Uuid>,
}

/// Takes up what was proposed, moves a cause to another group or area, or retires it. Its name stays.
#[utoipa::path(put, path = "/api/causes/{id}", tag = "episodes", params(("id" = Uuid, Path)),
    request_body = CauseChange, responses(
    (status = 204),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first; `taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn change_cause(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(change): Body<CauseChange>,
) -> Result<StatusCode, Problem> {
    let CauseChange { version, group, area, state, same_as } = change;
    let place = CausePlace { group, area, state, same_as };
    store::causes::change(&app.pool, id, version, place, (person.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}
