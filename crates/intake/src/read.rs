//! Bytes and a recipe in, entries and refusals out.

use chrono::{DateTime, Utc};
use formats::shape::{Content, Recipe, RefusedCell, Sample, Samples, Shaped, WrongRecipe, shape};
use quality::characteristic::Characteristic;
use quality::import::{Checked, ImportRow, ImportSource, ImportTimes, RowContent, check};
use serde_json::Value;

/// How a table is read, and what is known beside it.
#[derive(Debug, Clone, Copy)]
pub struct Asked<'a> {
    /// As docs/data.md describes it.
    pub recipe: &'a Value,
    /// Tags of the table that are left out.
    pub without_tags: &'a [String],
    /// The list that it is, and what it is brought into.
    pub source: ImportSource<'a>,
    /// How its times are read.
    pub times: ImportTimes,
    /// The time of now: nothing was taken later.
    pub now: DateTime<Utc>,
}

/// A table that was read.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadTable {
    /// Rows of data.
    pub rows: usize,
    /// Its samples, as entries.
    pub checked: Checked,
    /// Cells that cannot be what the recipe takes them for; their samples are not among the entries.
    pub cells: Vec<RefusedCell>,
}

/// Reads a table for a characteristic.
///
/// # Errors
/// When the recipe cannot be read, or is not for such a file.
pub fn read(content: &[u8], characteristic: &Characteristic, asked: &Asked<'_>) -> Result<ReadTable, WrongRecipe> {
    let recipe = Recipe::from_json(&asked.recipe.to_string())?;
    let Shaped { rows, samples, refused } = shape(&recipe, content)?;
    let entries = import_rows(&samples, asked.without_tags);
    let checked = check(entries, characteristic, (asked.times, asked.now), asked.source);
    Ok(ReadTable { rows, checked, cells: refused })
}

fn import_rows<'a>(samples: &'a Samples, without: &[String]) -> impl Iterator<Item = ImportRow<'a>> {
    samples.iter().enumerate().map(move |(place, sample)| ImportRow {
        row: sample.row(),
        place,
        time: sample.time(),
        content: content_of(&sample),
        tags: sample.tags().filter(|(tag, _)| !without.iter().any(|left| left == tag)).collect(),
    })
}

fn content_of<'a>(sample: &Sample<'a>) -> RowContent<'a> {
    match sample.content() {
        Content::Readings([]) | Content::Counted { count: None, .. } => RowContent::Gap,
        Content::Readings(values) => {
            RowContent::Readings(values.iter().map(|value| (!value.is_nan()).then_some(*value)).collect())
        }
        Content::Counted { count: Some(count), inspected } => {
            RowContent::Counted { count, inspected, kinds: sample.of_kinds().collect() }
        }
    }
}
