//! A recipe, as it is kept: how a table becomes samples.

use super::super::time_format::TimeFormat;

/// How a table becomes samples.
#[derive(Debug, Clone, PartialEq)]
pub struct Recipe {
    /// How the file is read.
    pub read: Read,
    /// What stands where.
    pub shape: Shape,
    /// When a sample was taken.
    pub time: Option<TimeColumn>,
    /// Tags by name, each with its column.
    pub tags: Vec<(String, Named)>,
    /// Rows that are kept.
    pub filter: Vec<Where>,
    /// Rows go by their time instead of as they stand.
    pub by_time: bool,
    /// A sample without any reading is left out instead of a gap.
    pub skips_blank: bool,
}

/// A column as the recipe names it, and where the recipe does.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Named {
    /// Where it stands in the recipe.
    pub path: String,
    /// Its header, or its number as `#3`.
    pub name: String,
}

/// What a file is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Format {
    /// RFC 4180, with any delimiter.
    Csv,
    /// Office Open XML.
    Xlsx,
    /// Open Document.
    Ods,
    /// An array of flat objects.
    Json,
}

/// How a file is read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Read {
    /// What it is.
    pub format: Format,
    /// Between cells of CSV.
    pub delimiter: char,
    /// Texts have a decimal comma.
    pub decimal_comma: bool,
    /// Rows before the header.
    pub skip_rows: usize,
    /// Rows of the header, 0 to 2.
    pub header_rows: usize,
    /// The sheet by its name; the first where none is named.
    pub sheet: Option<String>,
}

/// When a sample was taken.
#[derive(Debug, Clone, PartialEq)]
pub struct TimeColumn {
    /// The column.
    pub column: Named,
    /// How texts spell it; nothing where the cells of a sheet are dates.
    pub format: Option<TimeFormat>,
}

/// Rows whose column holds one of some texts.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Where {
    /// The column.
    pub column: Named,
    /// Any of them.
    pub is: Vec<String>,
}

/// What of a table with labels on two sides is a sample.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CrossedSample {
    /// Each cell.
    Cell,
    /// A row.
    Row,
    /// A column.
    Column,
}

/// Units inspected.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Inspected {
    /// They stand in a column.
    Column(Named),
    /// Always as many.
    Number(u64),
}

/// How long a period is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)] // the names say it
pub enum Per {
    Hour,
    Day,
    Week,
    Month,
}

/// What is made of the values of a period.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)] // the names say it
pub enum How {
    Sum,
    Mean,
    Median,
    Min,
    Max,
    Count,
}

/// What stands where.
#[derive(Debug, Clone, PartialEq, Eq)]
#[allow(missing_docs)] // docs/data.md tells each field
pub enum Shape {
    /// A row is a sample, its readings stand in several columns.
    Across { values: Vec<Named> },
    /// A column is a sample.
    Down { values: Option<Vec<Named>>, tag: Option<String> },
    /// One column of readings, cut into samples of a constant size.
    Column { value: Named, size: usize, drops_short: bool },
    /// Rows that agree in some columns make a sample.
    Grouped { value: Named, by: Vec<Named>, gathers_all: bool },
    /// Row labels in one column, column labels in the header.
    Crossed { rows: Named, values: Option<Vec<Named>>, row_tag: String, column_tag: String, sample: CrossedSample },
    /// A row is a sample of counted things.
    Counts { count: Option<Named>, kinds: Vec<(String, Named)>, inspected: Option<Inspected> },
    /// A row is a record; a measure is drawn together for each period.
    Period { value: Option<Named>, per: Per, how: How },
}

/// Readings of a sample at most.
pub const READINGS_AT_MOST: usize = 200;
