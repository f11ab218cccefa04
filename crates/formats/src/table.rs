//! A table, as it is handed out.

use chrono::{DateTime, NaiveDateTime, Utc};

/// A table.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Table {
    /// What it is called.
    pub title: String,
    /// What it is about, by name: what was asked for, by whom, when.
    pub about: Vec<(String, String)>,
    /// Names of the columns.
    pub columns: Vec<String>,
    /// Rows, each with a cell a column.
    pub rows: Vec<Vec<Cell>>,
}

/// What stands in a cell.
#[derive(Debug, Clone, PartialEq)]
pub enum Cell {
    /// Nothing.
    Empty,
    /// A text.
    Text(String),
    /// A number.
    Number(f64),
    /// A moment.
    Time(DateTime<Utc>),
    /// A time on the site's clock, to the second.
    Clock(NaiveDateTime),
}

/// How a time on the site's clock is written as text.
pub const CLOCK: &str = "%Y-%m-%d %H:%M:%S";

impl From<&str> for Cell {
    fn from(text: &str) -> Self {
        Self::Text(text.to_owned())
    }
}

impl From<String> for Cell {
    fn from(text: String) -> Self {
        Self::Text(text)
    }
}

impl From<i64> for Cell {
    /// Exact up to 2⁵³, as spreadsheets hold numbers.
    fn from(number: i64) -> Self {
        Self::Number(number as f64)
    }
}

impl From<f64> for Cell {
    fn from(number: f64) -> Self {
        Self::Number(number)
    }
}

impl From<DateTime<Utc>> for Cell {
    fn from(at: DateTime<Utc>) -> Self {
        Self::Time(at)
    }
}

impl<T: Into<Cell>> From<Option<T>> for Cell {
    fn from(given: Option<T>) -> Self {
        given.map_or(Self::Empty, Into::into)
    }
}
