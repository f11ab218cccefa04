//! Samples as they come out of a table: by columns, so that a million of them fit.

use std::collections::HashMap;

use chrono::NaiveDateTime;
use serde::ser::{SerializeMap, SerializeSeq};
use serde::{Serialize, Serializer};

/// Samples, one after another.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Samples {
    rows: Vec<Option<u32>>,
    times: Vec<Option<NaiveDateTime>>,
    contents: Contents,
    /// Names of the tags that a sample may have.
    tag_names: Vec<String>,
    /// Of each sample, for each name a text among `texts`; 0 for none.
    tags: Vec<u32>,
    texts: Vec<Box<str>>,
}

/// What the samples hold.
#[derive(Debug, Clone, PartialEq)]
enum Contents {
    /// NaN where a reading is missing.
    Readings {
        values: Vec<f64>,
        ends: Vec<u32>,
    },
    Counted {
        kinds: Vec<String>,
        counts: Vec<Option<f64>>,
        of_kinds: Vec<f64>,
        inspected: Vec<Option<f64>>,
    },
}

impl Default for Contents {
    fn default() -> Self {
        Self::Readings { values: vec![], ends: vec![] }
    }
}

/// A sample.
#[derive(Debug, Clone, Copy)]
pub struct Sample<'a> {
    all: &'a Samples,
    at: usize,
}

/// What a sample holds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Content<'a> {
    /// Readings, NaN where one is missing; none in a gap.
    Readings(&'a [f64]),
    /// Things counted.
    Counted {
        /// How many; nothing in a gap.
        count: Option<f64>,
        /// Of how many units, where it is told.
        inspected: Option<f64>,
    },
}

/// What is put down of a sample before it is known whether it comes.
#[derive(Debug, Default)]
pub(super) struct Draft {
    pub row: Option<u32>,
    pub time: Option<NaiveDateTime>,
    pub values: Vec<f64>,
    pub count: Option<f64>,
    pub inspected: Option<f64>,
    pub of_kinds: Vec<f64>,
}

impl Samples {
    /// Of readings.
    pub(super) fn of_readings(tag_names: Vec<String>) -> Self {
        Self { tag_names, texts: vec!["".into()], ..Self::default() }
    }

    /// Of counted things, by kind where there are kinds.
    pub(super) fn of_counts(tag_names: Vec<String>, kinds: Vec<String>) -> Self {
        let contents = Contents::Counted { kinds, counts: vec![], of_kinds: vec![], inspected: vec![] };
        Self { contents, ..Self::of_readings(tag_names) }
    }

    /// So many come, of so many readings each.
    pub(super) fn expect(&mut self, many: usize, of: usize) {
        self.rows.reserve(many);
        self.times.reserve(many);
        self.tags.reserve(many * self.tag_names.len());
        if let Contents::Readings { values, ends } = &mut self.contents {
            values.reserve(many * of);
            ends.reserve(many);
        }
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.rows.len()
    }

    /// There are none.
    pub fn is_empty(&self) -> bool {
        self.rows.is_empty()
    }

    /// Each.
    pub fn iter(&self) -> impl Iterator<Item = Sample<'_>> {
        (0..self.len()).map(|at| Sample { all: self, at })
    }

    /// One, counted from 0.
    pub fn get(&self, at: usize) -> Option<Sample<'_>> {
        (at < self.len()).then_some(Sample { all: self, at })
    }

    /// Names of the tags that a sample may have.
    pub fn tag_names(&self) -> &[String] {
        &self.tag_names
    }

    /// Kinds that are counted.
    pub fn kinds(&self) -> &[String] {
        match &self.contents {
            Contents::Counted { kinds, .. } => kinds,
            Contents::Readings { .. } => &[],
        }
    }

    /// Takes a sample; `tags` in the order of their names.
    pub(super) fn take<'a>(
        &mut self,
        draft: &Draft,
        tags: impl Iterator<Item = std::borrow::Cow<'a, str>>,
        known: &mut Texts,
    ) {
        self.rows.push(draft.row);
        self.times.push(draft.time);
        match &mut self.contents {
            Contents::Readings { values, ends } => {
                values.extend_from_slice(&draft.values);
                ends.push(values.len() as u32);
            }
            Contents::Counted { counts, of_kinds, inspected, .. } => {
                counts.push(draft.count);
                inspected.push(draft.inspected);
                of_kinds.extend_from_slice(&draft.of_kinds);
            }
        }
        let before = self.tags.len();
        let last = before.checked_sub(self.tag_names.len());
        for (i, text) in tags.enumerate() {
            // A lot lasts for many samples.
            let as_before = last.map(|last| self.tags[last + i]).filter(|place| *self.texts[*place as usize] == *text);
            let place = as_before.unwrap_or_else(|| known.place(&text, &mut self.texts));
            self.tags.push(place);
        }
        // A gap between periods has none.
        self.tags.resize(before + self.tag_names.len(), 0);
    }
}

/// Texts that are there already: lots and shifts come again and again.
#[derive(Debug, Default)]
pub(super) struct Texts {
    places: HashMap<Box<str>, u32>,
}

impl Texts {
    fn place(&mut self, text: &str, texts: &mut Vec<Box<str>>) -> u32 {
        if text.is_empty() {
            return 0;
        }
        if let Some(place) = self.places.get(text) {
            return *place;
        }
        let place = texts.len() as u32;
        texts.push(text.into());
        self.places.insert(text.into(), place);
        place
    }
}

impl<'a> Sample<'a> {
    /// The number of its first row in the sheet; nothing for a period without records.
    pub fn row(&self) -> Option<u32> {
        self.all.rows[self.at]
    }

    /// When it was taken, as the table tells it.
    pub fn time(&self) -> Option<NaiveDateTime> {
        self.all.times[self.at]
    }

    /// What it holds.
    pub fn content(&self) -> Content<'a> {
        match &self.all.contents {
            Contents::Readings { values, ends } => {
                let from = self.at.checked_sub(1).map_or(0, |before| ends[before]);
                Content::Readings(&values[from as usize..ends[self.at] as usize])
            }
            Contents::Counted { counts, inspected, .. } => {
                Content::Counted { count: counts[self.at], inspected: inspected[self.at] }
            }
        }
    }

    /// Counts by kind; none in a gap.
    pub fn of_kinds(&self) -> impl Iterator<Item = (&'a str, f64)> {
        let (kinds, counts): (&[String], &[f64]) = match &self.all.contents {
            Contents::Counted { kinds, counts, of_kinds, .. } if counts[self.at].is_some() => {
                (kinds, &of_kinds[self.at * kinds.len()..])
            }
            _ => (&[], &[]),
        };
        kinds.iter().map(String::as_str).zip(counts.iter().copied())
    }

    /// Its tags.
    pub fn tags(&self) -> impl Iterator<Item = (&'a str, &'a str)> {
        let names = &self.all.tag_names;
        let tags = &self.all.tags[self.at * names.len()..(self.at + 1) * names.len()];
        let texts = &self.all.texts;
        names.iter().zip(tags).filter(|(_, tag)| **tag != 0).map(|(name, tag)| (name.as_str(), &*texts[*tag as usize]))
    }

    /// What a first look draws of it: the mean of its readings, or how many were counted of one unit.
    pub fn drawn(&self) -> Option<f64> {
        match self.content() {
            Content::Readings(values) => {
                let there = values.iter().filter(|value| !value.is_nan());
                let (sum, many) = there.fold((0.0, 0u32), |(sum, many), value| (sum + value, many + 1));
                (many > 0).then(|| sum / f64::from(many))
            }
            Content::Counted { count, inspected } => count.map(|count| count / inspected.unwrap_or(1.0)),
        }
    }

    /// Nothing was measured.
    pub fn is_gap(&self) -> bool {
        match self.content() {
            Content::Readings(values) => values.is_empty(),
            Content::Counted { count, .. } => count.is_none(),
        }
    }
}

/// A number that JSON can hold: nothing where a reading is missing.
fn reading(value: f64) -> Option<f64> {
    value.is_finite().then_some(value)
}

/// A whole number without a point.
#[derive(Serialize)]
#[serde(untagged)]
enum Whole {
    Whole(u64),
    Large(f64),
}

fn whole(count: f64) -> Whole {
    // Exact: counts are whole, and below this every one is.
    const EXACT: f64 = 9_007_199_254_740_992.0;
    if count < EXACT { Whole::Whole(count as u64) } else { Whole::Large(count) }
}

impl Serialize for Samples {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut all = serializer.serialize_seq(Some(self.len()))?;
        for sample in self.iter() {
            all.serialize_element(&sample)?;
        }
        all.end()
    }
}

impl Serialize for Sample<'_> {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut fields = serializer.serialize_map(None)?;
        fields.serialize_entry("row", &self.row())?;
        fields.serialize_entry("time", &self.time())?;
        match self.content() {
            Content::Readings(values) => {
                fields.serialize_entry("values", &values.iter().map(|value| reading(*value)).collect::<Vec<_>>())?;
            }
            Content::Counted { count, inspected } => {
                fields.serialize_entry("count", &count.map(whole))?;
                fields.serialize_entry("inspected", &inspected.map(whole))?;
                if !self.all.kinds().is_empty() {
                    let kinds: serde_json::Map<_, _> = self
                        .of_kinds()
                        .filter_map(|(kind, count)| Some((kind.to_owned(), serde_json::to_value(whole(count)).ok()?)))
                        .collect();
                    fields.serialize_entry("kinds", &kinds)?;
                }
            }
        }
        fields.serialize_entry("tags", &self.tags().collect::<std::collections::BTreeMap<_, _>>())?;
        fields.end()
    }
}
