//! Reports: to be read and printed, or as files.

use axum::extract::State;
use axum::response::Response;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use serde::Deserialize;
use store::people::Person;
use store::reports::{Asked, Report, ReportKind};
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::handed_out;
use crate::json::{Query, bounded};
use crate::problem::Problem;
use crate::report_table::table;

/// What to report; what is left out does not narrow it.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct WhichReport {
    /// What it tells of.
    report: ReportKind,
    /// From then on.
    from: DateTime<Utc>,
    /// Before then.
    until: DateTime<Utc>,
    /// Only of this area.
    area: Option<Uuid>,
    /// Only of this station.
    station: Option<Uuid>,
    /// Only of this characteristic.
    characteristic: Option<Uuid>,
    /// Only of the levels of this analyte.
    analyte: Option<Uuid>,
}

/// The report that whoever asks may see.
async fn made(app: &App, person: &Person, which: WhichReport) -> Result<Report, Problem> {
    let asked = Asked {
        kind: which.report,
        from: bounded(which.from),
        until: bounded(which.until),
        area: which.area,
        station: which.station,
        characteristic: which.characteristic,
        analyte: which.analyte,
        within: person.sees_only().map(<[Uuid]>::to_vec),
    };
    Ok(store::reports::make(&app.pool, &asked, person, Utc::now()).await?)
}

/// A report of a period, whole: at most 5,000 lines; for a reader what concerns their areas.
#[utoipa::path(get, path = "/api/report", tag = "reports", params(WhichReport), responses(
    (status = 200, body = Report),
    (status = 422, body = Problem, description = "`field_refused`: a period that ends before it begins, or more lines")))]
pub async fn report(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<WhichReport>,
) -> Result<Json<Report>, Problem> {
    Ok(Json(made(&app, &person, which).await?))
}

/// The same as a table (CSV, RFC 4180).
#[utoipa::path(get, path = "/api/report.csv", tag = "reports", params(WhichReport), responses(
    (status = 200, content_type = "text/csv", body = String),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn report_csv(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<WhichReport>,
) -> Result<Response, Problem> {
    let table = table(&made(&app, &person, which).await?);
    handed_out::csv(&table, "report.csv")
}

/// The same as a spreadsheet (Office Open XML), with a sheet that says what was asked for, by whom, when, and the seal.
#[utoipa::path(get, path = "/api/report.xlsx", tag = "reports", params(WhichReport), responses(
    (status = 200, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", body = Vec<u8>),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn report_sheet(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<WhichReport>,
) -> Result<Response, Problem> {
    let table = table(&made(&app, &person, which).await?);
    handed_out::sheet(&table, "report.xlsx")
}
