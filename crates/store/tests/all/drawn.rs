//! What of a long chart is drawn, and how it is sent.

use quality::episode::Aspect;
use quality::signal::SignalState;
use rstest::rstest;
use serde_json::json;
use spc::Figure;
use spc::chart::{PanelPoint, Statistic};
use store::charts::{ChartEpisode, ChartPanel, DRAWN_AT_MOST, PanelColumns, bundled, drawn};
use uuid::Uuid;

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
    assert!(parts.chunks(1000).all(|part| part.iter().any(|i| flagged(*i) && drawn.places.binary_search(i).is_ok())));
}

fn episode(from: usize, state: SignalState) -> ChartEpisode {
    let (id, aspect) = (Uuid::new_v4(), Aspect::Location);
    ChartEpisode { id, aspect, side: None, from, at: from, to: from + 3, state, patterns: vec![], others: 0 }
}

#[test]
fn few_episodes_stay_as_they_are() {
    let few: Vec<_> = (0..200).map(|i| episode(i * 10, SignalState::Reviewed)).collect();
    let ids: Vec<Uuid> = few.iter().map(|episode| episode.id).collect();
    assert_eq!(bundled(few, 4000).iter().map(|episode| episode.id).collect::<Vec<_>>(), ids);
}

#[test]
fn a_bundle_is_its_least_settled_episode_and_counts_the_others() {
    let mut many: Vec<_> = (0..4000).map(|i| episode(i * 25, SignalState::Reviewed)).collect();
    many[1234].state = SignalState::Open;
    let open = many[1234].id;
    let bundles = bundled(many, 100_000);
    assert_eq!(bundles.len(), 200);
    assert_eq!(bundles.iter().map(|bundle| bundle.others + 1).sum::<usize>(), 4000);
    let asking = bundles.iter().find(|bundle| bundle.state == SignalState::Open).unwrap();
    assert_eq!((asking.id, asking.from, asking.to), (open, 1220 * 25, 1239 * 25 + 3));
}

#[test]
fn lines_are_sent_once_for_the_points_that_share_them() {
    let at = |center: f64, upper: f64| PanelPoint {
        center: Figure::new(center),
        upper: Figure::new(upper),
        ..PanelPoint::default()
    };
    let points = vec![at(5.0, 8.0), at(5.0, 8.0), PanelPoint::default(), at(5.0, 8.0), at(5.0, 9.0)];
    let sent = json!(PanelColumns::of(&ChartPanel { statistic: Statistic::Mean, points }));
    let line =
        |from: u64, to: u64, upper: f64| json!({"from": from, "to": to, "center": 5.0, "lower": null, "upper": upper});
    assert_eq!(sent["lines"], json!([line(0, 1, 8.0), line(3, 3, 8.0), line(4, 4, 9.0)]));
}
