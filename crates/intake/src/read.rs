//! Bytes and a recipe in, entries and refusals out.

use chrono::{DateTime, Utc};
use formats::shape::{Content, RawTable, Recipe, RefusedCell, Sample, Samples, Shaped, WrongRecipe, draw, row_keys};
use quality::characteristic::Characteristic;
use quality::import::{
    Entries, Extent, ImportEntry, ImportRow, ImportSource, ImportTimes, RefusedRow, RowContent, check,
};
use serde_json::Value;
use uuid::Uuid;

/// How a table is read, and what is known beside it.
#[derive(Debug, Clone)]
pub struct Asked {
    /// As docs/data.md describes it.
    pub recipe: Value,
    /// Columns that a row is known by again, wherever it stands; none where it is known by its number.
    pub key: Vec<String>,
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
    /// What can be kept.
    extent: Extent,
    samples: Samples,
    /// Of each sample, where rows are known by keys.
    keys: Option<Vec<Option<Box<str>>>>,
    asked: Asked,
}

/// Reads a table for a characteristic.
///
/// # Errors
/// When the recipe cannot be read, or is not for such a file; when rows are not told apart by their keys.
pub fn read(content: &[u8], asked: Asked) -> Result<ReadTable, WrongRecipe> {
    let recipe = Recipe::from_json(&asked.recipe.to_string())?;
    let table = RawTable::open(content, &recipe.read)?;
    let Shaped { rows, samples, refused: cells } = draw(&recipe, &table)?;
    let keys = (!asked.key.is_empty()).then(|| row_keys(&table, &samples, &asked.key)).transpose()?;
    drop(table);
    let mut read = ReadTable { rows, cells, refused: vec![], extent: Extent::default(), samples, keys, asked };
    let (mut refused, mut extent) = (vec![], Extent::default());
    for row in read.checked() {
        match row {
            Ok(entry) => extent.take(entry.taken_at),
            Err(row) => refused.push(row),
        }
    }
    (read.refused, read.extent) = (refused, extent);
    Ok(read)
}

impl ReadTable {
    fn checked(&self) -> impl Iterator<Item = Result<ImportEntry, RefusedRow>> + Send + '_ {
        let (id, characteristic) = &self.asked.into;
        let source = ImportSource { name: &self.asked.list, characteristic: *id };
        check(self.import_rows(), characteristic, (self.asked.times, self.asked.now), source)
    }

    fn import_rows(&self) -> impl Iterator<Item = ImportRow<'_>> {
        let without = &self.asked.without_tags;
        self.samples.iter().enumerate().map(move |(place, sample)| ImportRow {
            row: sample.row(),
            key: self.keys.as_ref().and_then(|keys| keys[place].as_deref()),
            place,
            time: sample.time(),
            content: content_of(&sample),
            tags: sample.tags().filter(|(tag, _)| !without.iter().any(|left| left == tag)).collect(),
        })
    }
}

impl Entries for ReadTable {
    fn each(&self) -> Box<dyn Iterator<Item = ImportEntry> + Send + '_> {
        Box::new(self.checked().filter_map(Result::ok))
    }

    fn refused(&self) -> usize {
        self.refused.len()
    }

    fn extent(&self) -> Extent {
        self.extent
    }
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
