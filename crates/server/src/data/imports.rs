//! Into a characteristic: rows are checked as entries, and brought in.

use std::sync::Arc;

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use intake::{Asked, ReadTable};
use quality::import::{ImportSource, ImportTimes, RefusedRow, StatedTimes};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use store::imports::{
    ChangedRow, Import, ImportFileView, ImportView, Known, Sorted, Started, changed_rows, correct_rows, known,
};
use store::people::Person;
use store::{characteristics, imports as kept, sites};
use utoipa::ToSchema;
use uuid::Uuid;

use super::shaped::beside;
use crate::app::App;
use crate::created::Created;
use crate::failure::Failure;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// What is brought in, and into what.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ToBringIn {
    /// The file that was sent.
    file: Uuid,
    /// As docs/data.md describes it.
    #[schema(value_type = Object)]
    recipe: Value,
    /// Columns that a row is known by again, wherever it stands, at most 20; by its number when left out.
    #[serde(default)]
    key: Vec<String>,
    /// The kept recipe, where it is one.
    recipe_id: Option<Uuid>,
    /// Into this.
    characteristic: Uuid,
    /// The list that the rows belong to, 1 to 200 characters; the file's name when left out. A file that grows is the
    /// same list.
    source: Option<String>,
    /// Tags of the table that are not brought in.
    #[serde(default)]
    without_tags: Vec<String>,
    /// Times for all samples, where the table tells none.
    stated: Option<StatedTimes>,
    /// What is right is brought in, whatever is refused; otherwise all or nothing.
    #[serde(default)]
    only_right: bool,
    /// Many rows that were known differ, and it is the same list all the same.
    #[serde(default)]
    same_list: bool,
}

/// What would come of it.
#[derive(Debug, Serialize, ToSchema)]
pub struct ImportCheck {
    /// What is known of the rows that can be kept.
    #[serde(flatten)]
    known: Known,
    /// So many of the known rows differ that it may be another list.
    looks_like_another: bool,
    /// Rows that are refused in all.
    refused: usize,
    /// The first of them.
    first_refused: Vec<RefusedRow>,
    /// The first of the rows that were stored with other cells: 200 at most.
    first_changed: Vec<ChangedRow>,
    /// When the first was taken.
    from: Option<DateTime<Utc>>,
    /// And the last.
    to: Option<DateTime<Utc>>,
    /// Samples that are there and later than the first of them: they are judged again.
    judged_again: i64,
}

/// Refused rows that are shown.
const SHOWN: usize = 200;

/// Checks what would be brought in, as entries are checked. Nothing is stored.
#[utoipa::path(post, path = "/api/data/check", tag = "data", request_body = ToBringIn, responses(
    (status = 200, body = ImportCheck), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`known_otherwise`"),
    (status = 422, body = Problem, description = "`recipe_refused`; `field_refused`"),
    (status = 429, body = Problem, description = "`busy`")))]
pub async fn check_import(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(asked): Body<ToBringIn>,
) -> Result<Json<ImportCheck>, Problem> {
    let (file, table) = read(&app, &person, &asked).await?;
    let source = asked.source_of(&file);
    let mut conn = app.pool.acquire().await.map_err(store::StoreError::from)?;
    let source = ImportSource { name: source, characteristic: asked.characteristic };
    kept::known_by(&mut conn, source, &asked.key).await?;
    let Sorted { known, changed, from, to, .. } = known(&mut conn, source, &table).await?;
    let first_changed = changed_rows(&mut conn, source, &changed[..changed.len().min(SHOWN)]).await?;
    let judged_again = match from {
        Some(from) => kept::later_than(&mut conn, asked.characteristic, from).await?,
        None => 0,
    };
    Ok(Json(ImportCheck {
        known,
        looks_like_another: known.looks_like_another(),
        refused: table.refused.len(),
        from,
        to,
        judged_again,
        first_refused: table.refused.into_iter().take(SHOWN).collect(),
        first_changed: first_changed.into_iter().map(|(row, _)| row).collect(),
    }))
}

/// Rows of a table that were stored with other cells, and why the samples are corrected.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ToCorrect {
    table: ToBringIn,
    /// Why, in words.
    reason: String,
}

/// What was corrected.
#[derive(Debug, Serialize, ToSchema)]
pub struct CorrectedRows {
    /// Samples that say what their rows say now.
    corrected: usize,
}

/// Corrects the samples of rows that were stored with other cells: the first 200 of them, each as if it were corrected by
/// hand. Asked again it goes on with the next.
#[utoipa::path(post, path = "/api/data/corrections", tag = "data", request_body = ToCorrect, responses(
    (status = 200, body = CorrectedRows), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: a sample was changed meanwhile; those before it are corrected"),
    (status = 422, body = Problem, description = "`recipe_refused`; `field_refused`"),
    (status = 429, body = Problem, description = "`busy`")))]
pub async fn correct_by_table(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(ToCorrect { table, reason }): Body<ToCorrect>,
) -> Result<Json<CorrectedRows>, Problem> {
    let (file, read) = read(&app, &person, &table).await?;
    let source = ImportSource { name: table.source_of(&file), characteristic: table.characteristic };
    let mut conn = app.pool.acquire().await.map_err(store::StoreError::from)?;
    let changed = known(&mut conn, source, &read).await?.changed;
    drop(conn);
    let corrected = correct_rows(&app.pool, source, &changed, (&person, Utc::now()), &reason).await?;
    Ok(Json(CorrectedRows { corrected }))
}

/// Brings samples in. Few are there at once; many are judged aside and come at one moment.
#[utoipa::path(post, path = "/api/data/imports", tag = "data", request_body = ToBringIn, responses(
    (status = 201, body = Created), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`another_list`; `known_otherwise`; `event_there`; `in_a_run`"),
    (status = 422, body = Problem, description = "`recipe_refused`; `field_refused`; `cells_refused`; `rows_refused`"),
    (status = 429, body = Problem, description = "`busy`")))]
pub async fn bring_in(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(asked): Body<ToBringIn>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let (file, table) = read(&app, &person, &asked).await?;
    if !asked.only_right && !table.cells.is_empty() {
        return Err(Failure::CellsRefused { cells: table.cells.len() }.into());
    }
    if !asked.only_right && !table.refused.is_empty() {
        return Err(Failure::RowsRefused { rows: table.refused.into_iter().take(SHOWN).collect() }.into());
    }
    let name = asked.source_of(&file).to_owned();
    let import = Import {
        characteristic: asked.characteristic,
        source: name,
        file: (file.name, file.digest),
        recipe: asked.recipe,
        key: asked.key,
        recipe_id: asked.recipe_id,
        stated: asked.stated,
        same_list: asked.same_list,
        person: person.id,
        at: Utc::now(),
    };
    let Started { id, left } = kept::start(&app.pool, &import, Arc::new(table)).await?;
    if let Some(left) = left {
        // Longer than a request lasts. Where it fails nobody copies any more, and the import is given up.
        tokio::spawn(async move {
            if let Err(error) = left.bring_in(&app.pool).await {
                tracing::warn!(%error, %id, "samples could not be brought in");
            }
        });
    }
    Ok((StatusCode::CREATED, Json(Created { id })))
}

impl ToBringIn {
    fn source_of<'a>(&'a self, file: &'a ImportFileView) -> &'a str {
        self.source.as_deref().map(str::trim).filter(|source| !source.is_empty()).unwrap_or(&file.name)
    }
}

/// A file, read by its recipe and checked for its characteristic.
async fn read(app: &App, person: &Person, asked: &ToBringIn) -> Result<(ImportFileView, ReadTable), Problem> {
    let (file, content) = kept::file(&app.pool, asked.file, person.id).await?;
    kept::source_name(asked.source_of(&file))?;
    if asked.stated.is_some_and(|stated| stated.every_seconds == 0) {
        let allowed = quality::field::Allowed::Whole { least: 1, most: u32::MAX };
        return Err(quality::field::WrongField::new("stated.every_seconds", allowed).into());
    }
    let setup = characteristics::find(&app.pool, asked.characteristic).await?;
    let zone = sites::calendar(&app.pool).await?.zone;
    let told = Asked {
        recipe: asked.recipe.clone(),
        key: asked.key.clone(),
        without_tags: asked.without_tags.clone(),
        list: asked.source_of(&file).to_owned(),
        into: (asked.characteristic, setup.characteristic),
        times: ImportTimes { zone, stated: asked.stated },
        now: Utc::now(),
    };
    let table = beside(app, move || intake::read(&content, told)).await?.map_err(Failure::from)?;
    Ok((file, table))
}

/// Imports that are listed.
const LISTED: i64 = 200;

/// What was brought in, newest first.
#[utoipa::path(get, path = "/api/data/imports", tag = "data", responses((status = 200, body = [ImportView])))]
pub async fn imports(State(app): State<App>) -> Result<Json<Vec<ImportView>>, Problem> {
    Ok(Json(kept::imports(&app.pool, LISTED).await?))
}

/// An import, and how far it is.
#[utoipa::path(get, path = "/api/data/imports/{id}", tag = "data", params(("id" = Uuid, Path)), responses(
    (status = 200, body = ImportView), (status = 404, body = Problem, description = "`missing`")))]
pub async fn import(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<ImportView>, Problem> {
    Ok(Json(kept::import(&app.pool, id).await?))
}

/// Cancels an import that waits or is under way; nothing of it is kept.
#[utoipa::path(delete, path = "/api/data/imports/{id}", tag = "data", params(("id" = Uuid, Path)), responses(
    (status = 204), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: it is done already")))]
pub async fn cancel_import(State(app): State<App>, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    kept::cancel(&app.pool, id).await?;
    Ok(StatusCode::NO_CONTENT)
}
