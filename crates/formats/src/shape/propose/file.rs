//! What a file is, where its cells part, and where its data begin.

use serde_json::{Value, json};

use super::super::cell::Cell;
use super::super::grid::{RawTable, sheets, text};
use super::super::recipe::{Format, Read};
use super::super::wrong::WrongRecipe;

/// A file as it was found.
pub(super) struct Found {
    pub table: RawTable,
    /// As a recipe says it.
    pub read: Value,
    pub is_sheet: bool,
    pub decimal_comma: bool,
    pub sheets: Vec<String>,
}

/// Rows that are looked at to find out.
pub(super) const LOOKED_AT: usize = 400;

pub(super) fn read(bytes: &[u8], sheet: Option<&str>) -> Result<Found, WrongRecipe> {
    let format = format_of(bytes);
    let delimiter = if format == Format::Csv { delimiter(&text(bytes)) } else { ',' };
    let plain = |skip_rows: usize, header_rows: usize| Read {
        format,
        delimiter,
        decimal_comma: false,
        skip_rows,
        header_rows,
        sheet: sheet.map(str::to_owned),
    };
    let sheets = sheets(bytes, format)?;
    let table = RawTable::open(bytes, &plain(0, 0))?;
    let (skip_rows, header_rows) = if format == Format::Json { (0, 0) } else { data_begin(&table) };
    let table = if format == Format::Json { table } else { RawTable::open(bytes, &plain(skip_rows, header_rows))? };
    let decimal_comma = delimiter != ',' && has_decimal_commas(&table);
    let decimal = if decimal_comma { "," } else { "." };
    let read = match format {
        Format::Csv => json!({"format": "csv", "delimiter": delimiter, "decimal": decimal, "skip_rows": skip_rows,
                              "header_rows": header_rows}),
        Format::Json => json!({"format": "json", "decimal": decimal}),
        Format::Xlsx | Format::Ods => {
            let name = if format == Format::Ods { "ods" } else { "xlsx" };
            json!({"format": name, "decimal": decimal, "skip_rows": skip_rows, "header_rows": header_rows, "sheet": sheet})
        }
    };
    Ok(Found { table, read, is_sheet: matches!(format, Format::Xlsx | Format::Ods), decimal_comma, sheets })
}

/// By how it begins.
fn format_of(bytes: &[u8]) -> Format {
    // The first part of an open document is what it is, unpacked.
    const OPEN: &[u8] = b"mimetypeapplication/vnd.oasis.opendocument";
    if bytes.starts_with(b"PK") {
        let open = bytes.get(30..30 + OPEN.len()).is_some_and(|name| name == OPEN);
        return if open { Format::Ods } else { Format::Xlsx };
    }
    if bytes.starts_with(b"\xd0\xcf\x11\xe0") {
        return Format::Xlsx;
    }
    let first = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes).iter().find(|byte| !byte.is_ascii_whitespace());
    if first == Some(&b'[') { Format::Json } else { Format::Csv }
}

/// The one that parts most lines into as many cells as most lines have.
fn delimiter(text: &str) -> char {
    let lines: Vec<&str> = text.lines().filter(|line| !line.trim().is_empty()).take(LOOKED_AT).collect();
    let score = |delimiter: char| {
        let mut counts: Vec<usize> = lines.iter().map(|line| outside_quotes(line, delimiter)).collect();
        counts.sort_unstable();
        let usual = counts.get(counts.len() / 2).copied().unwrap_or(0);
        let alike = counts.iter().filter(|count| **count == usual).count();
        if usual == 0 { 0 } else { alike * 1_000 + usual.min(999) }
    };
    // A decimal comma parts lines too; what parts them otherwise comes first.
    ['\t', ';', '|', ','].into_iter().rev().max_by_key(|delimiter| score(*delimiter)).unwrap_or(',')
}

fn outside_quotes(line: &str, delimiter: char) -> usize {
    let mut quoted = false;
    line.chars()
        .filter(|c| {
            quoted ^= *c == '"';
            !quoted && *c == delimiter
        })
        .count()
}

/// Rows to skip and rows of the header: the header is the last row of texts before the first row with a number.
fn data_begin(table: &RawTable) -> (usize, usize) {
    let grid = &table.grid;
    let looked_at = grid.height().min(LOOKED_AT);
    let filled = |row: usize| (0..grid.width()).filter(|column| !grid.cell(row, *column).is_blank()).count();
    let is_number = |cell: Cell<'_>| {
        matches!(cell, Cell::Date(_))
            || cell.reading(false).is_ok_and(|x| x.is_some())
            || cell.reading(true).is_ok_and(|x| x.is_some())
    };
    let numbers = |row: usize| (0..grid.width()).filter(|column| is_number(grid.cell(row, *column))).count();
    let mut usual: Vec<usize> = (0..looked_at).map(filled).filter(|many| *many > 0).collect();
    usual.sort_unstable();
    let usual = usual.get(usual.len() / 2).copied().unwrap_or(0);
    let Some(first) = (0..looked_at).find(|row| numbers(*row) > 0 && filled(*row) * 2 >= usual) else { return (0, 1) };
    if first == 0 {
        return (0, 0);
    }
    let names = |row: usize| filled(row) * 2 >= usual && numbers(row) == 0;
    // Two rows of names: the upper one has gaps that the lower one fills.
    let two = first >= 2 && names(first - 1) && names(first - 2) && filled(first - 2) < filled(first - 1);
    if two {
        (first - 2, 2)
    } else if names(first - 1) {
        (first - 1, 1)
    } else {
        (first, 0)
    }
}

fn has_decimal_commas(table: &RawTable) -> bool {
    let (mut commas, mut points) = (0, 0);
    for row in table.rows().take(LOOKED_AT) {
        for column in 0..table.grid.width() {
            let Cell::Text(text) = table.grid.cell(row, column) else { continue };
            let cell = Cell::Text(text);
            commas += usize::from(text.contains(',') && cell.reading(true).is_ok());
            points += usize::from(text.contains('.') && cell.reading(false).is_ok());
        }
    }
    commas > points
}
