//! Points and panels as they are sent: one list a field, not an object a point, and lines once for all points that
//! share them.

use std::collections::HashMap;
use std::collections::hash_map::Entry;

use quality::entry::{Doubt, Tags};
use quality::sample::{Content, Defects};
use serde::{Serialize, Serializer};
use spc::Figure;
use spc::chart::{PanelPoint, Statistic, Zones, zones};
use utoipa::ToSchema;
use uuid::Uuid;

use super::types::{ChartPanel, ChartPoint, DRAWN, Gap, Said};

/// Points that are drawn, in order.
#[derive(Debug, Serialize, ToSchema)]
pub struct PointColumns {
    /// Where each stands on the axis.
    place: Vec<usize>,
    /// Its number.
    number: Vec<i64>,
    /// When it was taken, in milliseconds since 1970, UTC.
    taken_at: Vec<i64>,
    /// Points left out of limits and rules, with the cause.
    aside: Vec<At<Said>>,
    /// Where rules start afresh, since something was corrected.
    restart: Vec<At<Said>>,
    /// Why places are empty.
    gap: Vec<At<Gap>>,
    /// Nothing where more than 2000 are drawn.
    details: Option<DetailColumns>,
}

/// Something that only some points have.
#[derive(Debug, Serialize, ToSchema)]
pub struct At<T> {
    /// Which of the points.
    point: usize,
    is: T,
}

/// What was recorded with each point.
#[derive(Debug, Serialize, ToSchema)]
pub struct DetailColumns {
    sample: Vec<Uuid>,
    /// When it reached the server, in milliseconds since 1970, UTC.
    arrived_at: Vec<i64>,
    /// Those who entered the points.
    people: Vec<String>,
    /// Which of the people.
    person: Vec<usize>,
    /// Tags as they occur together.
    tag_sets: Vec<Tags>,
    /// Which of the sets.
    tags: Vec<usize>,
    /// Counts its changes.
    version: Vec<i32>,
    /// Points of which earlier contents are on record.
    corrected: Vec<usize>,
    /// Readings that were doubted when they came.
    doubts: Vec<At<Vec<Doubt>>>,
    /// Readings, of measured points.
    values: Vec<Option<Vec<Option<f64>>>>,
    /// Reference components, where there are any.
    components: Vec<At<Vec<Option<f64>>>>,
    /// Units inspected, of counted points.
    inspected: Vec<Option<u32>>,
    /// What was found in them.
    defects: Vec<At<Vec<Defects>>>,
    /// Of rare events what lay between it and the one before.
    events: Vec<At<Option<f64>>>,
}

/// One panel.
#[derive(Debug, Serialize, ToSchema)]
pub struct PanelColumns {
    /// What it plots.
    statistic: Statistic,
    /// The statistic of each point.
    #[schema(value_type = Vec<Option<f64>>)]
    value: Vec<Figure>,
    /// Centre line and limits.
    lines: Vec<Lines>,
    /// Which points are flagged.
    flagged: Vec<usize>,
    /// Its zones, by points; none where no rule looks at them.
    zones: Vec<Zones>,
}

/// Points that share centre line and limits.
#[derive(Debug, PartialEq, Serialize, ToSchema)]
pub struct Lines {
    /// The first of the points.
    from: usize,
    /// The last of them.
    to: usize,
    #[schema(value_type = Option<f64>)]
    center: Figure,
    #[schema(value_type = Option<f64>)]
    lower: Figure,
    #[schema(value_type = Option<f64>)]
    upper: Figure,
}

/// Sends points by columns.
///
/// # Errors
/// Of the serializer.
pub(super) fn points<S: Serializer>(points: &[ChartPoint], to: S) -> Result<S::Ok, S::Error> {
    PointColumns::of(points).serialize(to)
}

/// Sends panels by columns.
///
/// # Errors
/// Of the serializer.
pub(crate) fn panels<S: Serializer>(panels: &[ChartPanel], to: S) -> Result<S::Ok, S::Error> {
    to.collect_seq(panels.iter().map(PanelColumns::of))
}

/// What some of the points have.
fn only<'a, T>(points: &'a [ChartPoint], of: impl Fn(&'a ChartPoint) -> Option<T>) -> Vec<At<T>> {
    points.iter().enumerate().filter_map(|(point, of_it)| Some(At { point, is: of(of_it)? })).collect()
}

impl PointColumns {
    fn of(points: &[ChartPoint]) -> Self {
        Self {
            place: points.iter().map(|point| point.place).collect(),
            number: points.iter().map(|point| point.number).collect(),
            taken_at: points.iter().map(|point| point.taken_at.timestamp_millis()).collect(),
            aside: only(points, |point| point.aside.clone()),
            restart: only(points, |point| point.restart.clone()),
            gap: only(points, |point| point.gap.clone()),
            details: (points.len() <= DRAWN).then(|| DetailColumns::of(points)),
        }
    }
}

impl DetailColumns {
    fn of(points: &[ChartPoint]) -> Self {
        let (people, person) = by_turns(points.iter().map(|point| &point.person));
        let (tag_sets, tags) = by_turns(points.iter().map(|point| &point.tags));
        let readings = |point: &ChartPoint| match &point.content {
            Some(Content::Readings(readings)) => Some(readings.values.clone()),
            _ => None,
        };
        let inspected = |point: &ChartPoint| match &point.content {
            Some(Content::Counts(counts)) => Some(counts.inspected),
            _ => None,
        };
        let if_any = |any: bool| if any { points } else { &[] };
        Self {
            sample: points.iter().map(|point| point.sample).collect(),
            arrived_at: points.iter().map(|point| point.arrived_at.timestamp_millis()).collect(),
            people,
            person,
            tag_sets,
            tags,
            version: points.iter().map(|point| point.version).collect(),
            corrected: (0..points.len()).filter(|point| points[*point].corrected).collect(),
            doubts: only(points, |point| (!point.doubts.is_empty()).then(|| point.doubts.clone())),
            values: if_any(points.iter().any(|point| readings(point).is_some())).iter().map(readings).collect(),
            components: only(points, |point| match &point.content {
                Some(Content::Readings(readings)) if !readings.components.is_empty() => {
                    Some(readings.components.clone())
                }
                _ => None,
            }),
            inspected: if_any(points.iter().any(|point| inspected(point).is_some())).iter().map(inspected).collect(),
            defects: only(points, |point| match &point.content {
                Some(Content::Counts(counts)) if !counts.defects.is_empty() => Some(counts.defects.clone()),
                _ => None,
            }),
            events: only(points, |point| match &point.content {
                Some(Content::Event(event)) => Some(event.between),
                _ => None,
            }),
        }
    }
}

/// Each different one once, and which of them each is.
fn by_turns<'a, T: Clone + Eq + std::hash::Hash + 'a>(all: impl Iterator<Item = &'a T>) -> (Vec<T>, Vec<usize>) {
    let (mut each, mut seen) = (Vec::new(), HashMap::new());
    let which = all.map(|one| match seen.entry(one) {
        Entry::Occupied(there) => *there.get(),
        Entry::Vacant(new) => {
            each.push(one.clone());
            *new.insert(each.len() - 1)
        }
    });
    let which = which.collect();
    (each, which)
}

impl PanelColumns {
    /// A panel by columns.
    pub fn of(panel: &ChartPanel) -> Self {
        let points = &panel.points;
        Self {
            statistic: panel.statistic,
            value: points.iter().map(|point| point.value).collect(),
            lines: lines(points),
            flagged: (0..points.len()).filter(|point| points[*point].flagged).collect(),
            zones: zones(panel.statistic, points),
        }
    }
}

/// Stretches of points that share their lines; none where a point has none.
fn lines(points: &[PanelPoint]) -> Vec<Lines> {
    let mut all: Vec<Lines> = Vec::new();
    for (at, point) in points.iter().enumerate() {
        let here = Lines { from: at, to: at, center: point.center, lower: point.lower, upper: point.upper };
        if [here.center, here.lower, here.upper].iter().all(|figure| figure.get().is_none()) {
            continue;
        }
        match all.last_mut() {
            Some(last) if last.to + 1 == at && Lines { from: last.from, to: last.to, ..here } == *last => last.to = at,
            _ => all.push(here),
        }
    }
    all
}
