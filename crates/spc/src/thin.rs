//! Which of many points to draw where a screen has room for few, so that what is seen is what happened.

use thiserror::Error;

use crate::Figure;

/// Fewer points were asked for than may not be left out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
#[error("{needed} points may not be left out; {most} were asked for")]
pub struct TooFew {
    /// How many were asked for at most.
    pub most: usize,
    /// How many may not be left out.
    pub needed: usize,
}

/// The places of the points to draw, in order, at most `most` of them; all where there are no more.
///
/// Never left out: the first and the last point of each stretch, the lowest and the highest of each series in each
/// stretch, and those that must be seen. What room is left is shared out evenly: the places are cut into as many
/// equal parts as fit, and of each the lowest and the highest of each series are drawn, so the outline of what was
/// thinned is that of all points. A point that is drawn stands for those that follow it up to the next one drawn.
///
/// * `series`: what is drawn, one figure a place in each; where there is none, nothing is lowest or highest.
///   All have the same length.
/// * `starts`: the places at which a stretch begins, ascending; one begins at 0 in any case.
/// * `must`: whether the point at a place must be seen.
///
/// # Errors
/// [`TooFew`] where more points may not be left out than were asked for.
///
/// # Panics
/// Where series differ in length, or a stretch begins behind the last place: both are mistakes of the caller.
///
/// ```
/// use spc::Figure;
/// let series: Vec<Figure> = (0..1000).map(|i| Figure::new(if i == 137 { 9.0 } else { 0.0 })).collect();
/// let drawn = spc::thin::thin(&[&series], &[], |place| place == 500, 20).unwrap();
/// assert!(drawn.len() <= 20);
/// assert!([0, 137, 500, 999].iter().all(|place| drawn.contains(place)));
/// ```
pub fn thin(
    series: &[&[Figure]],
    starts: &[usize],
    must: impl Fn(usize) -> bool,
    most: usize,
) -> Result<Vec<usize>, TooFew> {
    let count = series.first().map_or(0, |figures| figures.len());
    assert!(series.iter().all(|figures| figures.len() == count), "series of one length");
    if count <= most {
        return Ok((0..count).collect());
    }
    let mut drawn: Vec<bool> = (0..count).map(must).collect();
    let mut from = 0;
    for to in starts.iter().copied().filter(|start| *start > 0).chain([count]) {
        (drawn[from], drawn[to - 1]) = (true, true);
        draw_extremes(series, from, to, &mut drawn);
        from = to;
    }
    let needed = drawn.iter().filter(|drawn| **drawn).count();
    let Some(room) = most.checked_sub(needed) else { return Err(TooFew { most, needed }) };
    let parts = room / (2 * series.len());
    for part in 0..parts {
        draw_extremes(series, part * count / parts, (part + 1) * count / parts, &mut drawn);
    }
    Ok(drawn.iter().enumerate().filter(|(_, drawn)| **drawn).map(|(place, _)| place).collect())
}

/// Marks the first lowest and the first highest of each series from one place up to another.
fn draw_extremes(series: &[&[Figure]], from: usize, to: usize, drawn: &mut [bool]) {
    for figures in series {
        let mut ends: Option<((usize, f64), (usize, f64))> = None;
        for (place, value) in (from..to).filter_map(|place| Some((place, figures[place].get()?))) {
            let (low, high) = ends.get_or_insert(((place, value), (place, value)));
            if value < low.1 {
                *low = (place, value);
            }
            if value > high.1 {
                *high = (place, value);
            }
        }
        if let Some((low, high)) = ends {
            (drawn[low.0], drawn[high.0]) = (true, true);
        }
    }
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    fn figures(values: impl IntoIterator<Item = f64>) -> Vec<Figure> {
        values.into_iter().map(Figure::new).collect()
    }

    #[rstest]
    #[case::none(0)]
    #[case::one(1)]
    #[case::just_as_many(10)]
    fn all_are_drawn_where_there_is_room(#[case] count: usize) {
        let series = figures((0..count).map(|i| i as f64));
        assert_eq!(thin(&[&series], &[], |_| false, 10).unwrap(), (0..count).collect::<Vec<_>>());
    }

    #[test]
    fn too_few_are_said_and_not_taken_from_what_must_be_seen() {
        let series = figures((0..100).map(f64::from));
        let refused = thin(&[&series], &[], |place| place % 2 == 0, 40);
        // Every other one, and the last, which is the highest.
        assert_eq!(refused, Err(TooFew { most: 40, needed: 51 }));
    }

    #[test]
    fn each_stretch_keeps_its_ends_and_its_own_extremes() {
        let series = figures((0..300).map(|i| if i < 200 { f64::from(i % 50) } else { 1000.0 + f64::from(i % 50) }));
        let drawn = thin(&[&series], &[200], |_| false, 12).unwrap();
        for place in [0, 49, 199, 200, 249, 299] {
            assert!(drawn.contains(&place), "{place} of {drawn:?}");
        }
    }

    #[test]
    fn the_outline_is_that_of_all_points() {
        let series = figures((0..10_000).map(|i| (f64::from(i) / 700.0).sin()));
        let drawn = thin(&[&series], &[], |_| false, 204).unwrap();
        // A hundred parts: in each, the highest drawn is the highest there is.
        for part in 0..100 {
            let inside = part * 100..(part + 1) * 100;
            let highest = |places: &mut dyn Iterator<Item = usize>| {
                places.map(|place| series[place].get().unwrap()).fold(f64::MIN, f64::max)
            };
            let of_drawn = highest(&mut drawn.iter().copied().filter(|place| inside.contains(place)));
            assert_eq!(of_drawn, highest(&mut inside.clone()), "part {part}");
        }
    }

    #[test]
    fn gaps_are_neither_lowest_nor_highest() {
        let mut series = figures((0..100).map(f64::from));
        series[50] = Figure::NONE;
        let gone = vec![Figure::NONE; 100];
        let drawn = thin(&[&series, &gone], &[], |_| false, 10).unwrap();
        assert!(!drawn.contains(&50) && drawn.len() <= 10);
    }
}
