//! A row is a sample, its readings stand in several columns.

use super::super::drawing::Drawing;
use super::super::wrong::WrongRecipe;

/// Draws a sample a row.
pub fn across(drawing: &mut Drawing<'_>, rows: &[u32], values: &[usize]) -> Result<(), WrongRecipe> {
    drawing.expect(rows.len(), values.len());
    for row in rows {
        let row = *row as usize;
        drawing.begin();
        for column in values {
            drawing.takes((row, *column))?;
        }
        drawing.end(row, std::iter::empty());
    }
    Ok(())
}
