//! Tables as CSV (RFC 4180): a line of names, then a line a row, UTF-8, CRLF at the end of each.
//!
//! A moment is written as RFC 3339 in UTC; a number with the fewest digits that give it back. A spreadsheet reads a text
//! that begins with `=`, `+`, `@`, a tab or a carriage return as a formula to compute: such a text gets an apostrophe
//! before it, by which spreadsheets know a text.

use chrono::SecondsFormat;

use crate::table::{Cell, Table};

/// What a text begins with that a spreadsheet computes.
const COMPUTED: [char; 5] = ['=', '+', '@', '\t', '\r'];

/// The table as CSV. What it is about stands in its title and is not part of it.
///
/// # Errors
/// When it cannot be written to memory.
pub fn write(table: &Table) -> Result<Vec<u8>, csv::Error> {
    let mut writer = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    writer.write_record(&table.columns)?;
    for row in &table.rows {
        writer.write_record(row.iter().map(text))?;
    }
    writer.into_inner().map_err(|error| error.into_error().into())
}

fn text(cell: &Cell) -> String {
    match cell {
        Cell::Empty => String::new(),
        Cell::Text(text) if text.starts_with(COMPUTED) => format!("'{text}"),
        Cell::Text(text) => text.clone(),
        Cell::Number(number) => number.to_string(),
        Cell::Time(at) => at.to_rfc3339_opts(SecondsFormat::Micros, true),
    }
}
