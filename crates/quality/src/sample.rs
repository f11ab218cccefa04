//! What a sample recorded, and what of it is plotted.

use serde::{Deserialize, Serialize};
use spc::points::{Count, Point, Points};
use uuid::Uuid;

use crate::characteristic::{Characteristic, Kind};
use crate::part::Part;

/// How many flaws, or flawed units, of one kind a sample had.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Defects {
    /// Entry of the characteristic's catalogue; nothing for another kind, which `word` names.
    pub kind: Option<Uuid>,
    /// The other kind, in words.
    pub word: Option<String>,
    /// How many, above 0.
    pub count: u32,
}

impl Defects {
    /// What they are called: as the catalogue calls their kind now, or in words.
    pub fn name(&self, characteristic: &Characteristic) -> String {
        match (&self.kind, &self.word) {
            (Some(kind), _) => characteristic.kind_named(&kind.to_string()),
            (None, word) => word.clone().unwrap_or_default(),
        }
    }
}

/// What a sample recorded.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Content {
    /// A value of each piece; nothing where a piece was left out on purpose.
    Readings(Readings),
    /// Counts in units inspected.
    Counts(Counts),
    /// A rare event.
    Event(RareEvent),
}

/// Something rare happened.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RareEvent {
    /// Conforming units since the event before, as they were entered; or hours since it, from the times of both.
    /// Nothing for the first of those that are entered by their time.
    pub between: Option<f64>,
}

/// Values of pieces.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Readings {
    /// One for each piece; nothing where one was left out on purpose.
    pub values: Vec<Option<f64>>,
    /// One for each reference component.
    pub components: Vec<Option<f64>>,
}

/// Counts in units inspected.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Counts {
    /// Units inspected, or the area of opportunity.
    pub inspected: u32,
    /// By kind; none when nothing was found.
    pub defects: Vec<Defects>,
}

impl Counts {
    /// Nonconforming units or nonconformities in all.
    pub fn count(&self) -> u32 {
        self.defects.iter().fold(0, |sum, d| sum.saturating_add(d.count))
    }
}

impl Content {
    /// Readings without components.
    pub fn readings(values: impl IntoIterator<Item = f64>) -> Self {
        Content::Readings(Readings { values: values.into_iter().map(Some).collect(), components: vec![] })
    }

    /// What is plotted of it; of a part, how far its values are from its nominal.
    pub fn plotted(&self, part: Option<&Part>) -> Plotted {
        match self {
            Content::Readings(readings) => Plotted::readings(readings.values.iter().copied(), part),
            Content::Counts(counts) => {
                Plotted::Count(Some(Count { count: f64::from(counts.count()), size: f64::from(counts.inspected) }))
            }
            Content::Event(event) => Plotted::Between(event.between),
        }
    }
}

/// A place on the chart: what is plotted there, or a gap.
#[derive(Debug, Clone, PartialEq)]
pub enum Plotted {
    /// Measured values, none for a gap.
    Values(Vec<f64>),
    /// A count, or a gap.
    Count(Option<Count>),
    /// Distance from the event before, or a gap.
    Between(Option<f64>),
}

impl Plotted {
    /// A gap in a chart of this kind.
    pub fn gap(kind: Kind) -> Self {
        match kind {
            Kind::Measured => Plotted::Values(vec![]),
            Kind::RareEvent => Plotted::Between(None),
            _ => Plotted::Count(None),
        }
    }

    /// Readings, those left out on purpose passed over; of a part, as deviations.
    pub fn readings(values: impl IntoIterator<Item = Option<f64>>, part: Option<&Part>) -> Self {
        let plotted = |x| part.map_or(x, |part| part.deviation(x));
        Plotted::Values(values.into_iter().flatten().map(plotted).collect())
    }

    /// As the core takes it.
    pub fn point(&self) -> Point<'_> {
        match self {
            Plotted::Values(values) => Point::Values(values),
            Plotted::Count(count) => Point::Count(*count),
            Plotted::Between(distance) => Point::Between(*distance),
        }
    }
}

/// Places as the core takes them all at once.
pub fn points<'a>(kind: Kind, places: impl IntoIterator<Item = &'a Plotted>) -> Points {
    let places = places.into_iter();
    let values = |place: &'a Plotted| if let Plotted::Values(values) = place { values.as_slice() } else { &[] };
    let count = |place: &Plotted| if let Plotted::Count(count) = place { *count } else { None };
    let between = |place: &Plotted| if let Plotted::Between(distance) = place { *distance } else { None };
    match kind {
        Kind::Measured => Points::Values(places.map(|place| values(place).iter().copied()).collect()),
        Kind::RareEvent => Points::Between(places.map(between).collect()),
        _ => Points::Counts(places.map(count).collect()),
    }
}
