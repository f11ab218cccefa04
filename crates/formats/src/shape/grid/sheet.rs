//! Sheets: Office Open XML cell by cell, Open Document as a whole.

use std::io::Cursor;

use calamine::{Data, DataRef, ExcelDateTime, Ods, Reader, Xlsx};
use chrono::{Duration, NaiveDate, NaiveDateTime};

use super::super::recipe::Read;
use super::super::wrong::WrongRecipe;
use super::cells::{COLUMNS_AT_MOST, Filling, Grid, ROWS_AT_MOST, Typed};

/// Rows of a sheet, counted from its first, that are looked at: more are out of bounds whatever stands in them.
fn rows_at_most(read: &Read) -> u32 {
    (ROWS_AT_MOST + read.skip_rows + read.header_rows) as u32
}

/// The name of the sheet that is meant.
fn named(read: &Read, sheets: &[String]) -> Result<String, WrongRecipe> {
    match &read.sheet {
        None => {
            sheets.first().cloned().ok_or_else(|| WrongRecipe::new("read.format", "a file without sheets", "a sheet"))
        }
        Some(name) if sheets.contains(name) => Ok(name.clone()),
        Some(name) => Err(WrongRecipe::new("read.sheet", name, sheets.join(", "))),
    }
}

pub(super) fn broken(error: &dyn std::fmt::Display) -> WrongRecipe {
    WrongRecipe::new(
        "read.format",
        format_args!("a file that cannot be read as one ({error})"),
        "a file of this format",
    )
}

/// A sheet of an Office Open XML file.
pub(super) fn xlsx(bytes: &[u8], read: &Read) -> Result<Grid, WrongRecipe> {
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).map_err(|error| broken(&error))?;
    let sheet = named(read, &book.sheet_names())?;
    let mut cells = book.worksheet_cells_reader(&sheet).map_err(|error| broken(&error))?;
    let mut rows = Rows::new(rows_at_most(read));
    while let Some(cell) = cells.next_cell().map_err(|error| broken(&error))? {
        let grid = &mut rows.grid;
        let typed = match cell.get_value() {
            DataRef::Int(number) => Typed::Number(*number as f64),
            DataRef::Float(number) => Typed::Number(*number),
            DataRef::String(text) => grid.text(text),
            DataRef::SharedString(text) => grid.text(text),
            DataRef::Bool(is) => Typed::Bool(*is),
            DataRef::DateTime(at) => date(grid, at),
            DataRef::DateTimeIso(text) => iso(grid, text),
            DataRef::DurationIso(text) => grid.text(text),
            DataRef::Error(error) => grid.text(&error.to_string()),
            DataRef::Empty => Typed::Blank,
        };
        rows.put(cell.get_position(), typed)?;
    }
    Ok(rows.done())
}

/// Names of its sheets.
pub(super) fn xlsx_sheets(bytes: &[u8]) -> Result<Vec<String>, WrongRecipe> {
    let book: Xlsx<_> = Xlsx::new(Cursor::new(bytes)).map_err(|error| broken(&error))?;
    Ok(book.sheet_names())
}

/// Names of the sheets of an Open Document file.
pub(super) fn ods_sheets(bytes: &[u8]) -> Result<Vec<String>, WrongRecipe> {
    let book: Ods<_> = Ods::new(Cursor::new(bytes)).map_err(|error| broken(&error))?;
    Ok(book.sheet_names())
}

/// A sheet of an Open Document file.
pub(super) fn ods(bytes: &[u8], read: &Read) -> Result<Grid, WrongRecipe> {
    let mut book: Ods<_> = Ods::new(Cursor::new(bytes)).map_err(|error| broken(&error))?;
    let sheet = named(read, &book.sheet_names())?;
    let range = book.worksheet_range(&sheet).map_err(|error| broken(&error))?;
    let (first_row, first_column) = range.start().unwrap_or((0, 0));
    let mut rows = Rows::new(rows_at_most(read));
    for (row, column, cell) in range.used_cells() {
        let grid = &mut rows.grid;
        let typed = match cell {
            Data::Int(number) => Typed::Number(*number as f64),
            Data::Float(number) => Typed::Number(*number),
            Data::String(text) | Data::DurationIso(text) => grid.text(text),
            Data::Bool(is) => Typed::Bool(*is),
            Data::DateTime(at) => date(grid, at),
            Data::DateTimeIso(text) => iso(grid, text),
            Data::Error(error) => grid.text(&error.to_string()),
            Data::Empty => Typed::Blank,
        };
        rows.put((first_row + row as u32, first_column + column as u32), typed)?;
    }
    Ok(rows.done())
}

/// Cells as they come, mostly row by row.
struct Rows {
    grid: Filling,
    cells: Vec<(u32, u32, Typed)>,
    at_most: u32,
}

impl Rows {
    fn new(at_most: u32) -> Self {
        Self { grid: Filling::of_typed(), cells: vec![], at_most }
    }

    fn put(&mut self, (row, column): (u32, u32), cell: Typed) -> Result<(), WrongRecipe> {
        if matches!(cell, Typed::Blank) {
            return Ok(());
        }
        if row >= self.at_most {
            return Err(WrongRecipe::new(
                "read",
                format_args!("a cell in row {}", row + 1),
                format!("at most {ROWS_AT_MOST} rows"),
            ));
        }
        if column as usize >= COLUMNS_AT_MOST {
            return Err(WrongRecipe::new(
                "read",
                format_args!("a cell in column {}", column + 1),
                format!("at most {COLUMNS_AT_MOST} columns"),
            ));
        }
        self.cells.push((row, column, cell));
        Ok(())
    }

    fn done(self) -> Grid {
        let (mut grid, mut cells) = (self.grid, self.cells);
        // A cell that is there twice is what it was last.
        if !cells.is_sorted_by_key(|(row, column, _)| (*row, *column)) {
            cells.sort_by_key(|(row, column, _)| (*row, *column));
        }
        let mut row = vec![];
        for of_row in cells.chunk_by(|one, next| one.0 == next.0) {
            while grid.rows() < of_row[0].0 as usize {
                grid.ends_row();
            }
            row.clear();
            for (_, column, cell) in of_row {
                row.resize((*column as usize + 1).max(row.len()), Typed::Blank);
                row[*column as usize] = *cell;
            }
            grid.typed(&row);
        }
        grid.done()
    }
}

/// A day of a sheet in days; it takes 1900 for a leap year.
fn date(grid: &mut Filling, at: &ExcelDateTime) -> Typed {
    if at.is_duration() {
        return Typed::Number(at.as_f64());
    }
    match at.as_datetime() {
        Some(at) => Typed::Date(nearest_second(at)),
        None => grid.text(&at.as_f64().to_string()),
    }
}

fn nearest_second(at: NaiveDateTime) -> i64 {
    let at = at.and_utc();
    at.timestamp() + i64::from(at.timestamp_subsec_millis() >= 500)
}

/// A date of ISO 8601, with a time of day or without.
fn iso(grid: &mut Filling, text: &str) -> Typed {
    let date_alone = || text.parse::<NaiveDate>().ok().map(|date| date.and_time(chrono::NaiveTime::MIN));
    match text.parse::<NaiveDateTime>().ok().or_else(date_alone) {
        Some(at) => Typed::Date((at + Duration::milliseconds(500)).and_utc().timestamp()),
        None => grid.text(text),
    }
}
