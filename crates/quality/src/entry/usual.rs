//! What is usual of a reading, so that a slip of the finger is asked about before it becomes a signal.

use serde::{Deserialize, Serialize};
use spc::chart::Figures;

use super::slip::likely;
use super::typed::{Tags, Typed, TypedFirst};
use crate::characteristic::{Bounds, Characteristic, Kind};
use crate::part::Part;
use crate::sample::{Content, Readings};

/// How many sigma of single values a reading may lie from the centre of limits in force before somebody is asked.
/// No process does that by chance; where it did shift so far, one key says so.
const SIGMAS: f64 = 8.0;

/// From how many readings on their spread says what is usual, while limits are on trial.
pub const RECORDED_AT_LEAST: usize = 8;

/// What says which readings are usual.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum UsualBy {
    /// Soft bounds that were set for the characteristic.
    Bounds,
    /// Limits in force.
    Limits,
    /// What was recorded so far.
    Recorded,
}

/// Smallest and largest of the readings recorded so far.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Recorded {
    /// The smallest.
    pub least: f64,
    /// The largest.
    pub most: f64,
    /// How many there are.
    pub readings: usize,
}

/// The readings that are usual of a characteristic.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Usual {
    bounds: Bounds,
    by: UsualBy,
}

impl Usual {
    /// Every reading: for what nobody is asked about.
    pub const EVERYTHING: Self = Self { bounds: Bounds { lower: None, upper: None }, by: UsualBy::Bounds };

    /// As it was set up; nothing where that says nothing and what holds has to be looked at.
    pub fn set(characteristic: &Characteristic) -> Option<Self> {
        let bounds = characteristic.soft_bounds;
        let set = bounds != Bounds::default() || characteristic.kind != Kind::Measured;
        set.then_some(Self { bounds, by: UsualBy::Bounds })
    }

    /// By limits in force; nothing where they know no sigma of single values.
    pub fn by_limits(figures: &Figures) -> Option<Self> {
        let sigma = figures.sigma?.hypot(figures.sigma_between.unwrap_or_default());
        let (center, reach) = (figures.center?, SIGMAS * sigma);
        let bounds = Bounds { lower: Some(center - reach), upper: Some(center + reach) };
        (reach > 0.0).then_some(Self { bounds, by: UsualBy::Limits })
    }

    /// By what was recorded: up to its whole spread away from it; everything, while that is too little to tell.
    pub fn by_recorded(recorded: Option<Recorded>) -> Self {
        let told = recorded.filter(|r| r.readings >= RECORDED_AT_LEAST && r.most > r.least);
        let bounds = told.map(|Recorded { least, most, .. }| {
            let spread = most - least;
            Bounds { lower: Some(least - spread), upper: Some(most + spread) }
        });
        Self { bounds: bounds.unwrap_or_default(), by: UsualBy::Recorded }
    }
}

impl Usual {
    /// What is usual of one part, where limits speak of deviations from the nominal of each.
    fn of_part(self, part: Option<&Part>) -> Self {
        let Some(part) = part.filter(|_| self.by == UsualBy::Limits) else { return self };
        let value = |deviation: Option<f64>| deviation.map(|x| part.value(x));
        Self { bounds: Bounds { lower: value(self.bounds.lower), upper: value(self.bounds.upper) }, ..self }
    }
}

/// A reading that was doubted when it came.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Doubt {
    /// Which piece, from 1.
    pub piece: usize,
    /// What was typed first, and changed when somebody asked; nothing where it was kept as it came.
    pub first: Option<String>,
}

/// A reading that is not usual: kept when a person confirms it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Unusual {
    /// Which piece, from 1.
    pub piece: usize,
    /// The value.
    pub given: f64,
    /// Smallest usual value.
    pub lower: Option<f64>,
    /// Largest usual value.
    pub upper: Option<f64>,
    /// What says so.
    pub by: UsualBy,
    /// What was meant, when a known slip of the finger explains it: as it would be typed.
    pub likely: Option<String>,
}

/// The readings of a sample that were doubted: those that are not usual, and those that were `changed` at the question.
pub fn doubts(
    characteristic: &Characteristic,
    usual: &Usual,
    (content, tags): (&Content, &Tags),
    changed: &[TypedFirst],
) -> Vec<Doubt> {
    let usual = usual.of_part(characteristic.part(tags));
    let kept = outside(&usual, content).map(|(piece, _)| Doubt { piece, first: None });
    let changed = changed.iter().map(|c| Doubt { piece: c.piece, first: Some(c.given.clone()) });
    changed.chain(kept).collect()
}

/// Pieces that are not usual, from 1, with their values.
fn outside(usual: &Usual, content: &Content) -> impl Iterator<Item = (usize, f64)> {
    let values = match content {
        Content::Readings(Readings { values, .. }) => values.as_slice(),
        Content::Counts(_) | Content::Event(_) => &[],
    };
    let bounds = usual.bounds;
    values.iter().enumerate().filter_map(move |(i, value)| Some((i + 1, value.filter(|&x| !bounds.hold(x))?)))
}

/// The readings that a person is asked about before they are kept.
pub fn unusual(characteristic: &Characteristic, usual: &Usual, typed: &Typed, content: &Content) -> Vec<Unusual> {
    let usual = usual.of_part(characteristic.part(&typed.tags));
    let Usual { bounds, by } = usual;
    outside(&usual, content)
        .map(|(piece, given)| {
            let likely = typed.readings.get(piece - 1).and_then(|text| likely(characteristic, &bounds, text));
            Unusual { piece, given, lower: bounds.lower, upper: bounds.upper, by, likely }
        })
        .collect()
}
