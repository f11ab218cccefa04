//! Cause trees: started, filled in by several people at once, copied; causes found true go into the catalogue.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{SubsecRound, Utc};
use quality::cause::CauseGroup;
use quality::cause_tree::{Facts, Idea, Origin};
use serde::Deserialize;
use store::cause_trees::{self as kept, CauseTreeRow, CauseTreeView, IdeaChange, IdeaVersion, NewTree};
use store::people::Person;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// The latest cause trees, at most 500; for a reader those of their areas.
#[utoipa::path(get, path = "/api/cause-trees", tag = "cause trees", responses((status = 200, body = [CauseTreeRow])))]
pub async fn cause_trees(
    State(app): State<App>,
    Extension(person): Extension<Person>,
) -> Result<Json<Vec<CauseTreeRow>>, Problem> {
    let calendar = store::sites::calendar(&app.pool).await?;
    let today = Utc::now().with_timezone(&calendar.zone).date_naive();
    Ok(Json(kept::list(&app.pool, person.sees_only(), today).await?))
}

/// A cause tree with its ideas.
#[utoipa::path(get, path = "/api/cause-trees/{id}", tag = "cause trees", params(("id" = Uuid, Path)), responses(
    (status = 200, body = CauseTreeView), (status = 404, body = Problem, description = "`missing`")))]
pub async fn cause_tree(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<CauseTreeView>, Problem> {
    Ok(Json(kept::find(&app.pool, id).await?))
}

/// A cause tree to start.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TreeToStart {
    /// The problem, in a few words.
    name: String,
    #[serde(default)]
    facts: Facts,
    origin: Option<Origin>,
    /// Its branches, and what hangs on them already.
    #[serde(default)]
    ideas: Vec<Idea>,
}

/// Starts a cause tree.
#[utoipa::path(post, path = "/api/cause-trees", tag = "cause trees", request_body = TreeToStart, responses(
    (status = 201, body = Created), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn start_tree(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(TreeToStart { name, facts, origin, ideas }): Body<TreeToStart>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let new = NewTree { name, facts, origin, ideas };
    let id = kept::start(&app.pool, &new, (person.id, Utc::now().trunc_subsecs(6))).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// What a tree is called, and its facts.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TreeChange {
    /// The version that was seen.
    version: i32,
    name: String,
    facts: Facts,
}

/// Names a cause tree otherwise, and changes its facts.
#[utoipa::path(put, path = "/api/cause-trees/{id}", tag = "cause trees", params(("id" = Uuid, Path)),
    request_body = TreeChange, responses(
    (status = 204), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: it was changed since that version"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn change_tree(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(TreeChange { version, name, facts }): Body<TreeChange>,
) -> Result<StatusCode, Problem> {
    let by = (person.id, Utc::now().trunc_subsecs(6));
    kept::change(&app.pool, id, version, (&name, &facts), by).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Changes ideas of a tree, all of them or none.
#[utoipa::path(post, path = "/api/cause-trees/{id}/ideas", tag = "cause trees", params(("id" = Uuid, Path)),
    request_body = [IdeaChange], responses(
    (status = 200, body = [IdeaVersion]), (status = 404, body = Problem, description = "`missing`: the tree, an idea"),
    (status = 409, body = Problem, description = "`changed`: somebody else changed an idea since it was seen"),
    (status = 422, body = Problem, description = "`field_refused`: what would come of it is no tree")))]
pub async fn change_ideas(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(changes): Body<Vec<IdeaChange>>,
) -> Result<Json<Vec<IdeaVersion>>, Problem> {
    Ok(Json(kept::change_ideas(&app.pool, id, &changes, (person.id, Utc::now().trunc_subsecs(6))).await?))
}

/// A copy of a tree.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TreeToCopy {
    /// What the copy is called.
    name: String,
}

/// Makes a copy for the next team.
#[utoipa::path(post, path = "/api/cause-trees/{id}/copy", tag = "cause trees", params(("id" = Uuid, Path)),
    request_body = TreeToCopy, responses(
    (status = 201, body = Created), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn copy_tree(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(TreeToCopy { name }): Body<TreeToCopy>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let id = kept::copy(&app.pool, id, &name, (person.id, Utc::now().trunc_subsecs(6))).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// A cause for the catalogue.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct IdeaToCatalogue {
    /// The idea, which was found true.
    idea: Uuid,
    /// What the cause is called there.
    name: String,
    group: CauseGroup,
}

/// Puts a cause that was found true into the catalogue of causes.
#[utoipa::path(post, path = "/api/cause-trees/{id}/catalogue", tag = "cause trees", params(("id" = Uuid, Path)),
    request_body = IdeaToCatalogue, responses(
    (status = 201, body = Created), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`taken`: there is a cause of that name"),
    (status = 422, body = Problem, description = "`field_refused`: it was not found true")))]
pub async fn catalogue_idea(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(IdeaToCatalogue { idea, name, group }): Body<IdeaToCatalogue>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let by = (person.id, Utc::now().trunc_subsecs(6));
    let id = kept::to_catalogue(&app.pool, id, idea, (&name, group), by).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}
