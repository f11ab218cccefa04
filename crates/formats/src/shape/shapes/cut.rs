//! One column of readings: cut into samples of a constant size, or by what stands beside them.

use std::collections::HashMap;

use super::super::drawing::Drawing;
use super::super::wrong::WrongRecipe;

/// Cuts a column into samples of a constant size.
pub fn column(
    drawing: &mut Drawing<'_>,
    rows: &[u32],
    value: usize,
    (size, drops_short): (usize, bool),
) -> Result<(), WrongRecipe> {
    for rows in rows.chunks(size) {
        if rows.len() == size || !drops_short {
            sample(drawing, rows, value)?;
        }
    }
    Ok(())
}

/// Rows that agree in some columns make a sample.
pub fn grouped(
    drawing: &mut Drawing<'_>,
    rows: &[u32],
    value: usize,
    (by, gathers_all): (&[usize], bool),
) -> Result<(), WrongRecipe> {
    let table = drawing.table;
    let key =
        |row: &u32| -> Vec<_> { by.iter().map(|column| table.grid.cell(*row as usize, *column).text()).collect() };
    if !gathers_all {
        for rows in rows.chunk_by(|one, next| key(one) == key(next)) {
            sample(drawing, rows, value)?;
        }
        return Ok(());
    }
    let mut places = HashMap::new();
    let mut groups: Vec<Vec<u32>> = Vec::new();
    for row in rows {
        let place = *places.entry(key(row)).or_insert(groups.len());
        match groups.get_mut(place) {
            Some(group) => group.push(*row),
            None => groups.push(vec![*row]),
        }
    }
    groups.iter().try_for_each(|rows| sample(drawing, rows, value))
}

fn sample(drawing: &mut Drawing<'_>, rows: &[u32], value: usize) -> Result<(), WrongRecipe> {
    drawing.begin();
    for row in rows {
        drawing.takes((*row as usize, value))?;
    }
    drawing.puts_in_order(&rows[1..]);
    drawing.end(rows[0] as usize, std::iter::empty());
    Ok(())
}
