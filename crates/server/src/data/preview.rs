//! A file under a recipe: the sheet, and the samples as they will be.

use axum::extract::State;
use axum::{Extension, Json};
use chrono::NaiveDateTime;
use formats::shape::{Content, RawTable, Recipe, RefusedCell, Sample, Shaped, WrongRecipe, draw};
use intake::{Suits, suits};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::BTreeMap;
use store::people::Person;
use utoipa::ToSchema;
use uuid::Uuid;

use super::shaped::beside;
use crate::app::App;
use crate::failure::Failure;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// A recipe to look through.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WithRecipe {
    /// As docs/data.md describes it.
    #[schema(value_type = Object)]
    recipe: Value,
}

/// A row of the sheet.
#[derive(Debug, Serialize, ToSchema)]
pub struct SheetRow {
    /// Its number in the sheet, from 1.
    number: u32,
    /// Texts of its cells.
    cells: Vec<String>,
}

/// A sample as it will be.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShapedSample {
    /// The number of its first row in the sheet; nothing for a period without records.
    row: Option<u32>,
    /// As the table tells it, on the site's clock.
    time: Option<NaiveDateTime>,
    /// Readings; none in a gap, and of counted things.
    values: Vec<Option<f64>>,
    /// Things counted.
    count: Option<f64>,
    /// Of how many.
    inspected: Option<f64>,
    /// Counts by kind.
    kinds: BTreeMap<String, f64>,
    /// By name.
    tags: BTreeMap<String, String>,
}

/// A file under a recipe.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShapePreview {
    /// Names of the columns; by number where nothing stands above them.
    columns: Vec<String>,
    /// The first rows of the sheet, those above the data too.
    sheet: Vec<SheetRow>,
    /// Rows of data.
    rows: usize,
    /// Samples in all.
    samples: usize,
    /// Gaps among them.
    gaps: usize,
    /// The first samples.
    first: Vec<ShapedSample>,
    /// What is drawn of the samples, or of every so manieth: nothing for gaps.
    points: Vec<Option<f64>>,
    /// One point stands for so many samples.
    each: usize,
    /// Cells that are refused in all.
    refused: usize,
    /// The first of them.
    first_refused: Vec<RefusedCell>,
    /// Whether every sample that is no gap has a time.
    has_times: bool,
    /// What a characteristic has to be for these samples.
    suits: Suits,
}

/// Rows of the sheet that are shown.
const SHEET_ROWS: usize = 120;

/// Samples, and refused cells, that are shown.
const SHOWN: usize = 200;

/// Points that are drawn.
const POINTS: usize = 600;

/// Shows a file under a recipe: the sheet, the samples as they will be, and the cells that are refused. Nothing is
/// stored.
#[utoipa::path(post, path = "/api/data/files/{id}/preview", tag = "data", params(("id" = Uuid, Path)),
    request_body = WithRecipe, responses(
    (status = 200, body = ShapePreview), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`recipe_refused`"),
    (status = 429, body = Problem, description = "`busy`")))]
pub async fn preview_table(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(WithRecipe { recipe }): Body<WithRecipe>,
) -> Result<Json<ShapePreview>, Problem> {
    let (_, content) = store::imports::file(&app.pool, id, person.id).await?;
    let seen = beside(&app, move || preview(&content, &recipe)).await?.map_err(Failure::from)?;
    Ok(Json(seen))
}

fn preview(content: &[u8], recipe: &Value) -> Result<ShapePreview, WrongRecipe> {
    let recipe = Recipe::from_json(&recipe.to_string())?;
    let table = RawTable::open(content, &recipe.read)?;
    let Shaped { rows, samples, refused } = draw(&recipe, &table)?;
    let each = samples.len().div_ceil(POINTS).max(1);
    Ok(ShapePreview {
        columns: (0..table.header.width()).map(|column| table.header.name(column)).collect(),
        sheet: table.first_texts(SHEET_ROWS).map(|(number, cells)| SheetRow { number, cells }).collect(),
        rows,
        samples: samples.len(),
        gaps: samples.iter().filter(Sample::is_gap).count(),
        first: samples.iter().take(SHOWN).map(|sample| shaped(&sample)).collect(),
        points: samples.iter().step_by(each).map(|sample| sample.drawn()).collect(),
        each,
        refused: refused.len(),
        suits: suits(&samples),
        has_times: samples.iter().all(|sample| sample.is_gap() || sample.time().is_some()),
        first_refused: refused.into_iter().take(SHOWN).collect(),
    })
}

fn shaped(sample: &Sample<'_>) -> ShapedSample {
    let (values, count, inspected) = match sample.content() {
        Content::Readings(values) => (values.iter().map(|x| (!x.is_nan()).then_some(*x)).collect(), None, None),
        Content::Counted { count, inspected } => (vec![], count, inspected),
    };
    ShapedSample {
        row: sample.row(),
        time: sample.time(),
        values,
        count,
        inspected,
        kinds: sample.of_kinds().map(|(kind, count)| (kind.to_owned(), count)).collect(),
        tags: sample.tags().map(|(tag, text)| (tag.to_owned(), text.to_owned())).collect(),
    }
}
