//! How do these sets of samples differ from the first?

use serde::{Deserialize, Serialize};
use spc::chart::ChartKind;
use spc::compare::{
    CompareRequest, Comparison, DataSet, Estimate, EventSet, MeasuredAgainst, MeasuredSet, RateAgainst, ShareAgainst,
    UnitSet, compare,
};
use spc::distribution::{HistogramRequest, histogram};

use super::refusal::StudyRefusal;
use super::selection::{Picked, Selection};
use super::split::Split;
use super::used::{groups, values_of};
use crate::characteristic::{Characteristic, Kind, Specification};
use crate::field::{Allowed, NAME_AT_MOST, WrongField, broken};
use crate::place::{Place, points};

/// Sets that are chosen at most.
const SETS_AT_MOST: usize = 12;
/// Bars that all sets are drawn in at most.
const BARS: usize = 60;

/// A set of samples.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct SetAsked {
    /// What it is called; otherwise by its characteristic.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// Its samples.
    pub of: Selection,
}

/// A question of sets side by side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct SideBySideQuestion {
    /// The sets, 1 to 12; the first is what the others are held against.
    pub sets: Vec<SetAsked>,
    /// Each set told apart further.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub split: Option<Split>,
    /// Of every interval, 0.5 … 0.9999; 0.95 unless said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub confidence: Option<f64>,
}

/// The samples of a set that was asked for.
#[derive(Debug, Clone, PartialEq)]
pub struct SetPicked<'a> {
    /// The characteristic.
    pub characteristic: &'a Characteristic,
    /// Where it is on which product.
    pub place: String,
    /// Its samples.
    pub picked: Vec<Picked>,
}

/// Where the samples of a column come from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ColumnOf {
    /// Which of the sets that were asked for, from 0.
    pub set: usize,
    /// The part of it, where it is told apart.
    pub group: Option<String>,
}

/// Measured values in a column.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasuredColumn {
    /// Where its samples come from.
    pub of: ColumnOf,
    /// Its figures.
    pub figures: MeasuredSet,
    /// How it differs from the first; nothing for that.
    pub against: Option<MeasuredAgainst>,
    /// Whether chance alone would hardly make the means differ so: p below what the confidence leaves.
    pub beyond_chance: bool,
    /// The interval of its mean.
    #[cfg_attr(feature = "schema", schema(value_type = Option<Vec<f64>>))]
    pub mean_interval: Option<[f64; 2]>,
    /// Its values in the bars that are common to all.
    pub bars: Vec<u64>,
}

/// Nonconforming units in a column.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UnitsColumn {
    /// Where its samples come from.
    pub of: ColumnOf,
    /// Its figures.
    pub figures: UnitSet,
    /// How it differs from the first; nothing for that.
    pub against: Option<ShareAgainst>,
    /// Whether chance alone would hardly make the shares differ so.
    pub beyond_chance: bool,
}

/// Nonconformities in a column.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EventsColumn {
    /// Where its samples come from.
    pub of: ColumnOf,
    /// Its figures.
    pub figures: EventSet,
    /// How it differs from the first; nothing for that.
    pub against: Option<RateAgainst>,
    /// Whether chance alone would hardly make the rates differ so.
    pub beyond_chance: bool,
}

/// Columns of one kind of data.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "of", rename_all = "snake_case")]
pub enum Columns {
    /// Measured values.
    Measured {
        /// The columns, the base first.
        columns: Vec<MeasuredColumn>,
        /// Edges of the bars that all are drawn in.
        edges: Vec<f64>,
    },
    /// Nonconforming units.
    Units {
        /// The columns, the base first.
        columns: Vec<UnitsColumn>,
    },
    /// Nonconformities.
    Events {
        /// The columns, the base first.
        columns: Vec<EventsColumn>,
    },
}

/// Sets side by side.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SideBySideAnswer {
    /// Of every interval.
    pub confidence: f64,
    /// The chart by whose way sigma within is estimated.
    pub chart: ChartKind,
    /// The specification that all sets share; nothing where they do not.
    pub specification: Option<Specification>,
    /// The columns.
    pub columns: Columns,
    /// Sets that hold no sample with a value, and are left out.
    pub empty: Vec<String>,
}

impl SideBySideQuestion {
    pub(super) fn wrong(&self) -> Vec<WrongField> {
        let named = self.sets.iter().filter_map(|set| set.name.as_ref());
        let names = named.clone().all(|name| (1..=NAME_AT_MOST).contains(&name.trim().chars().count()));
        let mut wrong: Vec<WrongField> = self.sets.iter().flat_map(|set| set.of.wrong()).collect();
        wrong.extend(broken([
            ("sets", (1..=SETS_AT_MOST).contains(&self.sets.len()), Allowed::Entries { least: 1, most: SETS_AT_MOST }),
            ("name", names, Allowed::Name { most: NAME_AT_MOST }),
            ("confidence", self.confidence.is_none_or(|c| (0.5..=0.9999).contains(&c)), Allowed::Confidence),
        ]));
        wrong
    }
}

/// A set with its name, cut out of those that were asked for.
struct Cut {
    of: ColumnOf,
    name: String,
    places: Vec<Place>,
}

/// Answers a question of sets side by side.
///
/// # Errors
/// Why there is no answer.
pub fn side_by_side(question: &SideBySideQuestion, sets: &[SetPicked]) -> Result<SideBySideAnswer, StudyRefusal> {
    let Some(first) = sets.first() else { return Err(StudyRefusal::NoSamples) };
    let kind = first.characteristic.kind;
    if kind == Kind::RareEvent {
        return Err(StudyRefusal::OtherKind);
    }
    let alike =
        |set: &SetPicked| set.characteristic.kind == kind && set.characteristic.unit == first.characteristic.unit;
    if !sets.iter().all(alike) {
        return Err(StudyRefusal::Unlike);
    }
    let (cuts, empty): (Vec<Cut>, Vec<Cut>) =
        cut(question, sets).into_iter().partition(|cut| cut.places.iter().any(|place| !place.plotted.point().is_gap()));
    if cuts.is_empty() {
        return Err(StudyRefusal::NoSamples);
    }
    let specification = Some(first.characteristic.specification)
        .filter(|spec| sets.iter().all(|set| set.characteristic.specification == *spec));
    let chart = chart(kind, &cuts);
    let confidence = question.confidence.unwrap_or(0.95);
    let spec = specification.unwrap_or_default();
    let set = |cut: &Cut| DataSet { name: cut.name.clone(), points: points(kind, &cut.places) };
    let request = CompareRequest {
        sets: cuts.iter().map(set).collect(),
        chart,
        lsl: spec.lsl,
        target: spec.target,
        usl: spec.usl,
        confidence,
    };
    // What was accepted can be compared.
    let compared = compare(&request).map_err(|_| StudyRefusal::NoSamples)?;
    let unit = 10f64.powi(-i32::from(first.characteristic.decimals));
    let columns = columns(compared, &cuts, unit, confidence);
    let empty = empty.into_iter().map(|cut| cut.name).collect();
    Ok(SideBySideAnswer { confidence, chart, specification, columns, empty })
}

fn cut(question: &SideBySideQuestion, sets: &[SetPicked]) -> Vec<Cut> {
    let several = sets.len() > 1;
    let mut cuts = vec![];
    for (i, (asked, set)) in question.sets.iter().zip(sets).enumerate() {
        let name = asked.name.as_ref().map_or_else(|| named(set, sets), |name| name.trim().to_owned());
        let used = |picked: Vec<Picked>| {
            let used = picked.into_iter().filter(|one| asked.of.uses(&one.place));
            used.map(|one| one.place).collect::<Vec<Place>>()
        };
        if question.split.is_none() {
            let of = ColumnOf { set: i, group: None };
            cuts.push(Cut { of, name, places: used(set.picked.clone()) });
            continue;
        }
        for (group, part) in groups(&set.picked, question.split.as_ref()) {
            let of = ColumnOf { set: i, group: Some(group.name.clone()) };
            let name = if several { format!("{name}: {}", group.name) } else { group.name };
            cuts.push(Cut { of, name, places: used(part) });
        }
    }
    cuts.truncate(spc::compare::SETS_AT_MOST);
    cuts
}

/// By its characteristic; with its place, where others are called the same.
fn named(set: &SetPicked, sets: &[SetPicked]) -> String {
    let name = &set.characteristic.name;
    let alone = sets.iter().filter(|other| other.characteristic.name == *name).count() < 2;
    if alone { name.clone() } else { format!("{name}, {}", set.place) }
}

/// Figures of the plain chart of the data.
fn chart(kind: Kind, cuts: &[Cut]) -> ChartKind {
    let sizes = cuts.iter().flat_map(|cut| &cut.places).map(|place| values_of(place).len()).filter(|n| *n > 0);
    let (least, most) = sizes.fold((usize::MAX, 0), |(least, most), n| (least.min(n), most.max(n)));
    match kind {
        Kind::NonconformingUnits => ChartKind::P,
        Kind::Nonconformities => ChartKind::U,
        _ if most <= 1 => ChartKind::IMr,
        _ if least == most && most <= 10 => ChartKind::XbarR,
        _ => ChartKind::XbarS,
    }
}

fn columns(compared: Comparison, cuts: &[Cut], unit: f64, confidence: f64) -> Columns {
    fn against<A>(all: Vec<A>) -> impl Iterator<Item = Option<A>> {
        std::iter::once(None).chain(all.into_iter().map(Some))
    }
    let of = cuts.iter().map(|cut| cut.of.clone());
    let beyond = |of: Option<&Estimate>| of.is_some_and(|estimate| estimate.p < 1.0 - confidence);
    match compared {
        Comparison::Measured { sets, against: all } => {
            let edges = edges(cuts, unit);
            let column =
                |(((of, figures), against), cut): (((ColumnOf, MeasuredSet), Option<MeasuredAgainst>), &Cut)| {
                    let mean_interval = figures.mean_interval(confidence);
                    let beyond_chance = beyond(against.as_ref().and_then(|against| against.mean_difference.as_ref()));
                    MeasuredColumn { of, figures, against, beyond_chance, mean_interval, bars: bars(cut, &edges) }
                };
            let columns = of.zip(sets).zip(against(all)).zip(cuts).map(column).collect();
            Columns::Measured { columns, edges }
        }
        Comparison::Units { sets, against: all } => {
            let column = |((of, figures), against): ((ColumnOf, UnitSet), Option<ShareAgainst>)| {
                let beyond_chance = beyond(against.as_ref().map(|against| &against.difference));
                UnitsColumn { of, figures, against, beyond_chance }
            };
            Columns::Units { columns: of.zip(sets).zip(against(all)).map(column).collect() }
        }
        Comparison::Events { sets, against: all } => {
            let column = |((of, figures), against): ((ColumnOf, EventSet), Option<RateAgainst>)| {
                let beyond_chance = beyond(against.as_ref().map(|against| &against.ratio));
                EventsColumn { of, figures, against, beyond_chance }
            };
            Columns::Events { columns: of.zip(sets).zip(against(all)).map(column).collect() }
        }
    }
}

/// Of bars that hold the values of all sets.
fn edges(cuts: &[Cut], unit: f64) -> Vec<f64> {
    let values: Vec<f64> = cuts.iter().flat_map(|cut| &cut.places).flat_map(values_of).copied().collect();
    let request = |bins| HistogramRequest { values: values.clone(), bins, unit: Some(unit) };
    let found = histogram(&request(None)).ok().filter(|found| found.counts.len() <= BARS);
    found.or_else(|| histogram(&request(Some(BARS))).ok()).map(|found| found.edges).unwrap_or_default()
}

fn bars(cut: &Cut, edges: &[f64]) -> Vec<u64> {
    let mut bars = vec![0; edges.len().saturating_sub(1)];
    let Some(last) = bars.len().checked_sub(1) else { return bars };
    for x in cut.places.iter().flat_map(values_of) {
        let at = edges.partition_point(|edge| edge <= x).saturating_sub(1).min(last);
        bars[at] += 1;
    }
    bars
}
