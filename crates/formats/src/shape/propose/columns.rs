//! What columns hold.

use std::collections::HashSet;

use super::super::cell::Cell;
use super::super::grid::RawTable;
use super::super::time_format::TimeFormat;
use super::file::LOOKED_AT;

/// What a column holds.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Class {
    /// Times, in this format; nothing where its cells are dates.
    Times(Option<&'static str>),
    /// Numbers.
    Numbers(Numbers),
    /// Texts; as many different ones.
    Texts { different: usize },
    /// Nothing.
    Blank,
}

/// Numbers of a column.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Numbers {
    pub whole: bool,
    pub median: f64,
    pub least: f64,
    pub most: f64,
    /// Each is one more than the one before: they number the rows.
    pub counts_up: bool,
}

/// Formats that are tried, the plainest first: days before months, as most of the world writes them.
const FORMATS: [&str; 22] = [
    "%Y-%m-%d %H:%M:%S",
    "%Y-%m-%d %H:%M",
    "%Y-%m-%dT%H:%M:%S",
    "%Y-%m-%dT%H:%M",
    "%Y-%m-%d",
    "%d.%m.%Y %H:%M:%S",
    "%d.%m.%Y %H:%M",
    "%d.%m.%Y",
    "%d/%m/%Y %H:%M:%S",
    "%d/%m/%Y %H:%M",
    "%d/%m/%Y",
    "%m/%d/%Y %I:%M:%S %p",
    "%m/%d/%Y %I:%M %p",
    "%m/%d/%Y %H:%M:%S",
    "%m/%d/%Y %H:%M",
    "%m/%d/%Y",
    "%d %b %Y %H:%M",
    "%d %b %Y",
    "%d.%m.%y %H:%M",
    "%d.%m.%y",
    "%Y/%m/%d %H:%M",
    "%Y/%m/%d",
];

/// Of what a column holds so many must be of one kind.
const MOST: f64 = 0.8;

/// What each column holds, as far as its first rows tell.
pub(super) fn classes(table: &RawTable, decimal_comma: bool) -> Vec<Class> {
    (0..table.header.width()).map(|column| class(table, column, decimal_comma)).collect()
}

fn class(table: &RawTable, column: usize, decimal_comma: bool) -> Class {
    let cells: Vec<Cell<'_>> =
        table.rows().take(LOOKED_AT).map(|row| table.grid.cell(row, column)).filter(|cell| !cell.is_blank()).collect();
    if cells.is_empty() {
        return Class::Blank;
    }
    let most = |many: usize| many as f64 >= MOST * cells.len() as f64;
    if most(cells.iter().filter(|cell| matches!(cell, Cell::Date(_))).count()) {
        return Class::Times(None);
    }
    let numbers: Vec<f64> = cells.iter().filter_map(|cell| cell.reading(decimal_comma).ok().flatten()).collect();
    if most(numbers.len()) {
        return Class::Numbers(of(&numbers));
    }
    let fits = |format: &&&str| {
        let format = TimeFormat::new(format).ok();
        format.is_some_and(|format| most(cells.iter().filter(|cell| format.read(&cell.text()).is_some()).count()))
    };
    if let Some(format) = FORMATS.iter().find(fits) {
        return Class::Times(Some(format));
    }
    Class::Texts { different: cells.iter().map(Cell::text).collect::<HashSet<_>>().len() }
}

fn of(numbers: &[f64]) -> Numbers {
    let mut sorted = numbers.to_vec();
    sorted.sort_by(f64::total_cmp);
    let whole = numbers.iter().all(|x| x.fract() == 0.0);
    Numbers {
        whole,
        median: sorted[sorted.len() / 2],
        least: sorted[0],
        most: sorted[sorted.len() - 1],
        counts_up: whole && numbers.len() > 2 && numbers.windows(2).all(|pair| pair[1] - pair[0] == 1.0),
    }
}
