//! Control charts.

use axum::extract::State;
use axum::http::StatusCode;
use axum::response::Response;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use formats::file_name;
use formats::table::Table;
use quality::trust::TrustView;
use serde::Deserialize;
use spc::chart::ChartKind;
use store::charts::{Asked, ChartView, DRAWN, DRAWN_AT_MOST, PLACES_AT_MOST, SmallAsked, SmallChart};
use store::looking::{Arrange, LookAt, Looked, OtherRules};
use store::people::Person;
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::chart_table::table;
use crate::handed_out;
use crate::json::{Path, Query};
use crate::problem::Problem;

/// Which stretch of a chart.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Stretch {
    /// How many points at most, 1 to 100 000, the latest of the stretch; when left out 60, or as many as there are
    /// from where it begins.
    last: Option<u32>,
    /// A sample to end at, with a few points after it; the newest when left out.
    until: Option<Uuid>,
    /// The number of the sample to begin at.
    from: Option<i64>,
    /// The number of the sample to end at.
    to: Option<i64>,
    /// Taken at this time or later.
    since: Option<DateTime<Utc>>,
    /// Taken before this time.
    before: Option<DateTime<Utc>>,
    /// How many points there is room to draw, 1 to 4000; 2000 when left out. Where more lie in the stretch, those that
    /// are flagged and the outline of the others are sent.
    drawn: Option<usize>,
}

/// So many points are shown where it is not said how many.
const SHOWN: u32 = 60;

impl From<Stretch> for Asked {
    fn from(stretch: Stretch) -> Self {
        let Stretch { last, until, from, to, since, before, drawn } = stretch;
        let usual = if from.is_some() || since.is_some() { PLACES_AT_MOST } else { SHOWN };
        Self {
            last: last.unwrap_or(usual),
            until,
            from,
            to,
            since,
            before,
            drawn: drawn.unwrap_or(DRAWN).clamp(1, DRAWN_AT_MOST),
        }
    }
}

/// The chart of a characteristic: points against the limits that held, episodes of its signals as they were raised.
#[utoipa::path(get, path = "/api/characteristics/{id}/chart", tag = "charts", params(("id" = Uuid, Path), Stretch),
    responses((status = 200, body = ChartView), (status = 404, body = Problem, description = "`missing`")))]
pub async fn chart(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(stretch): Query<Stretch>,
) -> Result<Json<ChartView>, Problem> {
    Ok(Json(store::charts::view(&app.pool, id, &stretch.into()).await?))
}

/// The points of a stretch of a chart, all of them, as CSV (RFC 4180): a row a sample, with what was recorded and how it
/// stands under the lines that hold there.
#[utoipa::path(get, path = "/api/characteristics/{id}/chart.csv", tag = "charts", params(("id" = Uuid, Path), Stretch),
    responses((status = 200, content_type = "text/csv", body = String),
    (status = 404, body = Problem, description = "`missing`")))]
pub async fn chart_csv(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(stretch): Query<Stretch>,
) -> Result<Response, Problem> {
    let table = points(&app, id, stretch).await?;
    handed_out::csv(&table, &file_name(&table.title, "csv"))
}

/// The same as a spreadsheet (Office Open XML), with a sheet that says what is charted and under which limits.
#[utoipa::path(get, path = "/api/characteristics/{id}/chart.xlsx", tag = "charts", params(("id" = Uuid, Path), Stretch),
    responses((status = 200, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    body = Vec<u8>), (status = 404, body = Problem, description = "`missing`")))]
pub async fn chart_sheet(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(stretch): Query<Stretch>,
) -> Result<Response, Problem> {
    let table = points(&app, id, stretch).await?;
    handed_out::sheet(&table, &file_name(&table.title, "xlsx"))
}

async fn points(app: &App, id: Uuid, stretch: Stretch) -> Result<Table, Problem> {
    let asked = Asked { drawn: PLACES_AT_MOST as usize, ..stretch.into() };
    Ok(table(&store::charts::view(&app.pool, id, &asked).await?))
}

/// Which points of each small chart.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct SmallStretch {
    /// How many of the last points, 1 to 10 000; 40 when left out, or as many as there are since a time.
    last: Option<u32>,
    /// Taken at this time or later.
    since: Option<DateTime<Utc>>,
}

/// So many points a small chart has where it is not said how many.
const SMALL_SHOWN: u32 = 40;

/// A small chart of each characteristic, those that are hidden left out; for a reader those of their areas.
#[utoipa::path(get, path = "/api/charts", tag = "charts", params(SmallStretch),
    responses((status = 200, body = [SmallChart])))]
pub async fn small_charts(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(SmallStretch { last, since }): Query<SmallStretch>,
) -> Result<Json<Vec<SmallChart>>, Problem> {
    let last = last.unwrap_or(if since.is_some() { PLACES_AT_MOST } else { SMALL_SHOWN });
    let asked = SmallAsked { last, since };
    Ok(Json(store::charts::small(&app.pool, Some(person.id), person.sees_only(), &asked).await?))
}

/// Pins a chart for oneself.
#[utoipa::path(put, path = "/api/characteristics/{id}/pin", tag = "charts", params(("id" = Uuid, Path)),
    responses((status = 204), (status = 404, body = Problem, description = "`missing`")))]
pub async fn pin_chart(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::charts::pin(&app.pool, person.id, id, true).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes the pin away.
#[utoipa::path(delete, path = "/api/characteristics/{id}/pin", tag = "charts", params(("id" = Uuid, Path)),
    responses((status = 204)))]
pub async fn unpin_chart(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::charts::pin(&app.pool, person.id, id, false).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// How to look.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct How {
    /// Another kind of chart; the own one when left out.
    chart: Option<ChartKind>,
    /// The tag whose values are told apart.
    tag: Option<String>,
    /// How they are; side by side when left out.
    #[serde(default)]
    arrange: Arrange,
    /// Limits of all points for all values, not those of each.
    #[serde(default)]
    common: bool,
    /// How many of the latest points, at most 2000; 200 when left out.
    last: Option<u32>,
    /// Limits at so many sigma, above 0 up to 10; the own ones when left out.
    k: Option<f64>,
    /// A preset, or the identity of a named set; the own rules when left out.
    #[param(value_type = Option<String>)]
    rules: Option<OtherRules>,
    /// Of what was counted, this kind of defect alone, by its name.
    defect: Option<String>,
}

/// Points looked at otherwise than they are judged: on another kind of chart, at other limits, by other
/// rules, or split by a tag. Limits are computed
/// from the points shown; nothing is changed, and nothing raised.
#[utoipa::path(get, path = "/api/characteristics/{id}/look", tag = "charts", params(("id" = Uuid, Path), How),
    responses((status = 200, body = Looked), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn look(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(how): Query<How>,
) -> Result<Json<Looked>, Problem> {
    let How { chart, tag, arrange, common, last, k, rules, defect } = how;
    let at = LookAt { chart, tag, arrange, common, last: last.unwrap_or(200), k, rules, defect };
    Ok(Json(store::looking::look(&app.pool, id, &at).await?))
}

/// Whether a chart can be trusted: checks of its latest phase, as facts; null while there is no point.
#[utoipa::path(get, path = "/api/characteristics/{id}/trust", tag = "charts", params(("id" = Uuid, Path)),
    responses((status = 200, body = Option<TrustView>), (status = 404, body = Problem, description = "`missing`")))]
pub async fn trust(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<Option<TrustView>>, Problem> {
    Ok(Json(store::charts::trust(&app.pool, id).await?))
}
