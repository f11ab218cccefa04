//! Samples handed out as a table, in the shape that is asked for.

use axum::extract::State;
use axum::response::Response;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use formats::file_name;
use formats::layout::{CellOf, Layout, Outgoing, Written, WrongLayout, lay, recipe};
use formats::table::Table;
use quality::field::{Allowed, NAME_AT_MOST, WrongField};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use store::people::Person;
use store::sites;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use super::outgoing::{Beside, Selected, Which, called, outgoing, select};
use super::shaped::beside;
use crate::app::App;
use crate::handed_out;
use crate::json::Query;
use crate::problem::Problem;

/// A shape of a table.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum HandedShape {
    /// A row a sample, its readings in several columns.
    Across,
    /// A column a sample, its readings below each other.
    Down,
    /// A row a reading.
    Grouped,
    /// Values of two tags, and something of the samples that have both.
    Crossed,
}

/// What of several samples stands in a cell.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum HandedCell {
    /// The mean of all readings, or of what each counted.
    #[default]
    Mean,
    /// The smallest.
    Smallest,
    /// The largest.
    Largest,
    /// How many samples recorded something.
    Samples,
}

/// How a table is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum HandedFormat {
    /// RFC 4180.
    Csv,
    /// Office Open XML.
    Xlsx,
    /// OpenDocument.
    Ods,
    /// An array of objects.
    Json,
}

/// Which samples, in which shape.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct HandOut {
    /// Characteristics: 1 to 50 ids, parted by commas.
    of: String,
    /// Taken at this time or later.
    since: Option<DateTime<Utc>>,
    /// Taken before this time.
    before: Option<DateTime<Utc>>,
    /// The latest of each characteristic alone, 1 to 100 000.
    last: Option<u32>,
    /// Only samples that have this tag.
    tag: Option<String>,
    /// With this value of it.
    value: Option<String>,
    /// Samples that are set aside are left out.
    #[serde(default)]
    without_aside: bool,
    /// The shape.
    #[param(inline)]
    shape: HandedShape,
    /// The tag of the rows, in `crossed`.
    rows: Option<String>,
    /// The tag of the columns, in `crossed`.
    columns: Option<String>,
    /// What stands in a cell, in `crossed`; the mean when left out.
    #[serde(default)]
    #[param(inline)]
    cell: HandedCell,
    /// Value and lines of each panel stand beside each sample.
    #[serde(default)]
    limits: bool,
    /// Rules that are broken there.
    #[serde(default)]
    signals: bool,
    /// What was answered.
    #[serde(default)]
    answers: bool,
    /// How it is written.
    #[serde(rename = "as")]
    #[param(inline)]
    written: HandedFormat,
}

/// Characteristics that go into one table at most.
const CHARACTERISTICS_AT_MOST: usize = 50;

impl HandOut {
    fn of(&self) -> Result<Vec<Uuid>, WrongField> {
        let ids: Option<Vec<Uuid>> = self.of.split(',').map(|id| id.trim().parse().ok()).collect();
        let most = CHARACTERISTICS_AT_MOST;
        ids.filter(|ids| ids.len() <= most).ok_or(WrongField::new("of", Allowed::Entries { least: 1, most }))
    }

    fn layout(&self) -> Result<Layout, WrongField> {
        let tag = |field: &'static str, given: &Option<String>| {
            let given = given.as_deref().map(str::trim).filter(|tag| !tag.is_empty());
            given.map(str::to_owned).ok_or(WrongField::new(field, Allowed::Name { most: NAME_AT_MOST }))
        };
        Ok(match self.shape {
            HandedShape::Across => Layout::Across,
            HandedShape::Down => Layout::Down,
            HandedShape::Grouped => Layout::Grouped,
            HandedShape::Crossed => Layout::Crossed {
                rows: tag("rows", &self.rows)?,
                columns: tag("columns", &self.columns)?,
                cell: match self.cell {
                    HandedCell::Mean => CellOf::Mean,
                    HandedCell::Smallest => CellOf::Smallest,
                    HandedCell::Largest => CellOf::Largest,
                    HandedCell::Samples => CellOf::Samples,
                },
            },
        })
    }

    fn which<'a>(&'a self, seen: Option<&'a [Uuid]>) -> Which<'a> {
        let Self { since, before, last, tag, value, without_aside, .. } = self;
        Which {
            since: *since,
            before: *before,
            last: *last,
            tag: tag.as_deref().filter(|tag| !tag.is_empty()),
            value: value.as_deref().filter(|value| !value.is_empty()),
            without_aside: *without_aside,
            seen,
        }
    }
}

impl From<HandedFormat> for Written {
    fn from(format: HandedFormat) -> Self {
        match format {
            HandedFormat::Csv => Self::Csv,
            HandedFormat::Xlsx => Self::Xlsx,
            HandedFormat::Ods => Self::Ods,
            HandedFormat::Json => Self::Json,
        }
    }
}

/// What a shape cannot hold, as a field that cannot be so.
fn refused(wrong: WrongLayout) -> WrongField {
    match wrong {
        WrongLayout::OnlyReadings => WrongField::new("shape", Allowed::RowASample),
        WrongLayout::TooManyColumns { most, .. } => WrongField::new("shape", Allowed::Columns { most }),
    }
}

/// Lays out what is asked for, and does something with it, beside the requests of others: there may be many samples.
async fn laid<T: Send + 'static>(
    app: &App,
    person: &Person,
    asked: &HandOut,
    work: impl FnOnce(&Outgoing, &Layout, &Table) -> T + Send + 'static,
) -> Result<T, Problem> {
    let layout = asked.layout()?;
    let mut selected: Vec<Selected> = vec![];
    let which = asked.which(person.sees_only());
    for id in asked.of()? {
        let before = selected.iter().map(|one| one.places.len()).sum();
        selected.push(select(&app.pool, id, &which, (before, asked.answers)).await?);
    }
    let zone = sites::calendar(&app.pool).await?.zone;
    let what = Beside { limits: asked.limits, signals: asked.signals, answers: asked.answers };
    let done = beside(app, move || {
        let out = outgoing(&selected, what, zone);
        let table = lay(&out, &layout).map_err(refused)?;
        Ok::<_, WrongField>(work(&out, &layout, &table))
    });
    Ok(done.await??)
}

/// Samples as a table: a row a sample, a column a sample, a row a reading, or a matrix of two tags. Times are those of
/// the site's clock. At most 200,000 samples.
#[utoipa::path(get, path = "/api/data/samples", tag = "data", params(HandOut), responses(
    (status = 200, content_type = "application/octet-stream", body = Vec<u8>),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`"),
    (status = 429, body = Problem, description = "`busy`")))]
pub async fn hand_out(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(asked): Query<HandOut>,
) -> Result<Response, Problem> {
    let written = asked.written;
    laid(&app, &person, &asked, move |_, _, table| write(table, written)).await?
}

fn write(table: &Table, written: HandedFormat) -> Result<Response, Problem> {
    let name = |ending| file_name(&table.title, ending);
    match written {
        HandedFormat::Csv => handed_out::csv(table, &name("csv")),
        HandedFormat::Xlsx => handed_out::sheet(table, &name("xlsx")),
        HandedFormat::Ods => handed_out::open_document(table, &name("ods")),
        HandedFormat::Json => handed_out::json(table, &name("json")),
    }
}

/// How a table that was handed out comes in again.
#[derive(Debug, Serialize, ToSchema)]
pub struct HandedRecipe {
    characteristic: Uuid,
    name: String,
    /// As docs/data.md describes it.
    #[schema(value_type = Object)]
    recipe: Value,
}

/// The recipes by which a table that is handed out so comes in again, equal to the last digit: one a characteristic;
/// none where its shape leaves out what the samples were.
#[utoipa::path(get, path = "/api/data/samples/recipes", tag = "data", params(HandOut), responses(
    (status = 200, body = [HandedRecipe]),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`"),
    (status = 429, body = Problem, description = "`busy`")))]
pub async fn handed_recipes(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(asked): Query<HandOut>,
) -> Result<Json<Vec<HandedRecipe>>, Problem> {
    let ids = asked.of()?;
    let mut named = vec![];
    for id in &ids {
        named.push((*id, called(&store::characteristics::find(&app.pool, *id).await?)));
    }
    let written = asked.written.into();
    let several = ids.len() > 1;
    let all = laid(&app, &person, &asked, move |out, layout, _| {
        let of = |(characteristic, name): (Uuid, String)| {
            let recipe = recipe(out, layout, written, several.then_some(name.as_str()))?;
            Some(HandedRecipe { characteristic, name, recipe })
        };
        named.into_iter().filter_map(of).collect::<Vec<_>>()
    });
    Ok(Json(all.await?))
}
