//! A row is a sample of counted things.

use super::super::drawing::Drawing;
use super::super::recipe::READINGS_AT_MOST;
use super::super::refusals::CellRefusal;
use super::super::wrong::WrongRecipe;

/// Units inspected.
#[derive(Clone, Copy)]
pub enum Of {
    /// Not told.
    Nothing,
    /// As a column tells.
    Column(usize),
    /// Always as many.
    Always(f64),
}

/// Columns of counts: one of all, or one a kind.
pub struct Counted<'a> {
    pub columns: &'a [usize],
    pub by_kind: bool,
    pub inspected: Of,
}

/// Draws a sample a row.
pub fn counts(drawing: &mut Drawing<'_>, rows: &[u32], counted: &Counted<'_>) -> Result<(), WrongRecipe> {
    if counted.columns.len() > READINGS_AT_MOST {
        let allowed = format_args!("at most {READINGS_AT_MOST} counts a sample");
        return Err(WrongRecipe::new("shape.kinds", counted.columns.len(), allowed));
    }
    for row in rows {
        let row = *row as usize;
        drawing.begin();
        for column in counted.columns {
            // A kind of which nothing stands there did not occur, where another did.
            let count = count(drawing, (row, *column), 0.0).unwrap_or(0.0);
            drawing.draft.of_kinds.push(count);
        }
        let filled = drawing.filled;
        if !filled && drawing.recipe.skips_blank {
            continue;
        }
        drawing.draft.count = filled.then(|| drawing.draft.of_kinds.iter().sum());
        if !counted.by_kind {
            drawing.draft.of_kinds.clear();
        }
        drawing.draft.inspected = match counted.inspected {
            Of::Nothing => None,
            Of::Always(many) => Some(many),
            Of::Column(column) => count(drawing, (row, column), 1.0),
        };
        // How many were inspected makes no sample of what nobody counted.
        drawing.filled = filled;
        drawing.end(row, std::iter::empty());
    }
    Ok(())
}

/// A whole number, `least` or more; nothing where the cell is blank or refused.
fn count(drawing: &mut Drawing<'_>, at: (usize, usize), least: f64) -> Option<f64> {
    match drawing.cell(at).reading(drawing.recipe.read.decimal_comma) {
        Ok(None) => None,
        Ok(Some(count)) if count >= least && count.fract() == 0.0 => {
            drawing.filled = true;
            Some(count)
        }
        _ => {
            drawing.filled = true;
            drawing.refusals.add(at, CellRefusal::NotACount);
            None
        }
    }
}
