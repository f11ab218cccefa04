//! The people of the site, and what each keeps for themselves.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use serde::Deserialize;
use store::filters::SavedFilter;
use store::people::{Person, PersonName};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// Everybody by name.
#[utoipa::path(get, path = "/api/people", tag = "people", responses((status = 200, body = [PersonName])))]
pub async fn people(State(app): State<App>) -> Result<Json<Vec<PersonName>>, Problem> {
    Ok(Json(store::people::names(&app.pool).await?))
}

/// The filters of lists that whoever asks has kept, by name.
#[utoipa::path(get, path = "/api/me/filters", tag = "people", responses((status = 200, body = [SavedFilter])))]
pub async fn filters(
    State(app): State<App>,
    Extension(person): Extension<Person>,
) -> Result<Json<Vec<SavedFilter>>, Problem> {
    Ok(Json(store::filters::list(&app.pool, person.id).await?))
}

/// A filter to keep.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewFilter {
    /// 1 to 80 characters.
    name: String,
    /// As the address of the list holds it: 1 to 2000 characters.
    query: String,
}

/// Keeps a filter, over one of the same name; gives all.
#[utoipa::path(post, path = "/api/me/filters", tag = "people", request_body = NewFilter, responses(
    (status = 200, body = [SavedFilter]),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn keep_filter(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewFilter>,
) -> Result<Json<Vec<SavedFilter>>, Problem> {
    store::filters::keep(&app.pool, person.id, &new.name, &new.query).await?;
    Ok(Json(store::filters::list(&app.pool, person.id).await?))
}

/// Forgets a filter.
#[utoipa::path(delete, path = "/api/me/filters/{id}", tag = "people", params(("id" = Uuid, Path)),
    responses((status = 204)))]
pub async fn forget_filter(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::filters::forget(&app.pool, person.id, id).await?;
    Ok(StatusCode::NO_CONTENT)
}
