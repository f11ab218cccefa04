//! Rows that are known again by what stands in some of their columns, wherever they stand.

use std::collections::HashMap;

use super::grid::RawTable;
use super::recipe::Named;
use super::samples::Samples;
use super::wrong::WrongRecipe;

/// Columns of a key at most.
const COLUMNS_AT_MOST: usize = 20;

/// So many columns can be a key.
///
/// # Errors
/// When they are too many.
pub fn key_columns(columns: &[String]) -> Result<(), WrongRecipe> {
    if columns.len() <= COLUMNS_AT_MOST {
        return Ok(());
    }
    Err(WrongRecipe::new("key", columns.len(), format_args!("at most {COLUMNS_AT_MOST} columns")))
}

/// Texts of the key's columns in the first row of each sample, none where a sample has no row of its own.
///
/// # Errors
/// When there is no such column; when two rows have one key, or one has none.
pub fn row_keys(table: &RawTable, samples: &Samples, columns: &[String]) -> Result<Vec<Option<Box<str>>>, WrongRecipe> {
    key_columns(columns)?;
    let named = columns.iter().enumerate();
    let named = named.map(|(i, name)| table.header.find(&Named { path: format!("key[{i}]"), name: name.clone() }));
    let columns: Vec<usize> = named.collect::<Result<_, _>>()?;
    let mut rows: HashMap<Box<str>, u32> = HashMap::with_capacity(samples.len());
    let mut keys = Vec::with_capacity(samples.len());
    for sample in samples.iter() {
        let Some(row) = sample.row() else {
            keys.push(None);
            continue;
        };
        let key = key(table, row, &columns)?;
        match rows.get(&key) {
            // Of several samples that begin in one row each has its place.
            Some(before) if *before == row => {}
            Some(before) => {
                let given = format_args!("rows {before} and {row} with the same");
                return Err(WrongRecipe::new("key", given, "a key that each row has alone"));
            }
            None => {
                rows.insert(key.clone(), row);
            }
        }
        keys.push(Some(key));
    }
    Ok(keys)
}

fn key(table: &RawTable, row: u32, columns: &[usize]) -> Result<Box<str>, WrongRecipe> {
    let (mut key, mut filled) = (String::new(), false);
    for column in columns {
        let text = table.grid.cell(row as usize - 1, *column).text();
        filled |= !text.is_empty();
        // With its length, so that what stands in one column is never taken for what stands in two.
        key.push_str(&format!("{}:{text}", text.len()));
    }
    if !filled {
        let given = format_args!("nothing in row {row}");
        return Err(WrongRecipe::new("key", given, "something in one of its columns"));
    }
    Ok(key.into())
}
