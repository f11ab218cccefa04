//! Tables as files.

use axum::http::header;
use axum::response::{IntoResponse, Response};
use formats::table::Table;

use crate::problem::Problem;

const SHEET: &str = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

/// A table as CSV.
///
/// # Errors
/// When it cannot be written to memory.
pub(crate) fn csv(table: &Table, name: &str) -> Result<Response, Problem> {
    let bytes = formats::csv::write(table).map_err(|error| Problem::internal(&error))?;
    Ok(file("text/csv; charset=utf-8", name, bytes))
}

/// A table as a spreadsheet (Office Open XML).
///
/// # Errors
/// When it has more rows or columns than a sheet.
pub(crate) fn sheet(table: &Table, name: &str) -> Result<Response, Problem> {
    let bytes = formats::sheet::write(table).map_err(|error| Problem::internal(&error))?;
    Ok(file(SHEET, name, bytes))
}

/// A table as an open document (OpenDocument).
///
/// # Errors
/// When it cannot be written to memory.
pub(crate) fn open_document(table: &Table, name: &str) -> Result<Response, Problem> {
    let bytes = formats::open_document::write(table).map_err(|error| Problem::internal(&error))?;
    Ok(file("application/vnd.oasis.opendocument.spreadsheet", name, bytes))
}

/// A table as JSON.
///
/// # Errors
/// When it cannot be written to memory.
pub(crate) fn json(table: &Table, name: &str) -> Result<Response, Problem> {
    let bytes = formats::json::write(table).map_err(|error| Problem::internal(&error))?;
    Ok(file("application/json", name, bytes))
}

fn file(kind: &'static str, name: &str, bytes: Vec<u8>) -> Response {
    let disposition = format!("attachment; filename=\"{name}\"");
    ([(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, disposition)], bytes).into_response()
}
