//! Which kinds of defects are there, how many of each, and what has changed?

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use spc::chart::ChartKind;
use spc::compare::{CompareRequest, Comparison, DataSet, Estimate, compare};
use spc::pareto::{self, ParetoRequest, pareto};
use spc::points::{Count, Points};

use super::refusal::StudyRefusal;
use super::selection::Selection;
use super::split::Split;
use crate::characteristic::{Characteristic, Kind};
use crate::field::{Allowed, LIST_AT_MOST, WrongField, broken};

/// Of intervals and tests.
const CONFIDENCE: f64 = 0.95;
/// The fewest kinds that make up so much are told.
const MOST_OF_ALL: f64 = 0.8;

/// A question of defects by kind.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DefectsQuestion {
    /// Of which samples.
    pub of: Selection,
    /// Other samples that these are held against: the time before, another characteristic.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub against: Option<Selection>,
    /// What one of a kind costs, by its name; 1 unless said.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub weights: BTreeMap<String, f64>,
    /// Kinds whose share is below this are told together, 0 to 1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pool_below: Option<f64>,
    /// The same of parts of the samples beside one another.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub split: Option<Split>,
}

/// What was counted in some samples.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Counted {
    /// Samples.
    pub samples: u64,
    /// Samples that are set aside and left out.
    pub set_aside: u64,
    /// Units inspected.
    pub inspected: u64,
    /// Nonconforming units or nonconformities.
    pub count: u64,
    /// Of each kind, by its name.
    pub kinds: BTreeMap<String, u64>,
}

impl Counted {
    /// Both together.
    pub fn and(mut self, other: &Self) -> Self {
        self.samples += other.samples;
        self.set_aside += other.set_aside;
        self.inspected += other.inspected;
        self.count += other.count;
        for (kind, count) in &other.kinds {
            *self.kinds.entry(kind.clone()).or_default() += count;
        }
        self
    }
}

/// A kind that is told.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DefectBar {
    /// Its name; nothing for the small ones together.
    pub name: Option<String>,
    /// How many kinds it stands for.
    pub kinds: usize,
    /// How often it was found.
    pub count: u64,
    /// That, times what one costs.
    pub weighted: f64,
    /// Share of all that is weighted.
    pub share: f64,
    /// Share of it and of those before it.
    pub cumulative: f64,
    /// How many come on a unit inspected.
    pub rate: f64,
    /// The same of the other samples.
    pub against: Option<BarAgainst>,
}

/// A kind in the samples that these are held against.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BarAgainst {
    /// How often it was found there.
    pub count: u64,
    /// How many come on a unit inspected.
    pub rate: f64,
    /// Its rate here over that there.
    pub ratio: RateRatio,
}

/// One rate over another.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RateRatio {
    /// With a 95 % interval.
    #[serde(flatten)]
    pub estimate: Estimate,
    /// Whether chance alone would hardly make them differ so: p below 0.05.
    pub beyond_chance: bool,
}

/// Samples in all.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DefectTotals {
    /// Samples used.
    pub samples: u64,
    /// Samples that are set aside and left out.
    pub set_aside: u64,
    /// Units inspected.
    pub inspected: u64,
    /// Nonconforming units or nonconformities.
    pub count: u64,
    /// How many come on a unit inspected.
    pub rate: f64,
}

/// A part of the samples.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DefectGroup {
    /// Its name.
    pub name: String,
    /// In all.
    pub totals: DefectTotals,
    /// Of each bar, in their order.
    pub counts: Vec<u64>,
}

/// The fewest kinds that make up most of all.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Few {
    /// How many kinds.
    pub kinds: usize,
    /// The share that they make up, at least four fifths.
    pub share: f64,
}

/// A study of defects by kind answered.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DefectsAnswer {
    /// In all.
    pub totals: DefectTotals,
    /// Of the samples that these are held against.
    pub against: Option<DefectTotals>,
    /// What is counted here over what is counted there, for a unit inspected.
    pub ratio: Option<RateRatio>,
    /// How many kinds were found.
    pub kinds: usize,
    /// The kinds, the largest first; those told together last.
    pub bars: Vec<DefectBar>,
    /// Whether weights other than 1 are in.
    pub weighted: bool,
    /// The fewest kinds that make up four fifths; nothing where none were found.
    pub few: Option<Few>,
    /// Parts of the samples in their order.
    pub groups: Vec<DefectGroup>,
}

impl DefectsQuestion {
    pub(super) fn wrong(&self) -> Vec<WrongField> {
        let weights = self.weights.values().all(|weight| weight.is_finite() && *weight >= 0.0);
        let mut wrong = self.of.wrong();
        wrong.extend(self.against.iter().flat_map(Selection::wrong));
        wrong.extend(broken([
            ("weights", weights && self.weights.len() <= LIST_AT_MOST, Allowed::Weights { most: LIST_AT_MOST }),
            ("pool_below", self.pool_below.is_none_or(|share| (0.0..=1.0).contains(&share)), Allowed::Share),
        ]));
        wrong
    }
}

/// Answers a question of defects by kind.
///
/// # Errors
/// Why there is no answer.
pub fn defects(
    question: &DefectsQuestion,
    characteristic: &Characteristic,
    counted: &Counted,
    against: Option<&Counted>,
    parts: Vec<(String, Counted)>,
) -> Result<DefectsAnswer, StudyRefusal> {
    if !matches!(characteristic.kind, Kind::NonconformingUnits | Kind::Nonconformities) {
        return Err(StudyRefusal::OtherKind);
    }
    if counted.samples == 0 || against.is_some_and(|against| against.samples == 0) {
        return Err(StudyRefusal::NoSamples);
    }
    let kinds = kinds(characteristic, counted, against);
    let bars = if kinds.is_empty() { vec![] } else { bars(question, &kinds, counted) };
    let few = bars
        .iter()
        .position(|bar| bar.cumulative >= MOST_OF_ALL)
        .map(|last| Few { kinds: bars[..=last].iter().map(|bar| bar.kinds.len()).sum(), share: bars[last].cumulative });
    let of_bar = |of: &Counted, bar: &Bar| bar.kinds.iter().filter_map(|kind| of.kinds.get(kind)).sum::<u64>();
    let groups = parts
        .into_iter()
        .map(|(name, part)| DefectGroup {
            name,
            totals: part.totals(),
            counts: bars.iter().map(|bar| of_bar(&part, bar)).collect(),
        })
        .collect();
    let told = bars.iter().map(|bar| {
        let there = |against: &Counted| {
            let count = of_bar(against, bar);
            let rate = per_unit(count, against.inspected);
            ratio((bar.count, counted.inspected), (count, against.inspected)).map(|ratio| BarAgainst {
                count,
                rate,
                ratio,
            })
        };
        DefectBar {
            name: (!bar.pooled).then(|| bar.kinds[0].clone()),
            kinds: bar.kinds.len(),
            count: bar.count,
            weighted: bar.weighted,
            share: bar.share,
            cumulative: bar.cumulative,
            rate: per_unit(bar.count, counted.inspected),
            against: against.and_then(there),
        }
    });
    Ok(DefectsAnswer {
        totals: counted.totals(),
        against: against.map(Counted::totals),
        ratio: against.and_then(|there| ratio((counted.count, counted.inspected), (there.count, there.inspected))),
        kinds: kinds.len(),
        bars: told.collect(),
        weighted: kinds.iter().any(|kind| question.weights.contains_key(kind)),
        few,
        groups,
    })
}

/// Names of the kinds that were found: as they were defined, then those told in words.
fn kinds(characteristic: &Characteristic, counted: &Counted, against: Option<&Counted>) -> Vec<String> {
    let found = |name: &String| counted.kinds.contains_key(name) || against.is_some_and(|a| a.kinds.contains_key(name));
    let mut kinds: Vec<String> =
        characteristic.defect_kinds.iter().map(|kind| kind.name.clone()).filter(found).collect();
    for name in counted.kinds.keys().chain(against.iter().flat_map(|against| against.kinds.keys())) {
        if !kinds.contains(name) {
            kinds.push(name.clone());
        }
    }
    kinds
}

/// A bar with the kinds that it stands for.
struct Bar {
    kinds: Vec<String>,
    pooled: bool,
    count: u64,
    weighted: f64,
    share: f64,
    cumulative: f64,
}

fn bars(question: &DefectsQuestion, kinds: &[String], counted: &Counted) -> Vec<Bar> {
    let given = |name: &String| pareto::Kind {
        name: name.clone(),
        count: counted.kinds.get(name).copied().unwrap_or(0),
        weight: question.weights.get(name).copied(),
    };
    let request = ParetoRequest { kinds: kinds.iter().map(given).collect(), pool_below: question.pool_below };
    // Weights and the share that is pooled were checked by their fields.
    let Ok(found) = pareto(&request) else { return vec![] };
    let pooled = found.len() < kinds.len() || question.pool_below.is_some_and(|_| is_pooled(&found, kinds));
    let alone = found.len() - usize::from(pooled);
    let named: Vec<&String> = found[..alone].iter().map(|bar| &bar.name).collect();
    let rest: Vec<String> = kinds.iter().filter(|kind| !named.contains(kind)).cloned().collect();
    found
        .iter()
        .enumerate()
        .map(|(i, bar)| Bar {
            kinds: if i < alone { vec![bar.name.clone()] } else { rest.clone() },
            pooled: i >= alone,
            count: bar.count,
            weighted: bar.weighted,
            share: bar.share,
            cumulative: bar.cumulative,
        })
        .collect()
}

/// Whether the last bar is a pooled one that stands for a single kind.
fn is_pooled(found: &[pareto::Bar], kinds: &[String]) -> bool {
    found.last().is_some_and(|last| !kinds.contains(&last.name))
}

impl Counted {
    fn totals(&self) -> DefectTotals {
        let Counted { samples, set_aside, inspected, count, .. } = *self;
        DefectTotals { samples, set_aside, inspected, count, rate: per_unit(count, inspected) }
    }
}

fn per_unit(count: u64, inspected: u64) -> f64 {
    if inspected == 0 { 0.0 } else { count as f64 / inspected as f64 }
}

/// One rate over another, by the exact conditional interval and test.
fn ratio(here: (u64, u64), there: (u64, u64)) -> Option<RateRatio> {
    let set = |(count, size): (u64, u64)| DataSet {
        name: String::new(),
        points: Points::Counts(vec![Some(Count { count: count as f64, size: size as f64 })]),
    };
    let sets = vec![set(there), set(here)];
    let (lsl, target, usl) = (None, None, None);
    let request = CompareRequest { sets, chart: ChartKind::U, lsl, target, usl, confidence: CONFIDENCE };
    match compare(&request) {
        Ok(Comparison::Events { against, .. }) => {
            let of = |estimate: Estimate| RateRatio { estimate, beyond_chance: estimate.p < 1.0 - CONFIDENCE };
            against.first().map(|against| of(against.ratio))
        }
        _ => None,
    }
}
