//! Which points of a stretch are drawn.

use spc::Figure;
use spc::thin::{TooFew, thin};

use super::types::{ChartPanel, ChartPhase, DRAWN_AT_MOST};

/// The points drawn, by place, and whether some that are flagged are not among them.
#[derive(Debug)]
pub struct DrawnPoints {
    pub places: Vec<usize>,
    pub flags_thinned: bool,
}

/// Of the panels' points as many as there is room for. What is flagged takes more room where it needs it; where even
/// that is too little, each run of flagged points keeps its ends, or each part of the screen its first flagged point, and
/// at last only what somebody said something of.
pub fn drawn(panels: &[ChartPanel], phases: &[ChartPhase], told: &[bool], room: usize) -> DrawnPoints {
    let series: Vec<Vec<Figure>> =
        panels.iter().map(|panel| panel.points.iter().map(|point| point.value).collect()).collect();
    let series: Vec<&[Figure]> = series.iter().map(Vec::as_slice).collect();
    let starts: Vec<usize> = phases.iter().map(|phase| phase.start).collect();
    let flagged = |place: usize| panels.iter().any(|panel| panel.points[place].flagged);
    let last = told.len().saturating_sub(1);
    let ends =
        |place: usize| flagged(place) && (place == 0 || place == last || !flagged(place - 1) || !flagged(place + 1));
    // Rings stand where flagged points are, whatever else is drawn there.
    let part = |place: usize| place * (room / 2) / told.len().max(1);
    let first_flagged: Vec<usize> = {
        let mut found: Vec<usize> = (0..told.len()).filter(|place| flagged(*place)).collect();
        found.dedup_by_key(|place| part(*place));
        found
    };
    let first_of_its_part = |place: usize| first_flagged.binary_search(&place).is_ok();
    let all = |must: &dyn Fn(usize) -> bool| match thin(&series, &starts, must, room) {
        Err(TooFew { needed, .. }) if needed + room / 2 <= DRAWN_AT_MOST => {
            thin(&series, &starts, must, needed + room / 2)
        }
        answer => answer,
    };
    if let Ok(places) = all(&|place| flagged(place) || told[place]) {
        return DrawnPoints { places, flags_thinned: false };
    }
    let places = all(&|place| ends(place) || told[place])
        .or_else(|_| all(&|place| first_of_its_part(place) || told[place]))
        .or_else(|_| all(&|place| told[place]))
        .or_else(|_| all(&|_| false))
        .or_else(|TooFew { needed, .. }| thin(&series, &starts, |_| false, needed))
        .unwrap_or_default();
    DrawnPoints { places, flags_thinned: true }
}
