//! Tables as spreadsheets (XLSX: Office Open XML, ISO/IEC 29500): one sheet with the table, one with what it is about.
//!
//! Texts are texts whatever they begin with, numbers numbers, and moments dates in UTC. The names of the columns stay in
//! sight and stand on every printed page, with the title above and the number of the page below.

use chrono::NaiveDateTime;
use rust_xlsxwriter::{Format, Workbook, Worksheet, XlsxError};

use crate::table::{Cell, Table};

/// More characters do not fit into a cell; what is longer is cut, with a mark that it was.
const CELL_AT_MOST: usize = 32_767;

/// More characters do not fit into the head of a printed page.
const HEAD_AT_MOST: usize = 250;

/// Width of a column of moments.
const TIME_WIDTH: f64 = 20.0;

/// The table as a spreadsheet.
///
/// # Errors
/// When the table has more rows or columns than a sheet (1,048,576 and 16,384).
pub fn write(table: &Table) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    let bold = Format::new().set_bold();
    write_table(book.add_worksheet(), table, &bold)?;
    let about = book.add_worksheet();
    about.set_name("About")?;
    about.set_column_width(0, 24)?;
    about.set_column_width(1, 90)?;
    about.write_string_with_format(0, 0, text(&table.title), &bold)?;
    for (row, (name, value)) in (1..).zip(&table.about) {
        about.write_string(row, 0, text(name))?;
        about.write_string(row, 1, text(value))?;
    }
    book.save_to_buffer()
}

fn write_table(sheet: &mut Worksheet, table: &Table, bold: &Format) -> Result<(), XlsxError> {
    let time = Format::new().set_num_format("yyyy-mm-dd hh:mm:ss");
    sheet.set_name("Report")?;
    sheet.set_freeze_panes(1, 0)?;
    sheet.set_repeat_rows(0, 0)?;
    sheet.set_landscape();
    // An ampersand begins a code there.
    let head: String = table.title.replace('&', "and").chars().take(HEAD_AT_MOST).collect();
    sheet.set_header(format!("&L{head}"));
    sheet.set_footer("&RPage &P of &N");
    for (column, name) in (0..).zip(&table.columns) {
        sheet.write_string_with_format(0, column, name, bold)?;
    }
    for (number, row) in (1..).zip(&table.rows) {
        for (column, cell) in (0..).zip(row) {
            match cell {
                Cell::Empty => {}
                Cell::Text(given) => drop(sheet.write_string(number, column, text(given))?),
                Cell::Number(value) => drop(sheet.write_number(number, column, *value)?),
                Cell::Time(at) => write_time(sheet, (number, column), at.naive_utc(), &time)?,
                Cell::Clock(at) => write_time(sheet, (number, column), *at, &time)?,
            }
        }
    }
    if !table.rows.is_empty() {
        let (rows, columns) = (table.rows.len(), table.columns.len());
        let last = |count: usize| u32::try_from(count).unwrap_or(u32::MAX);
        let last_column = u16::try_from(columns.saturating_sub(1)).unwrap_or(u16::MAX);
        sheet.autofilter(0, 0, last(rows), last_column)?;
    }
    Ok(())
}

fn write_time(
    sheet: &mut Worksheet,
    (row, column): (u32, u16),
    at: NaiveDateTime,
    format: &Format,
) -> Result<(), XlsxError> {
    sheet.set_column_width(column, TIME_WIDTH)?;
    sheet.write_datetime_with_format(row, column, at, format)?;
    Ok(())
}

fn text(given: &str) -> String {
    if given.chars().count() <= CELL_AT_MOST {
        return given.to_owned();
    }
    given.chars().take(CELL_AT_MOST - 1).chain(['…']).collect()
}
