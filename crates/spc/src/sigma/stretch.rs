//! The points that an estimate uses.

use std::borrow::Cow;

use crate::points::{Point, Points};
use crate::subgroup::mean;

/// The points of one phase, and which of them an estimate may use.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Stretch<'a> {
    pub points: &'a Points,
    pub used: &'a [bool],
    pub start: usize,
    pub end: usize,
}

impl<'a> Stretch<'a> {
    /// All points of a series that are not set aside, as one phase.
    pub fn whole(points: &'a Points, used: &'a [bool]) -> Self {
        Self { points, used, start: 0, end: points.len().saturating_sub(1) }
    }

    /// No points at all, for figures that rest on none.
    pub fn none(points: &'a Points) -> Self {
        Self { points, used: &[], start: 1, end: 0 }
    }

    /// Mean n of the points that may be used.
    pub fn mean_size(self) -> Option<f64> {
        mean(&self.used().map(Point::size).collect::<Vec<_>>())
    }

    /// Mean n of all points of the phase.
    pub fn mean_size_of_all(self) -> Option<f64> {
        let sizes = self.iter().filter(|(point, _)| !point.is_gap()).map(|(point, _)| point.size());
        mean(&sizes.collect::<Vec<_>>())
    }

    /// Every point of the phase in order, with whether it may be used.
    #[inline]
    pub fn iter(self) -> impl Iterator<Item = (Point<'a>, bool)> + Clone {
        (self.start..=self.end).map(move |i| (self.points.get(i), self.used[i]))
    }

    /// Whether each point of the phase may be used.
    pub fn used_flags(self) -> &'a [bool] {
        &self.used[self.start..=self.end]
    }

    /// The only value of each point, NaN in a gap.
    pub fn singles(self) -> Cow<'a, [f64]> {
        match self.points {
            Points::Values(readings) if readings.equal_size() == Some(1) => {
                Cow::Borrowed(&readings.values()[self.start..=self.end])
            }
            points => (self.start..=self.end).map(|i| points.get(i).single()).collect(),
        }
    }

    /// The points that may be used.
    pub fn used(self) -> impl Iterator<Item = Point<'a>> {
        self.iter().filter(|(_, used)| *used).map(|(point, _)| point)
    }
}
