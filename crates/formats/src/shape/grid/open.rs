//! A file as a grid with names of its columns.

use std::borrow::Cow;

use super::super::recipe::{Format, Read};
use super::super::wrong::WrongRecipe;
use super::cells::{COLUMNS_AT_MOST, Grid, ROWS_AT_MOST};
use super::guard::{Refused, unpacks};
use super::header::Header;
use super::{csv, json, sheet};

/// Bytes of a file at most.
pub const BYTES_AT_MOST: usize = 64 * 1024 * 1024;

/// A table: names of columns, and rows of data below them.
#[derive(Debug)]
pub struct RawTable {
    /// All cells, the header's too.
    pub grid: Grid,
    /// Names of the columns.
    pub header: Header,
    /// The row of the grid in which the data begin.
    pub first: usize,
}

impl RawTable {
    /// Reads a file.
    ///
    /// # Errors
    /// When it is not of its format, has no such sheet, or is beyond the bounds.
    pub fn open(bytes: &[u8], read: &Read) -> Result<Self, WrongRecipe> {
        if bytes.len() > BYTES_AT_MOST {
            return Err(WrongRecipe::new(
                "read",
                format_args!("{} bytes", bytes.len()),
                format!("at most {BYTES_AT_MOST} bytes (64 MiB)"),
            ));
        }
        kind_of_file(bytes, read.format)?;
        let table = match read.format {
            Format::Csv => Self::below_header(csv::read(&text(bytes), read.delimiter), read),
            Format::Xlsx => Self::below_header(sheet::xlsx(bytes, read)?, read),
            Format::Ods => Self::below_header(sheet::ods(bytes, read)?, read),
            Format::Json => {
                let (keys, grid) = json::read(&text(bytes)).map_err(|error| sheet::broken(&error))?;
                Self { header: Header::new(keys), grid, first: 0 }
            }
        };
        let (rows, columns) = (table.rows().len(), table.header.width());
        if rows > ROWS_AT_MOST {
            return Err(WrongRecipe::new("read", format_args!("{rows} rows"), format!("at most {ROWS_AT_MOST} rows")));
        }
        if columns > COLUMNS_AT_MOST {
            return Err(WrongRecipe::new(
                "read",
                format_args!("{columns} columns"),
                format!("at most {COLUMNS_AT_MOST} columns"),
            ));
        }
        Ok(table)
    }

    fn below_header(grid: Grid, read: &Read) -> Self {
        let header = Header::of(&grid, read.skip_rows, read.header_rows);
        Self { first: (read.skip_rows + read.header_rows).min(grid.height()), header, grid }
    }

    /// Rows of data, as the grid counts them.
    pub fn rows(&self) -> std::ops::Range<usize> {
        self.first..self.grid.height()
    }

    /// Texts of the first rows as they stand in the sheet, those above the data too, each with its number.
    pub fn first_texts(&self, at_most: usize) -> impl Iterator<Item = (u32, Vec<String>)> {
        let texts = move |row: usize| {
            (0..self.header.width()).map(move |column| self.grid.cell(row, column).text().into_owned())
        };
        (0..self.grid.height().min(at_most)).map(move |row| (self.number(row), texts(row).collect()))
    }

    /// The number of a row of the grid in its sheet.
    pub fn number(&self, row: usize) -> u32 {
        row as u32 + 1
    }
}

/// Names of the sheets of a file, where it is of a format that has some.
///
/// # Errors
/// When it is not of its format.
pub fn sheets(bytes: &[u8], format: Format) -> Result<Vec<String>, WrongRecipe> {
    kind_of_file(bytes, format)?;
    match format {
        Format::Csv | Format::Json => Ok(vec![]),
        Format::Xlsx => sheet::xlsx_sheets(bytes),
        Format::Ods => sheet::ods_sheets(bytes),
    }
}

/// UTF-8, with or without a byte order mark, or else Windows-1252.
pub fn text(bytes: &[u8]) -> Cow<'_, str> {
    let bytes = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes);
    match std::str::from_utf8(bytes) {
        Ok(text) => text.into(),
        Err(_) => encoding_rs::WINDOWS_1252.decode_without_bom_handling(bytes).0,
    }
}

/// How files of programs for sheets begin that are locked by a password, or older than the open format.
const COMPOUND: &[u8] = b"\xd0\xcf\x11\xe0";

/// How archives begin: sheets are some.
const ARCHIVE: &[u8] = b"PK\x03\x04";

fn kind_of_file(bytes: &[u8], format: Format) -> Result<(), WrongRecipe> {
    let wrong = |given: &str, allowed: &str| Err(WrongRecipe::new("read.format", given, allowed));
    if bytes.starts_with(COMPOUND) {
        return wrong(
            "a sheet that is locked by a password, or of an older format",
            "a sheet saved as xlsx or ods without a password",
        );
    }
    let open_document = match format {
        Format::Csv | Format::Json if bytes.starts_with(ARCHIVE) => {
            return wrong("an archive or a sheet", "a file of text");
        }
        Format::Csv | Format::Json => return Ok(()),
        Format::Xlsx | Format::Ods => format == Format::Ods,
    };
    match unpacks(bytes, open_document) {
        Ok(()) => Ok(()),
        Err(Refused::NoArchive(error)) => wrong(&format!("a file that is no sheet ({error})"), "a file of this format"),
        Err(Refused::TooLarge(bound)) => {
            Err(WrongRecipe::new("read", "a file that becomes larger", format!("at most {bound}")))
        }
    }
}
