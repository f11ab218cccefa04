//! Recipes that are kept.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::Utc;
use formats::shape::{Recipe, key_columns};
use serde::Deserialize;
use serde_json::Value;
use store::people::Person;
use store::recipes::{self as kept, RecipeView, ToKeep};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::failure::Failure;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// Recipes that are kept, by name.
#[utoipa::path(get, path = "/api/data/recipes", tag = "data", responses((status = 200, body = [RecipeView])))]
pub async fn recipes(State(app): State<App>) -> Result<Json<Vec<RecipeView>>, Problem> {
    Ok(Json(kept::recipes(&app.pool).await?))
}

/// A recipe to keep.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RecipeToKeep {
    /// The version that was seen; nothing for a new one.
    #[serde(default)]
    version: i32,
    /// Its name: 1 to 80 characters.
    name: String,
    /// As docs/data.md describes it.
    #[schema(value_type = Object)]
    recipe: Value,
    /// Columns that a row is known by again, wherever it stands, at most 20; by its number when left out.
    #[serde(default)]
    key: Vec<String>,
}

/// Keeps a recipe under a name.
#[utoipa::path(post, path = "/api/data/recipes", tag = "data", request_body = RecipeToKeep, responses(
    (status = 201, body = Created), (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`recipe_refused`; `field_refused`")))]
pub async fn keep_recipe(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(asked): Body<RecipeToKeep>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let id = kept::keep(&app.pool, asked.readable()?, (person.id, Utc::now())).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// Changes a recipe; the versions before stay.
#[utoipa::path(put, path = "/api/data/recipes/{id}", tag = "data", params(("id" = Uuid, Path)),
    request_body = RecipeToKeep, responses(
    (status = 204), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`; `taken`"),
    (status = 422, body = Problem, description = "`recipe_refused`; `field_refused`")))]
pub async fn change_recipe(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(asked): Body<RecipeToKeep>,
) -> Result<StatusCode, Problem> {
    kept::change(&app.pool, (id, asked.version), asked.readable()?, (person.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}

impl RecipeToKeep {
    fn readable(&self) -> Result<ToKeep<'_>, Failure> {
        let Self { name, recipe, key, .. } = self;
        Recipe::from_json(&recipe.to_string())?;
        key_columns(key)?;
        Ok(ToKeep { name, recipe, key })
    }
}
