//! What is measured or counted on a product at a station, and how samples of it are taken.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartOptions};
use spc::rules::RuleSet;
use uuid::Uuid;

use crate::part::{PART_TAG, Part};
use crate::scale::Scale;
use crate::scheme::Scheme;
use crate::thresholds::Thresholds;

/// Lower and upper bound, each optional, in the unit of the characteristic.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Bounds {
    /// Values below it are outside.
    pub lower: Option<f64>,
    /// Values above it are outside.
    pub upper: Option<f64>,
}

impl Bounds {
    /// Whether `x` lies within; a value equal to a bound does.
    pub fn hold(&self, x: f64) -> bool {
        self.lower.is_none_or(|lower| x >= lower) && self.upper.is_none_or(|upper| x <= upper)
    }
}

/// What a good part is. It belongs to capability and never stands on a control chart.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Specification {
    /// Lower specification limit.
    pub lsl: Option<f64>,
    /// The value aimed at.
    pub target: Option<f64>,
    /// Upper specification limit.
    pub usl: Option<f64>,
}

/// What a sample records.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Kind {
    /// A value of each piece.
    #[default]
    Measured,
    /// How many of the units inspected do not conform; a unit counts once, whatever is wrong with it.
    NonconformingUnits,
    /// How many flaws there are; one unit can have several.
    Nonconformities,
    /// That something rare happened: how many conforming units came since the last one, or when it did.
    RareEvent,
}

impl Kind {
    /// The charts it can be watched on.
    pub fn charts(self) -> &'static [ChartKind] {
        match self {
            Kind::Measured => &[
                ChartKind::IMr,
                ChartKind::XbarR,
                ChartKind::XbarS,
                ChartKind::MedianR,
                ChartKind::BetweenWithin,
                ChartKind::Ewma,
                ChartKind::Cusum,
                ChartKind::MovingAverage,
                ChartKind::Run,
            ],
            Kind::NonconformingUnits => &[ChartKind::Np, ChartKind::P, ChartKind::PPrime],
            Kind::Nonconformities => &[ChartKind::C, ChartKind::U, ChartKind::UPrime],
            Kind::RareEvent => &[ChartKind::G, ChartKind::T],
        }
    }
}

/// When the next sample is due.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "every", rename_all = "snake_case", deny_unknown_fields)]
pub enum Sampling {
    /// Every so many minutes.
    Minutes {
        /// From one sample to the next, 1 to 100,000.
        count: u32,
    },
    /// Every so many pieces made at the station.
    Pieces {
        /// From one sample to the next, 1 to 10,000,000.
        count: u32,
    },
    /// Once for each lot or batch.
    Lot,
    /// Once a shift.
    Shift,
    /// Never: it is entered when it happens.
    Never,
}

/// Where the pieces of a sample come from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Taken {
    /// Made one after another, from one stream.
    #[default]
    Consecutive,
    /// From the whole time since the sample before.
    Spread,
    /// One from each of several streams, as moulds, heads or machines.
    Streams,
}

/// What can be wrong with a unit, in the catalogue of a characteristic.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DefectKind {
    /// Identity; samples name it.
    pub id: Uuid,
    /// In words.
    pub name: String,
    /// The key that counts one.
    pub letter: char,
}

/// A version of a named rule set.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NamedRules {
    /// Identity of the set.
    pub set: Uuid,
    /// Which version of it.
    pub version: i32,
}

/// A characteristic, as it is set up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Characteristic {
    /// What is measured or counted.
    pub name: String,
    /// What a sample records.
    pub kind: Kind,
    /// Unit of the readings; of counts, what is inspected, such as `cartridges`.
    pub unit: String,
    /// Decimals that the unit allows; 0 for counts.
    pub decimals: u8,
    /// The chart it is watched on.
    pub chart: ChartKind,
    /// Pieces in a sample; of counts, the units inspected.
    pub subgroup_size: u32,
    /// The number inspected is asked each time; `subgroup_size` is only the usual one.
    pub varying: bool,
    /// Where the pieces come from.
    pub taken: Taken,
    /// When the next sample is due.
    pub sampling: Sampling,
    /// Options of its chart.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(required))]
    pub options: ChartOptions,
    /// The rules that judge it.
    pub rule_set: RuleSet,
    /// The named set that they are; nothing where they are its own, or a preset.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(required))]
    pub named_rules: Option<NamedRules>,
    /// Multiplier of sigma that its limits are drawn with.
    #[serde(default = "usual_k")]
    #[cfg_attr(feature = "schema", schema(required))]
    pub k: f64,
    /// Refused outside: cannot be measured.
    pub hard_bounds: Bounds,
    /// Asked outside: typed again or confirmed.
    pub soft_bounds: Bounds,
    /// What a good part is.
    pub specification: Specification,
    /// The steps to take when a signal comes.
    pub reaction_plan: Vec<String>,
    /// Minutes after which an episode that nobody answers is raised to the supervisors: 1 to 1440.
    #[serde(default = "usual_escalation")]
    #[cfg_attr(feature = "schema", schema(required))]
    pub escalates_after: u16,
    /// Tags that are asked with each sample, such as `lot`.
    pub asked_tags: Vec<String>,
    /// Words to find it by.
    pub labels: Vec<String>,
    /// Left out of Rounds and Charts.
    pub hidden: bool,
    /// The feature of the part that it belongs to.
    pub feature: Option<String>,
    /// Reference components of the feature, recorded beside the readings and not judged.
    pub components: Vec<String>,
    /// The catalogue of what is counted.
    pub defect_kinds: Vec<DefectKind>,
    /// Kinds of events at its station that propose a phase.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(required))]
    pub phase_events: Vec<Uuid>,
    /// Parts of a short run, one of which is named with each sample; none where all are alike.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(required))]
    pub parts: Vec<Part>,
    /// Scales that its chart is drawn at; panels without one reach as far as their points and limits.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(required))]
    pub scales: Vec<Scale>,
    /// From where on its process counts as able.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(required))]
    pub thresholds: Thresholds,
}

/// Limits stand three sigma about the centre unless said otherwise.
pub const fn usual_k() -> f64 {
    3.0
}

/// Minutes that an episode waits for an answer where nothing else is said.
pub const fn usual_escalation() -> u16 {
    30
}

impl Characteristic {
    /// What a kind of defect is called now, by its identity; words stand for themselves.
    pub fn kind_named(&self, kind: &str) -> String {
        let known = self.defect_kinds.iter().find(|known| known.id.to_string() == kind);
        known.map_or_else(|| kind.to_owned(), |known| known.name.clone())
    }

    /// How it is charted and judged.
    pub fn scheme(&self) -> Scheme {
        let Self { chart, options, rule_set, k, .. } = self;
        Scheme { chart: *chart, options: options.clone(), rule_set: rule_set.clone(), k: *k }
    }

    /// The part that a sample's tags name, among those of a short run.
    pub fn part(&self, tags: &BTreeMap<String, String>) -> Option<&Part> {
        let name = tags.get(PART_TAG)?;
        self.parts.iter().find(|part| part.name == *name)
    }

    /// It is entered as the time at which it happened.
    pub fn asks_when(&self) -> bool {
        self.chart == ChartKind::T
    }

    /// Pieces that a sample has readings of.
    pub fn pieces(&self) -> usize {
        if self.kind == Kind::Measured { self.subgroup_size as usize } else { 0 }
    }
}
