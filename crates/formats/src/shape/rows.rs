//! Rows that are kept, in their order.

use chrono::NaiveDateTime;

use super::cell::Cell;
use super::grid::RawTable;
use super::recipe::Recipe;
use super::refusals::CellRefusal;
use super::time_format::TimeFormat;
use super::wrong::WrongRecipe;

/// When a sample was taken: its column, and how texts spell it.
#[derive(Clone, Copy)]
pub(super) struct Times<'a> {
    pub column: usize,
    format: Option<&'a TimeFormat>,
}

impl<'a> Times<'a> {
    pub fn find(table: &RawTable, recipe: &'a Recipe) -> Result<Option<Self>, WrongRecipe> {
        let Some(time) = &recipe.time else { return Ok(None) };
        Ok(Some(Self { column: table.header.find(&time.column)?, format: time.format.as_ref() }))
    }

    /// The time of a row; nothing where the cell is blank.
    pub fn read(&self, table: &RawTable, row: usize) -> Result<Option<NaiveDateTime>, CellRefusal> {
        match table.grid.cell(row, self.column) {
            Cell::Date(at) => Ok(Some(at)),
            cell if cell.is_blank() => Ok(None),
            cell => self.format.and_then(|format| format.read(&cell.text())).map(Some).ok_or(CellRefusal::NotATime),
        }
    }
}

/// Rows that are kept: those of which each column that is asked for holds one of its texts.
pub(super) fn kept(table: &RawTable, recipe: &Recipe, times: Option<Times<'_>>) -> Result<Vec<u32>, WrongRecipe> {
    let mut asked = Vec::new();
    for filter in &recipe.filter {
        asked.push((table.header.find(&filter.column)?, &filter.is));
    }
    let fits = |row: &usize| {
        asked.iter().all(|(column, is)| {
            let text = table.grid.cell(*row, *column).text();
            is.iter().any(|one| *one == text)
        })
    };
    let mut rows: Vec<u32> = table.rows().filter(fits).map(|row| row as u32).collect();
    if let (true, Some(times)) = (recipe.by_time, times) {
        // Those without a time that can be read come last.
        rows.sort_by_cached_key(|row| {
            let time = times.read(table, *row as usize).ok().flatten();
            (time.is_none(), time)
        });
    }
    Ok(rows)
}
