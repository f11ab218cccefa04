//! Which points of a stretch are drawn.

use spc::Figure;
use spc::thin::{TooFew, thin};

use super::types::{ChartPanel, ChartPhase, DRAWN_AT_MOST};

/// The points drawn, by place, and whether some that are flagged are not among them.
pub(super) struct DrawnPoints {
    pub places: Vec<usize>,
    pub flags_thinned: bool,
}

/// Of the panels' points as many as there is room for. What is flagged takes more room where it needs it; where even
/// that is too little, each run of flagged points keeps its ends, or each part of the screen its first flagged point, and
/// at last only what somebody said something of.
pub(super) fn drawn(panels: &[ChartPanel], phases: &[ChartPhase], told: &[bool], room: usize) -> DrawnPoints {
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

#[cfg(test)]
mod tests {
    use rstest::rstest;
    use spc::chart::{PanelPoint, Statistic};

    use super::*;

    fn panel(count: usize, flagged: impl Fn(usize) -> bool) -> Vec<ChartPanel> {
        let point =
            |i: usize| PanelPoint { value: Figure::new((i % 97) as f64), flagged: flagged(i), ..PanelPoint::default() };
        vec![ChartPanel { statistic: Statistic::Mean, points: (0..count).map(point).collect() }]
    }

    #[rstest]
    #[case::few_flags(10_000, |i: usize| i.is_multiple_of(500), 1000)]
    #[case::more_flags_than_room(50_000, |i: usize| i.is_multiple_of(25), 1000)]
    fn all_flagged_points_are_drawn(#[case] count: usize, #[case] flagged: fn(usize) -> bool, #[case] room: usize) {
        let panels = panel(count, flagged);
        let drawn = drawn(&panels, &[], &vec![false; count], room);
        assert!(!drawn.flags_thinned && drawn.places.len() <= DRAWN_AT_MOST);
        assert!((0..count).filter(|i| flagged(*i)).all(|i| drawn.places.binary_search(&i).is_ok()));
    }

    #[rstest]
    #[case::long_runs(100_000, |i: usize| i % 1000 < 600)]
    #[case::every_other(100_000, |i: usize| i.is_multiple_of(2))]
    fn a_chart_that_is_flagged_all_over_says_so_and_keeps_what_was_told(
        #[case] count: usize,
        #[case] flagged: fn(usize) -> bool,
    ) {
        let told: Vec<bool> = (0..count).map(|i| i % 5000 == 77).collect();
        let drawn = drawn(&panel(count, flagged), &[], &told, 1000);
        assert!(drawn.flags_thinned && drawn.places.len() <= DRAWN_AT_MOST, "{}", drawn.places.len());
        assert!((0..count).filter(|i| told[*i]).all(|i| drawn.places.binary_search(&i).is_ok()));
        // Wherever points are flagged, one of them is drawn.
        let parts = (0..count).collect::<Vec<_>>();
        assert!(
            parts.chunks(1000).all(|part| part.iter().any(|i| flagged(*i) && drawn.places.binary_search(i).is_ok()))
        );
    }
}
