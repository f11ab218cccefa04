//! Files that are sent, and recipes proposed for them.

use axum::body::Bytes;
use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::Utc;
use formats::shape::{ShapeReason, propose};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use store::imports::ImportFileView;
use store::people::Person;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::shaped::beside;
use crate::app::App;
use crate::failure::Failure;
use crate::json::{Path, Query};
use crate::problem::Problem;

/// How a file is called.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Named {
    /// Its name: 1 to 200 characters.
    name: String,
}

/// Sends a file with samples: CSV, XLSX, ODS or JSON, up to 64 MiB. It is kept for a week, for who sent it.
#[utoipa::path(post, path = "/api/data/files", tag = "data", params(Named),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses(
    (status = 201, body = ImportFileView),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn send_table(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(Named { name }): Query<Named>,
    content: Bytes,
) -> Result<(StatusCode, Json<ImportFileView>), Problem> {
    let kept = store::imports::keep_file(&app.pool, &name, &content, (person.id, Utc::now())).await?;
    Ok((StatusCode::CREATED, Json(kept)))
}

/// Which sheet is meant.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct WhichSheet {
    /// Its name; the first when left out.
    sheet: Option<String>,
}

/// A recipe that is proposed for a file.
#[derive(Debug, Serialize, ToSchema)]
pub struct RecipeProposal {
    /// The file.
    file: ImportFileView,
    /// As docs/data.md describes it.
    #[schema(value_type = Object)]
    recipe: Value,
    reason: ShapeReason,
    /// Names of the sheets, where it has some.
    sheets: Vec<String>,
}

/// Proposes a recipe for a file, with the reason.
#[utoipa::path(get, path = "/api/data/files/{id}/proposal", tag = "data", params(("id" = Uuid, Path), WhichSheet),
    responses((status = 200, body = RecipeProposal), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`recipe_refused`"),
    (status = 429, body = Problem, description = "`busy`")))]
pub async fn proposal(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Query(WhichSheet { sheet }): Query<WhichSheet>,
) -> Result<Json<RecipeProposal>, Problem> {
    let (file, content) = store::imports::file(&app.pool, id, person.id).await?;
    let proposed = beside(&app, move || propose(&content, sheet.as_deref())).await?.map_err(Failure::from)?;
    Ok(Json(RecipeProposal { file, recipe: proposed.recipe, reason: proposed.reason, sheets: proposed.sheets }))
}
