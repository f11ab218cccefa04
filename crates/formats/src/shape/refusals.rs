//! Cells that cannot be what the recipe takes them for.

use serde::Serialize;

use super::grid::RawTable;

/// Why a cell is refused.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CellRefusal {
    /// It is no reading.
    NotANumber,
    /// It is no whole number, or below what may be counted.
    NotACount,
    /// It does not fit the format of the times.
    NotATime,
    /// A sample has no time.
    NoTime,
}

/// A cell that is refused, and with it its sample.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RefusedCell {
    /// The number of its row in the sheet.
    pub row: u32,
    /// The name of its column; its number where it has none.
    pub column: String,
    /// Why.
    pub code: CellRefusal,
    /// What stands there, trimmed.
    pub given: String,
}

/// Cells that are refused, by row and column of the grid.
#[derive(Debug, Default)]
pub(super) struct Refusals(Vec<(u32, u16, CellRefusal)>);

impl Refusals {
    pub fn add(&mut self, (row, column): (usize, usize), code: CellRefusal) {
        self.0.push((row as u32, column as u16, code));
    }

    pub fn many(&self) -> usize {
        self.0.len()
    }

    /// In the order of the sheet, each cell once.
    pub fn done(mut self, table: &RawTable) -> Vec<RefusedCell> {
        self.0.sort_by_key(|(row, column, _)| (*row, *column));
        self.0.dedup_by_key(|(row, column, _)| (*row, *column));
        let cell = |(row, column, code): (u32, u16, CellRefusal)| RefusedCell {
            row: table.number(row as usize),
            column: table.header.name(column as usize),
            code,
            given: table.grid.cell(row as usize, column as usize).text().into_owned(),
        };
        self.0.into_iter().map(cell).collect()
    }
}
