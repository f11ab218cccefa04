//! One place on a chart: what was plotted, whether it is set aside, whether rule windows start afresh there.

use spc::chart::Sums;
use spc::points::Points;

use crate::characteristic::Kind;
use crate::sample::Plotted;

/// One place on a chart.
#[derive(Debug, Clone, PartialEq)]
pub struct Place {
    /// What is plotted there, or a gap.
    pub plotted: Plotted,
    /// Left out of limits and rules, with its cause.
    pub aside: bool,
    /// Rule windows do not reach before it.
    pub restart: bool,
    /// Which of the schemes of its characteristic holds there.
    pub scheme: usize,
    /// What an EWMA or CUSUM had come to here when it was last judged.
    pub sums: Option<Sums>,
}

impl Place {
    /// What is plotted, with nothing said of it, by the first scheme.
    pub fn of(plotted: Plotted) -> Self {
        Self { plotted, aside: false, restart: false, scheme: 0, sums: None }
    }

    /// A gap in a chart of this kind.
    pub fn gap(kind: Kind) -> Self {
        Self::of(Plotted::gap(kind))
    }

    /// As the core takes it.
    pub fn on_chart(&self) -> spc::chart::Place<'_> {
        spc::chart::Place { point: self.plotted.point(), aside: self.aside, restart: self.restart }
    }

    /// A point that limits and rules look at.
    pub fn counts(&self) -> bool {
        !self.aside && !self.plotted.point().is_gap()
    }
}

/// Places as the core takes them all at once.
pub fn points<'a>(kind: Kind, places: impl IntoIterator<Item = &'a Place>) -> Points {
    crate::sample::points(kind, places.into_iter().map(|place| &place.plotted))
}

/// Which of them are so, as the core names them.
pub fn where_so(places: &[Place], so: impl Fn(&Place) -> bool) -> Vec<usize> {
    places.iter().enumerate().filter(|(_, place)| so(place)).map(|(i, _)| i).collect()
}
