//! How does any measure go over time?

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartRequest, Limits, compute};
use spc::points::Points;
use spc::rules::{Preset, RuleSet};

use super::refusal::StudyRefusal;
use super::selection::{Picked, Selection};
use super::span::Span;
use super::used::{Extent, values_of};
use crate::characteristic::{Characteristic, Kind};
use crate::field::{Allowed, NAME_AT_MOST, WrongField, broken};
use crate::sample::Plotted;
use crate::shift::Calendar;

/// Periods at most: more are a chart of samples.
const PERIODS_AT_MOST: usize = 2_000;
/// Limits farther out than this are none.
const K_AT_MOST: f64 = 10.0;
/// Of fewer periods no limits are estimated.
const LIMITED_FROM: usize = 8;

/// What is summed up.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "column", rename_all = "snake_case", deny_unknown_fields)]
pub enum Measure {
    /// Each measured value; each distance between rare events.
    Value,
    /// From the smallest to the largest value of a sample.
    Range,
    /// What was counted in a sample.
    Count,
    /// Units inspected.
    Inspected,
    /// What was counted, over the units inspected.
    Rate,
    /// One for each sample.
    Sample,
    /// A tag whose values are numbers; others are passed over.
    Tag {
        /// The tag.
        name: String,
    },
}

/// How it is summed up.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SumUp {
    /// The sum; 0 where there is nothing.
    Sum,
    /// How many; 0 where there is nothing.
    Number,
    /// The mean.
    Mean,
    /// The middle one.
    Median,
    /// The smallest.
    Smallest,
    /// The largest.
    Largest,
    /// s, divisor n − 1.
    Sd,
}

/// A question of a measure over time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OverTimeQuestion {
    /// Of which samples.
    pub of: Selection,
    /// What is summed up.
    pub measure: Measure,
    /// How.
    pub summary: SumUp,
    /// Over how long.
    pub per: Span,
    /// Limits at so many sigma, above 0 up to 10; 3 unless said.
    #[serde(default = "three")]
    pub k: f64,
}

fn three() -> f64 {
    3.0
}

/// A period with what it sums up to.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PeriodPoint {
    /// Its name: `2026-W48`.
    pub name: String,
    /// When it began.
    pub began: DateTime<Utc>,
    /// When the next one began.
    pub ends: DateTime<Utc>,
    /// Samples used.
    pub samples: usize,
    /// Values summed up.
    pub values: usize,
    /// What they sum up to; nothing where too few are there.
    pub value: Option<f64>,
    /// It goes on still, and no limits are found from it.
    pub running: bool,
    /// Beyond the limits, and on which side.
    pub beyond: Option<BeyondSide>,
}

/// A side of the limits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BeyondSide {
    /// Above the upper limit.
    Above,
    /// Below the lower one.
    Below,
}

/// Limits of the periods: those of individuals, from moving ranges.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PeriodLimits {
    /// The mean of the periods.
    pub center: f64,
    /// Mean moving range over d2.
    pub sigma: f64,
    /// centre − k σ
    pub lower: f64,
    /// centre + k σ
    pub upper: f64,
    /// Periods that they are found from.
    pub used: usize,
}

/// A measure over time.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OverTimeAnswer {
    /// Samples used.
    #[serde(flatten)]
    pub extent: Extent,
    /// Values of a tag that are no numbers.
    pub no_numbers: usize,
    /// The periods in their order, those without a sample among them.
    pub periods: Vec<PeriodPoint>,
    /// Limits; nothing of fewer than eight periods.
    pub limits: Option<PeriodLimits>,
    /// Periods beyond them.
    pub beyond: usize,
}

impl Measure {
    /// Whether samples of this kind have it.
    pub fn of_kind(&self, kind: Kind) -> bool {
        match self {
            Self::Value => matches!(kind, Kind::Measured | Kind::RareEvent),
            Self::Range => kind == Kind::Measured,
            Self::Count | Self::Inspected | Self::Rate => {
                matches!(kind, Kind::NonconformingUnits | Kind::Nonconformities)
            }
            Self::Sample | Self::Tag { .. } => true,
        }
    }

    /// Its values in a sample; nothing where it is a tag that is no number.
    fn values(&self, one: &Picked) -> Option<Vec<f64>> {
        let count = |of: fn(f64, f64) -> f64| match &one.place.plotted {
            Plotted::Count(Some(count)) => vec![of(count.count, count.size)],
            _ => vec![],
        };
        Some(match self {
            Self::Value => match &one.place.plotted {
                Plotted::Between(between) => between.iter().copied().collect(),
                _ => values_of(&one.place).to_vec(),
            },
            Self::Range => {
                let ends = values_of(&one.place)
                    .iter()
                    .fold((f64::INFINITY, f64::NEG_INFINITY), |(least, most), x| (least.min(*x), most.max(*x)));
                vec![ends.1 - ends.0]
            }
            Self::Count => count(|count, _| count),
            Self::Inspected => count(|_, size| size),
            Self::Rate => count(|count, size| count / size),
            Self::Sample => vec![1.0],
            Self::Tag { .. } => {
                let Some(text) = &one.group else { return Some(vec![]) };
                vec![text.trim().replace(',', ".").parse().ok().filter(|x: &f64| x.is_finite())?]
            }
        })
    }
}

impl SumUp {
    fn of(self, values: &[f64]) -> Option<f64> {
        let reduced = |pick: fn(f64, f64) -> f64| values.iter().copied().reduce(pick);
        match self {
            Self::Sum => Some(values.iter().sum()),
            Self::Number => Some(values.len() as f64),
            Self::Mean => spc::subgroup::mean(values),
            Self::Median => spc::subgroup::median(values),
            Self::Smallest => reduced(f64::min),
            Self::Largest => reduced(f64::max),
            Self::Sd => spc::subgroup::sd(values),
        }
    }
}

impl OverTimeQuestion {
    pub(super) fn wrong(&self) -> Vec<WrongField> {
        let tag = if let Measure::Tag { name } = &self.measure { name.as_str() } else { "tag" };
        let mut wrong = self.of.wrong();
        wrong.extend(broken([
            ("k", self.k > 0.0 && self.k <= K_AT_MOST, Allowed::Positive { most: K_AT_MOST }),
            (
                "measure",
                !tag.trim().is_empty() && tag.chars().count() <= NAME_AT_MOST,
                Allowed::Name { most: NAME_AT_MOST },
            ),
        ]));
        wrong
    }
}

/// Answers a question of a measure over time.
///
/// # Errors
/// Why there is no answer.
pub fn over_time(
    question: &OverTimeQuestion,
    characteristic: &Characteristic,
    picked: &[Picked],
    calendar: &Calendar,
    now: DateTime<Utc>,
) -> Result<OverTimeAnswer, StudyRefusal> {
    if !question.measure.of_kind(characteristic.kind) {
        return Err(StudyRefusal::OtherKind);
    }
    let used: Vec<&Picked> =
        picked.iter().filter(|one| question.of.uses(&one.place) && !one.place.plotted.point().is_gap()).collect();
    let (mut periods, no_numbers) = periods(question, &used, calendar, now)?;
    let values: Vec<Option<f64>> = periods.iter().map(|period| period.value).collect();
    let running: Vec<usize> = (0..periods.len()).filter(|i| periods[*i].running).collect();
    let limits = limits(&values, &running, question.k);
    if let Some(PeriodLimits { lower, upper, .. }) = limits {
        for period in periods.iter_mut().filter(|period| !period.running) {
            period.beyond = match period.value {
                Some(x) if x > upper => Some(BeyondSide::Above),
                Some(x) if x < lower => Some(BeyondSide::Below),
                _ => None,
            };
        }
    }
    let beyond = periods.iter().filter(|period| period.beyond.is_some()).count();
    Ok(OverTimeAnswer { extent: question.of.extent(picked), no_numbers, periods, limits, beyond })
}

/// Every period from the first sample to the last.
fn periods(
    question: &OverTimeQuestion,
    used: &[&Picked],
    calendar: &Calendar,
    now: DateTime<Utc>,
) -> Result<(Vec<PeriodPoint>, usize), StudyRefusal> {
    let (Some(first), Some(last)) = (used.first(), used.last()) else { return Err(StudyRefusal::NoSamples) };
    let (mut periods, mut no_numbers) = (vec![], 0);
    let mut left = used;
    let mut at = first.taken_at;
    while at <= last.taken_at {
        if periods.len() == PERIODS_AT_MOST {
            return Err(StudyRefusal::TooManyPeriods { most: PERIODS_AT_MOST });
        }
        let Some(period) = question.per.holding(at, calendar).filter(|period| period.ends > at) else {
            return Err(StudyRefusal::NoShifts);
        };
        let (here, later) = left.split_at(left.partition_point(|one| one.taken_at < period.ends));
        let mut values: Vec<f64> = vec![];
        for one in here {
            match question.measure.values(one) {
                Some(found) => values.extend(found),
                None => no_numbers += 1,
            }
        }
        periods.push(PeriodPoint {
            samples: here.len(),
            values: values.len(),
            value: question.summary.of(&values),
            running: period.ends > now,
            beyond: None,
            name: period.name,
            began: period.began,
            ends: period.ends,
        });
        (left, at) = (later, period.ends);
    }
    Ok((periods, no_numbers))
}

/// Those of individuals.
fn limits(values: &[Option<f64>], running: &[usize], k: f64) -> Option<PeriodLimits> {
    let used = (0..values.len()).filter(|i| values[*i].is_some() && !running.contains(i)).count();
    if used < LIMITED_FROM {
        return None;
    }
    let request = ChartRequest {
        excluded: running.to_vec(),
        limits: vec![Limits { k, ..Limits::ESTIMATED }],
        rules: Some(RuleSet::Preset(Preset::LimitsOnly)),
        ..ChartRequest::new(ChartKind::IMr, Points::Values(values.iter().map(|x| x.iter().copied()).collect()))
    };
    let figures = compute(&request).ok()?.phases.first()?.figures;
    let (center, sigma) = figures.center.zip(figures.sigma)?;
    Some(PeriodLimits { center, sigma, lower: center - k * sigma, upper: center + k * sigma, used })
}
