//! Recipes that are kept.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::Utc;
use formats::shape::Recipe;
use serde::Deserialize;
use serde_json::Value;
use store::people::Person;
use store::recipes::{self as kept, RecipeView};
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
}

/// Keeps a recipe under a name.
#[utoipa::path(post, path = "/api/data/recipes", tag = "data", request_body = RecipeToKeep, responses(
    (status = 201, body = Created), (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`recipe_refused`; `field_refused`")))]
pub async fn keep_recipe(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(RecipeToKeep { name, recipe, .. }): Body<RecipeToKeep>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    readable(&recipe)?;
    let id = kept::keep(&app.pool, &name, &recipe, (person.id, Utc::now())).await?;
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
    Body(RecipeToKeep { version, name, recipe }): Body<RecipeToKeep>,
) -> Result<StatusCode, Problem> {
    readable(&recipe)?;
    kept::change(&app.pool, (id, version), (&name, &recipe), (person.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}

fn readable(recipe: &Value) -> Result<(), Failure> {
    Recipe::from_json(&recipe.to_string())?;
    Ok(())
}
