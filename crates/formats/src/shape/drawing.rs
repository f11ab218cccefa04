//! Samples drawn from a table, one after another.

use std::borrow::Cow;

use chrono::NaiveDateTime;

use super::cell::Cell;
use super::grid::RawTable;
use super::recipe::{READINGS_AT_MOST, Recipe};
use super::refusals::{CellRefusal, Refusals};
use super::rows::Times;
use super::samples::{Draft, Samples, Texts};
use super::wrong::WrongRecipe;

/// What a sample is drawn with.
pub(super) struct Drawing<'a> {
    pub table: &'a RawTable,
    pub recipe: &'a Recipe,
    pub times: Option<Times<'a>>,
    /// Columns of the recipe's tags.
    tags: Vec<usize>,
    pub refusals: Refusals,
    /// Refusals before the sample.
    before: usize,
    pub draft: Draft,
    /// The sample holds something, be it wrong.
    pub filled: bool,
    samples: Samples,
    texts: Texts,
}

impl<'a> Drawing<'a> {
    /// `samples` has names for the labels that come with each sample, and then for the recipe's tags.
    pub fn new(
        table: &'a RawTable,
        recipe: &'a Recipe,
        times: Option<Times<'a>>,
        samples: Samples,
    ) -> Result<Self, WrongRecipe> {
        let tags = recipe.tags.iter().map(|(_, column)| table.header.find(column)).collect::<Result<_, _>>()?;
        Ok(Self {
            table,
            recipe,
            times,
            tags,
            refusals: Refusals::default(),
            before: 0,
            draft: Draft::default(),
            filled: false,
            samples,
            texts: Texts::default(),
        })
    }

    /// So many samples come at most, of so many readings each.
    pub fn expect(&mut self, many: usize, of: usize) {
        self.samples.expect(many, of);
    }

    /// A sample begins.
    pub fn begin(&mut self) {
        self.before = self.refusals.many();
        self.draft.values.clear();
        self.draft.of_kinds.clear();
        self.filled = false;
    }

    pub fn cell(&self, (row, column): (usize, usize)) -> Cell<'a> {
        self.table.grid.cell(row, column)
    }

    /// Reads a cell as a reading: nothing where it is blank or refused.
    pub fn reading(&mut self, at: (usize, usize)) -> Option<f64> {
        let read = self.cell(at).reading(self.recipe.read.decimal_comma);
        match read {
            Ok(None) => None,
            Ok(value) => {
                self.filled = true;
                value
            }
            Err(()) => {
                self.filled = true;
                self.refusals.add(at, CellRefusal::NotANumber);
                None
            }
        }
    }

    /// Takes a cell as the sample's next reading.
    pub fn takes(&mut self, at: (usize, usize)) -> Result<(), WrongRecipe> {
        if self.draft.values.len() == READINGS_AT_MOST {
            let row = self.table.number(at.0);
            let given = format_args!("a sample with more, at row {row}");
            return Err(WrongRecipe::new("shape", given, format_args!("at most {READINGS_AT_MOST} readings a sample")));
        }
        let value = self.reading(at).unwrap_or(f64::NAN);
        self.draft.values.push(value);
        Ok(())
    }

    /// The sample is whole: its time is that of its first row, its tags are `labels` and those of that row.
    pub fn end<'l>(&mut self, first: usize, labels: impl Iterator<Item = Cow<'l, str>>) {
        if !self.filled {
            if self.recipe.skips_blank {
                return;
            }
            self.draft.values.clear();
        }
        self.draft.row = Some(self.table.number(first));
        self.draft.time = self.time(first);
        if self.refusals.many() == self.before {
            let table = self.table;
            let tags = self.tags.iter().map(|column| table.grid.cell(first, *column).text());
            self.samples.take(
                &self.draft,
                labels.map(|label| Cow::Owned(label.into_owned())).chain(tags),
                &mut self.texts,
            );
        }
    }

    /// Rows that are put in order by their times need them, though the sample's is that of its first.
    pub fn puts_in_order(&mut self, rows: &[u32]) {
        if self.recipe.by_time && (self.filled || !self.recipe.skips_blank) {
            for row in rows {
                self.time(*row as usize);
            }
        }
    }

    fn time(&mut self, row: usize) -> Option<NaiveDateTime> {
        let times = self.times?;
        match times.read(self.table, row) {
            Ok(None) if self.filled => self.refusals.add((row, times.column), CellRefusal::NoTime),
            Ok(time) => return time,
            Err(code) => self.refusals.add((row, times.column), code),
        }
        None
    }

    /// A sample without a row of its own, or whose time does not stand in one.
    pub fn end_as_drafted(&mut self, first: Option<usize>) {
        if self.refusals.many() > self.before || !self.filled && self.recipe.skips_blank {
            return;
        }
        self.draft.row = first.map(|row| self.table.number(row));
        let table = self.table;
        let tags =
            first.into_iter().flat_map(|row| self.tags.iter().map(move |column| table.grid.cell(row, *column).text()));
        self.samples.take(&self.draft, tags, &mut self.texts);
    }

    /// The sample is whole; it has no time, and `label` alone.
    pub fn end_of_column(&mut self, first: usize, label: &str) {
        if !self.filled {
            if self.recipe.skips_blank {
                return;
            }
            self.draft.values.clear();
        }
        if self.refusals.many() == self.before {
            (self.draft.row, self.draft.time) = (Some(self.table.number(first)), None);
            let labels = Some(Cow::Borrowed(label)).into_iter().take(self.samples.tag_names().len());
            self.samples.take(&self.draft, labels, &mut self.texts);
        }
    }

    pub fn done(self) -> (Samples, Refusals) {
        (self.samples, self.refusals)
    }
}
