//! Bytes and a recipe in, entries and refusals out.

use chrono::{DateTime, Utc};
use formats::shape::{Content, Recipe, RefusedCell, Sample, Samples, Shaped, WrongRecipe, shape};
use quality::characteristic::Characteristic;
use quality::import::{Entries, ImportEntry, ImportRow, ImportSource, ImportTimes, RefusedRow, RowContent, check};
use serde_json::Value;
use uuid::Uuid;

/// How a table is read, and what is known beside it.
#[derive(Debug, Clone)]
pub struct Asked {
    /// As docs/data.md describes it.
    pub recipe: Value,
    /// Tags of the table that are left out.
    pub without_tags: Vec<String>,
    /// The list that it is.
    pub list: String,
    /// What it is brought into.
    pub into: (Uuid, Characteristic),
    /// How its times are read.
    pub times: ImportTimes,
    /// The time of now: nothing was taken later.
    pub now: DateTime<Utc>,
}

/// A table that was read. Its samples are held as columns, and made entries of each time they are gone through.
#[derive(Debug)]
pub struct ReadTable {
    /// Rows of data.
    pub rows: usize,
    /// Cells that cannot be what the recipe takes them for; their samples are not among the entries.
    pub cells: Vec<RefusedCell>,
    /// Rows that cannot be kept.
    pub refused: Vec<RefusedRow>,
    samples: Samples,
    asked: Asked,
}

/// Reads a table for a characteristic.
///
/// # Errors
/// When the recipe cannot be read, or is not for such a file.
pub fn read(content: &[u8], asked: Asked) -> Result<ReadTable, WrongRecipe> {
    let recipe = Recipe::from_json(&asked.recipe.to_string())?;
    let Shaped { rows, samples, refused: cells } = shape(&recipe, content)?;
    let refused = checked(&samples, &asked).filter_map(Result::err).collect();
    Ok(ReadTable { rows, cells, refused, samples, asked })
}

impl Entries for ReadTable {
    fn each(&self) -> Box<dyn Iterator<Item = ImportEntry> + Send + '_> {
        Box::new(checked(&self.samples, &self.asked).filter_map(Result::ok))
    }

    fn refused(&self) -> usize {
        self.refused.len()
    }
}

fn checked<'a>(
    samples: &'a Samples,
    asked: &'a Asked,
) -> impl Iterator<Item = Result<ImportEntry, RefusedRow>> + Send + 'a {
    let (id, characteristic) = &asked.into;
    let source = ImportSource { name: &asked.list, characteristic: *id };
    check(import_rows(samples, &asked.without_tags), characteristic, (asked.times, asked.now), source)
}

fn import_rows<'a>(samples: &'a Samples, without: &'a [String]) -> impl Iterator<Item = ImportRow<'a>> {
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
