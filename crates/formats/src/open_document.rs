//! Tables as open documents (ODS: ISO/IEC 26300): one sheet with the table, one with what it is about. Texts are texts
//! whatever they begin with, numbers numbers, moments dates in UTC.

use chrono::NaiveDateTime;
use spreadsheet_ods::format::create_datetime_format;
use spreadsheet_ods::{CellStyle, OdsError, Sheet, WorkBook, write_ods_buf};

use crate::table::{Cell, Table};

/// The table as an open document.
///
/// # Errors
/// When it cannot be written to memory.
pub fn write(table: &Table) -> Result<Vec<u8>, OdsError> {
    let mut book = WorkBook::new_empty();
    let format = book.add_datetime_format(create_datetime_format("moment-format"));
    let moment = book.add_cellstyle(CellStyle::new("moment", &format));
    let mut sheet = Sheet::new("Report");
    for (column, name) in (0..).zip(&table.columns) {
        sheet.set_value(0, column, name.as_str());
    }
    for (number, row) in (1..).zip(&table.rows) {
        for (column, cell) in (0..).zip(row) {
            let mut time = |at: NaiveDateTime| sheet.set_styled_value(number, column, at, &moment);
            match cell {
                Cell::Empty => {}
                Cell::Time(at) => time(at.naive_utc()),
                Cell::Clock(at) => time(*at),
                Cell::Text(text) => sheet.set_value(number, column, text.as_str()),
                Cell::Number(value) => sheet.set_value(number, column, *value),
            }
        }
    }
    book.push_sheet(sheet);
    let mut about = Sheet::new("About");
    about.set_value(0, 0, table.title.as_str());
    for (row, (name, value)) in (1..).zip(&table.about) {
        about.set_value(row, 0, name.as_str());
        about.set_value(row, 1, value.as_str());
    }
    book.push_sheet(about);
    write_ods_buf(&mut book, Vec::new())
}
