//! What a characteristic has to be for the samples of a table, so that a new one can be set up from it.

use std::collections::BTreeSet;

use formats::shape::{Content, Samples};
use quality::characteristic::Kind;
use serde::Serialize;

/// What suits the samples of a table. Answers to the chooser's questions, and what stands in the form of a set-up.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Suits {
    /// What is recorded. Of counts in a number inspected that are never larger it is taken that units are counted.
    pub kind: Kind,
    /// Readings of a sample, or the number inspected: the commonest; 1 where nothing is told.
    pub pieces: u32,
    /// It is not always the same number that is inspected.
    pub varying: bool,
    /// Decimals of the reading that has most; 9 at most.
    pub decimals: u8,
    /// Tags with their values.
    pub tags: Vec<TagSeen>,
    /// Kinds that are counted.
    pub kinds: Vec<String>,
}

/// A tag with the values that it has.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TagSeen {
    /// As the recipe calls it.
    pub name: String,
    /// In order; none where there are more than 50.
    pub values: Vec<String>,
}

/// Values of a tag that are told.
const VALUES_AT_MOST: usize = 50;

/// Decimals that a unit can have.
const DECIMALS_AT_MOST: usize = 9;

/// What suits samples.
pub fn suits(samples: &Samples) -> Suits {
    let (mut sizes, mut inspected, mut decimals) = (Tally::default(), Tally::default(), 0);
    let (mut counted, mut more_than_inspected) = (false, false);
    let mut tags: Vec<BTreeSet<&str>> = vec![BTreeSet::new(); samples.tag_names().len()];
    for sample in samples.iter() {
        match sample.content() {
            Content::Readings(values) => {
                if !values.is_empty() {
                    sizes.take(values.len() as u32);
                }
                let most = values.iter().filter(|x| !x.is_nan()).map(|x| decimals_of(*x)).max();
                decimals = decimals.max(most.unwrap_or(0));
            }
            Content::Counted { count, inspected: of } => {
                counted = true;
                more_than_inspected |= count.zip(of).is_some_and(|(count, of)| count > of);
                if let Some(of) = of {
                    inspected.take(of as u32);
                }
            }
        }
        for (name, value) in sample.tags() {
            let known = samples.tag_names().iter().position(|known| known == name).and_then(|at| tags.get_mut(at));
            if let Some(values) = known.filter(|values| values.len() <= VALUES_AT_MOST) {
                values.insert(value);
            }
        }
    }
    let kind = match (counted, inspected.is_empty() || more_than_inspected) {
        (false, _) => Kind::Measured,
        (true, true) => Kind::Nonconformities,
        (true, false) => Kind::NonconformingUnits,
    };
    let told = if counted { &inspected } else { &sizes };
    let tag = |(name, values): (&String, BTreeSet<&str>)| TagSeen {
        name: name.clone(),
        values: if values.len() > VALUES_AT_MOST { vec![] } else { values.into_iter().map(str::to_owned).collect() },
    };
    Suits {
        kind,
        pieces: told.commonest().unwrap_or(1),
        varying: counted && inspected.are_several(),
        decimals,
        tags: samples.tag_names().iter().zip(tags).map(tag).collect(),
        kinds: samples.kinds().to_vec(),
    }
}

/// Decimals that a number is written with when it is written as short as it reads back the same.
fn decimals_of(x: f64) -> u8 {
    let text = x.to_string();
    text.split_once('.').map_or(0, |(_, decimals)| decimals.len().min(DECIMALS_AT_MOST) as u8)
}

/// How often each number came.
#[derive(Default)]
struct Tally(std::collections::BTreeMap<u32, usize>);

impl Tally {
    fn take(&mut self, number: u32) {
        *self.0.entry(number).or_default() += 1;
    }

    fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    fn are_several(&self) -> bool {
        self.0.len() > 1
    }

    /// The commonest; of equally common ones the smallest.
    fn commonest(&self) -> Option<u32> {
        self.0.iter().max_by_key(|(number, often)| (**often, std::cmp::Reverse(**number))).map(|(number, _)| *number)
    }
}
