//! Samples on their way out.

use std::collections::BTreeMap;

use chrono::NaiveDateTime;

use crate::table::Cell;

/// Samples of one or several characteristics.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Outgoing {
    /// What they are called together.
    pub title: String,
    /// What was asked for, by name.
    pub about: Vec<(String, String)>,
    /// What stands beside each sample, by name: limits, signals, answers.
    pub beside: Vec<String>,
    /// In order.
    pub samples: Vec<OutSample>,
}

/// A sample on its way out.
#[derive(Debug, Clone, PartialEq)]
pub struct OutSample {
    /// Its characteristic; nothing where all are of one.
    pub of: Option<String>,
    /// Its number there.
    pub number: i64,
    /// On the site's clock.
    pub taken_at: NaiveDateTime,
    /// What was recorded.
    pub recorded: Recorded,
    /// By name.
    pub tags: BTreeMap<String, String>,
    /// A cell for each of [`Outgoing::beside`].
    pub beside: Vec<Cell>,
}

/// What was recorded.
#[derive(Debug, Clone, PartialEq)]
pub enum Recorded {
    /// A value of each piece; nothing where one is missing.
    Readings(Vec<Option<f64>>),
    /// Things counted, by kind, in units inspected.
    Counts {
        /// Of how many.
        inspected: f64,
        /// By kind; those that are not named were not found.
        kinds: Vec<(String, f64)>,
    },
    /// Nothing: a gap.
    Nothing,
}

impl Outgoing {
    /// They are of several characteristics.
    pub(super) fn of_several(&self) -> bool {
        self.samples.iter().any(|sample| sample.of.is_some())
    }

    /// Readings of the sample that has most.
    pub(super) fn pieces(&self) -> usize {
        self.samples.iter().map(|sample| sample.readings().len()).max().unwrap_or(0)
    }

    /// Some count things.
    pub(super) fn counts(&self) -> bool {
        self.samples.iter().any(|sample| matches!(sample.recorded, Recorded::Counts { .. }))
    }

    /// Names of all kinds that were counted.
    pub(super) fn kinds(&self) -> Vec<&str> {
        sorted(self.samples.iter().flat_map(|sample| sample.kinds().iter().map(|(kind, _)| kind.as_str())))
    }

    /// Names of all tags.
    pub(super) fn tags(&self) -> Vec<&str> {
        sorted(self.samples.iter().flat_map(|sample| sample.tags.keys().map(String::as_str)))
    }
}

fn sorted<'a>(names: impl Iterator<Item = &'a str>) -> Vec<&'a str> {
    let mut names: Vec<&str> = names.collect();
    names.sort_unstable();
    names.dedup();
    names
}

impl OutSample {
    pub(super) fn readings(&self) -> &[Option<f64>] {
        match &self.recorded {
            Recorded::Readings(values) => values,
            Recorded::Counts { .. } | Recorded::Nothing => &[],
        }
    }

    pub(super) fn kinds(&self) -> &[(String, f64)] {
        match &self.recorded {
            Recorded::Counts { kinds, .. } => kinds,
            Recorded::Readings(_) | Recorded::Nothing => &[],
        }
    }

    /// What was found in all.
    pub(super) fn count(&self) -> Option<f64> {
        match &self.recorded {
            Recorded::Counts { kinds, .. } => Some(kinds.iter().map(|(_, count)| count).sum()),
            Recorded::Readings(_) | Recorded::Nothing => None,
        }
    }
}
