//! Row labels in one column, column labels in the header, a reading in each cell.

use std::borrow::Cow;

use super::super::drawing::Drawing;
use super::super::wrong::WrongRecipe;

/// The column of the row labels, and those of the readings.
pub struct Labels {
    pub rows: usize,
    pub values: Vec<usize>,
}

/// Each cell is a sample, row by row.
pub fn cells(drawing: &mut Drawing<'_>, rows: &[u32], labels: &Labels) -> Result<(), WrongRecipe> {
    let table = drawing.table;
    for row in rows {
        let row = *row as usize;
        for column in &labels.values {
            drawing.begin();
            drawing.takes((row, *column))?;
            let own = [table.grid.cell(row, labels.rows).text(), Cow::Borrowed(table.header.text(*column))];
            drawing.end(row, own.into_iter());
        }
    }
    Ok(())
}

/// A row is a sample.
pub fn rows(drawing: &mut Drawing<'_>, rows: &[u32], labels: &Labels) -> Result<(), WrongRecipe> {
    let table = drawing.table;
    for row in rows {
        let row = *row as usize;
        drawing.begin();
        for column in &labels.values {
            drawing.takes((row, *column))?;
        }
        drawing.end(row, [table.grid.cell(row, labels.rows).text()].into_iter());
    }
    Ok(())
}
