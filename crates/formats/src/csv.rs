//! Tables as CSV (RFC 4180): a line of names, then a line a row, UTF-8, CRLF at the end of each.
//!
//! What is read may be parted by commas, semicolons or tabs, whichever the line of names holds most of.
//!
//! A moment is written as RFC 3339 in UTC; a number with the fewest digits that give it back. A spreadsheet reads a text
//! that begins with `=`, `+`, `-`, `@`, a tab or a carriage return as a formula to compute: such a text gets an apostrophe
//! before it, by which spreadsheets know a text.

use std::borrow::Cow;

use chrono::SecondsFormat;
use serde::de::DeserializeOwned;

use crate::table::{CLOCK, Cell, Table};

/// What a text begins with that a spreadsheet computes.
const COMPUTED: [char; 6] = ['=', '+', '-', '@', '\t', '\r'];

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
        Cell::Clock(at) => at.format(CLOCK).to_string(),
    }
}

/// A file that cannot be read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unreadable {
    /// Its line, from 1; the line of names is the first.
    pub line: usize,
    /// What the reader says of it.
    pub detail: String,
}

/// Rows by the names of their columns; an empty cell is nothing.
///
/// # Errors
/// At the first row that is not of the form, or that has more or fewer cells than there are names.
pub fn read<T: DeserializeOwned>(text: &str) -> Result<Vec<T>, Unreadable> {
    let names = text.lines().next().unwrap_or_default();
    let parts = [b',', b';', b'\t'];
    let many = |part: &u8| names.bytes().filter(|byte| byte == part).count();
    // The first of those that are as many.
    let part = parts.into_iter().rev().max_by_key(many).unwrap_or(b',');
    let unreadable = |error: csv::Error| {
        let line = error.position().map_or(1, csv::Position::line);
        Unreadable { line: usize::try_from(line).unwrap_or(usize::MAX), detail: error.to_string() }
    };
    let mut reader = csv::ReaderBuilder::new().delimiter(part).trim(csv::Trim::All).from_reader(text.as_bytes());
    let headers = reader.headers().map_err(unreadable)?.clone();
    let row = |record: csv::Result<csv::StringRecord>| {
        let record = record?;
        let mut cells: csv::StringRecord = record.iter().map(|cell| number(cell, part)).collect();
        cells.set_position(record.position().cloned());
        cells.deserialize(Some(&headers))
    };
    reader.records().map(row).collect::<Result<Vec<T>, _>>().map_err(unreadable)
}

/// A cell as it stands; where commas part no cells, a number with a decimal comma gets a point.
fn number(cell: &str, part: u8) -> Cow<'_, str> {
    let with_point = cell.replacen(',', ".", 1);
    let is_number = part != b',' && !cell.contains('.') && with_point.parse::<f64>().is_ok();
    if is_number { with_point.into() } else { cell.into() }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use rstest::rstest;
    use serde::Deserialize;

    use super::*;

    #[derive(Debug, PartialEq, Deserialize)]
    struct Row {
        name: String,
        n: Option<f64>,
    }

    #[rstest]
    #[case::commas("name,n\r\na,1.5\r\nb,\r\n")]
    #[case::semicolons("name;n\n\"a\";1,5\nb;\n")]
    #[case::tabs_in_another_order("n\tname\n1.5\ta\n\tb")]
    fn rows_are_read_by_the_names_of_their_columns(#[case] text: &str) {
        let rows: Vec<Row> = read(text).unwrap();
        assert_eq!(rows, [Row { name: "a".into(), n: Some(1.5) }, Row { name: "b".into(), n: None }]);
    }

    #[rstest]
    #[case::no_number("name,n\na,1\nb,two\n", 3)]
    #[case::a_cell_too_many("name,n\na,1,2\n", 2)]
    fn what_cannot_be_read_is_named_by_its_line(#[case] text: &str, #[case] line: usize) {
        assert_eq!(read::<Row>(text).unwrap_err().line, line);
    }
}
