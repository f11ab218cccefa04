//! What thinning promises, of any series.

use proptest::prelude::*;
use spc::Figure;
use spc::thin::{TooFew, thin};

/// Figures, whether each must be seen, and where stretches begin.
fn charts() -> impl Strategy<Value = (Vec<Vec<Figure>>, Vec<bool>, Vec<usize>)> {
    (1usize..600, 1usize..4).prop_flat_map(|(count, panels)| {
        let figure = prop_oneof![
            9 => (-1e6..1e6f64).prop_map(Figure::new),
            // Ties and gaps.
            2 => (-2i32..2).prop_map(|x| Figure::new(f64::from(x))),
            1 => Just(Figure::NONE),
        ];
        (
            prop::collection::vec(prop::collection::vec(figure, count), panels),
            prop::collection::vec(prop::bool::weighted(0.04), count),
            prop::collection::btree_set(0..count, 0..5).prop_map(|starts| starts.into_iter().collect()),
        )
    })
}

proptest! {
    #[test]
    fn nothing_flagged_and_no_extreme_is_lost_and_never_more_than_asked(
        (panels, flagged, starts) in charts(),
        most in 1usize..400,
    ) {
        let series: Vec<&[Figure]> = panels.iter().map(Vec::as_slice).collect();
        let count = flagged.len();
        match thin(&series, &starts, |place| flagged[place], most) {
            Ok(drawn) => {
                prop_assert!(drawn.len() <= most);
                prop_assert!(drawn.windows(2).all(|pair| pair[0] < pair[1]), "order is kept: {:?}", drawn);
                prop_assert!(drawn.iter().all(|place| *place < count));
                prop_assert!((0..count).all(|place| !flagged[place] || drawn.contains(&place)));
                if count <= most {
                    prop_assert_eq!(drawn.len(), count);
                }
                let mut begins = starts.clone();
                begins.push(count);
                let mut from = 0;
                for to in begins.into_iter().filter(|start| *start > 0) {
                    prop_assert!(drawn.contains(&from) && drawn.contains(&(to - 1)));
                    for figures in &series {
                        let seen = |places: Vec<usize>| {
                            let values: Vec<f64> = places.into_iter().filter_map(|place| figures[place].get()).collect();
                            (values.iter().copied().fold(f64::MAX, f64::min), values.iter().copied().fold(f64::MIN, f64::max))
                        };
                        let of_drawn = drawn.iter().copied().filter(|place| (from..to).contains(place)).collect();
                        prop_assert_eq!(seen(of_drawn), seen((from..to).collect()));
                    }
                    from = to;
                }
            }
            Err(TooFew { most: asked, needed }) => {
                prop_assert_eq!(asked, most);
                prop_assert!(needed > most);
                // What it says is needed is enough.
                let drawn = thin(&series, &starts, |place| flagged[place], needed).unwrap();
                prop_assert!(drawn.len() <= needed);
            }
        }
    }
}
