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

/// A name that any system takes for a file, of what it holds.
pub(crate) fn name(of: &str, ending: &str) -> String {
    let words = of.split(|c: char| !c.is_ascii_alphanumeric()).filter(|word| !word.is_empty());
    let name = words.collect::<Vec<_>>().join("-").to_lowercase();
    format!("{}.{ending}", if name.is_empty() { "table" } else { &name })
}

fn file(kind: &'static str, name: &str, bytes: Vec<u8>) -> Response {
    let disposition = format!("attachment; filename=\"{name}\"");
    ([(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, disposition)], bytes).into_response()
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::name;

    #[rstest]
    #[case::plain("Wall thickness", "wall-thickness.csv")]
    #[case::signs("Ø 3/8\" \r\n..\\ (left)", "3-8-left.csv")]
    #[case::nothing_left("厚度", "table.csv")]
    fn a_file_is_named_after_what_it_holds(#[case] of: &str, #[case] named: &str) {
        assert_eq!(name(of, "csv"), named);
    }
}
