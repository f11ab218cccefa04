//! A column is a sample.

use super::super::drawing::Drawing;
use super::super::wrong::WrongRecipe;

/// Readings below each other: blanks behind the last one are not missing, the column is just shorter.
pub fn down(drawing: &mut Drawing<'_>, rows: &[u32], values: &[usize]) -> Result<(), WrongRecipe> {
    for column in values {
        let filled = rows.iter().rposition(|row| !drawing.cell((*row as usize, *column)).is_blank());
        sample(drawing, rows, *column, filled.map_or(0, |last| last + 1))?;
    }
    Ok(())
}

/// A reading in each row, whether something stands there or not.
pub fn of_columns(drawing: &mut Drawing<'_>, rows: &[u32], values: &[usize]) -> Result<(), WrongRecipe> {
    values.iter().try_for_each(|column| sample(drawing, rows, *column, rows.len()))
}

fn sample(drawing: &mut Drawing<'_>, rows: &[u32], column: usize, many: usize) -> Result<(), WrongRecipe> {
    let Some(first) = rows.first() else { return Ok(()) };
    drawing.begin();
    for row in &rows[..many] {
        drawing.takes((*row as usize, column))?;
    }
    let table = drawing.table;
    drawing.end_of_column(*first as usize, table.header.text(column));
    Ok(())
}
