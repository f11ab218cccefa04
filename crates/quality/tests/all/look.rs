//! Are limits in force still true: what enters the list of limits to look at, what stays on it, where a phase could begin.

use quality::characteristic::Characteristic;
use quality::limits::{Baseline, Drift, LimitsLook, RUN, look, proposed_start};
use quality::place::Place;
use quality::sample::Plotted;
use rstest::rstest;
use spc::chart::{ChartKind, Figures};
use spc::limits_check::SignalCount;
use spc::points::Count;

use crate::common::{leaks, wall_thickness};

const FIGURES: Figures = Figures::new(10.0, 1.0);
const BASELINE: Option<Baseline> = Some(Baseline { points: 25, size: 25.0 });

fn single() -> Characteristic {
    Characteristic { chart: ChartKind::IMr, subgroup_size: 1, ..wall_thickness() }
}

/// `n` single values about a mean, with a sigma of about one.
fn about(mean: f64, n: usize) -> Vec<Place> {
    const STEPS: [f64; 8] = [-1.2, 0.9, -0.4, 1.3, -1.0, 0.2, 1.1, -0.9];
    (0..n).map(|i| Place::of(Plotted::Values(vec![mean + STEPS[i % 8]]))).collect()
}

fn then(mut first: Vec<Place>, more: Vec<Place>) -> Vec<Place> {
    first.extend(more);
    first
}

#[rstest]
#[case::holds(about(10.0, 50), None)]
#[case::above(about(11.2, 50), Some(Drift::Above))]
#[case::below(about(8.8, 50), Some(Drift::Below))]
#[case::wider(about(10.0, 50).iter().map(|place| stretched(place, 2.2)).collect(), Some(Drift::Wider))]
#[case::narrower(about(10.0, 50).iter().map(|place| stretched(place, 0.3)).collect(), Some(Drift::Narrower))]
fn what_became_of_limits(#[case] places: Vec<Place>, #[case] drift: Option<Drift>) {
    let found = look(&single(), &places, FIGURES, BASELINE).unwrap();
    assert_eq!((found.drift, found.points, found.before_too), (drift, RUN, drift.is_some()));
}

fn stretched(place: &Place, by: f64) -> Place {
    let Plotted::Values(values) = &place.plotted else { panic!("single values") };
    Place::of(Plotted::Values(values.iter().map(|x| 10.0 + (x - 10.0) * by).collect()))
}

#[test]
fn fewer_points_than_a_run_say_nothing() {
    assert_eq!(look(&single(), &about(14.0, RUN - 1), FIGURES, BASELINE), None);
    // One that is set aside is not looked at.
    let mut places = about(14.0, RUN);
    places[3].aside = true;
    assert_eq!(look(&single(), &places, FIGURES, BASELINE), None);
}

#[test]
fn two_runs_fail_together_only_in_one_direction() {
    let above_after_below = then(about(8.8, RUN), about(11.2, RUN));
    let found = look(&single(), &above_after_below, FIGURES, BASELINE).unwrap();
    assert_eq!((found.drift, found.before_too), (Some(Drift::Above), false));
    // The run before shares no point with the latest: one wild stretch is not found twice.
    let once = then(about(10.0, RUN), about(11.2, RUN));
    assert!(!look(&single(), &once, FIGURES, BASELINE).unwrap().before_too);
}

#[test]
fn figures_are_those_of_the_check_in_the_core() {
    let places = about(10.9, RUN);
    let found = look(&single(), &places, FIGURES, BASELINE).unwrap();
    let value = |place: &Place| match &place.plotted {
        Plotted::Values(values) => values[0],
        _ => panic!("single values"),
    };
    let mean = places.iter().map(value).sum::<f64>() / RUN as f64;
    assert!((found.shift.unwrap() - (mean - 10.0)).abs() < 1e-9);
    // Taken as exact, the same limits are cried out sooner.
    let exact = look(&single(), &places, FIGURES, None).unwrap();
    assert!(exact.p < found.p, "{} {}", exact.p, found.p);
    // Western Electric finds one in 91.75 points by chance.
    assert!((found.signals.expected.unwrap() - RUN as f64 / 91.75).abs() < 0.01);
}

fn told(drift: Option<Drift>, p: f64, before_too: bool) -> LimitsLook {
    let signals = SignalCount { seen: 0, expected: None };
    LimitsLook { points: RUN, drift, p, shift: Some(0.9), ratio: None, signals, before_too }
}

/// In the order: not on the list before, on the list before.
#[rstest]
#[case::holds(told(None, 0.2, false), [false, false])]
#[case::fails_once(told(Some(Drift::Above), 0.005, false), [false, true])]
#[case::fails_twice(told(Some(Drift::Above), 0.005, true), [true, true])]
#[case::fails_badly(told(Some(Drift::Above), 0.0005, false), [true, true])]
fn what_enters_the_list_and_what_leaves_it(#[case] look: LimitsLook, #[case] listed: [bool; 2]) {
    assert_eq!([look.lists(false), look.lists(true)], listed);
}

#[test]
fn counts_are_looked_at_by_their_units() {
    let counts = |count: f64| (0..RUN).map(move |_| Place::of(Plotted::Count(Some(Count { count, size: 50.0 }))));
    let shares = Characteristic { chart: ChartKind::P, ..leaks() };
    let baseline = Some(Baseline { points: 25, size: 1250.0 });
    let found = |count| look(&shares, &counts(count).collect::<Vec<_>>(), Figures::centered(0.04), baseline).unwrap();
    assert_eq!(found(2.0).drift, None);
    assert_eq!(found(4.0).drift, Some(Drift::Above));
}

#[test]
fn a_phase_is_proposed_where_the_process_changed_last() {
    let places = then(then(about(10.0, 30), about(12.0, 30)), about(9.0, 30));
    assert_eq!(proposed_start(&places), Some(60));
    assert_eq!(proposed_start(&about(10.0, 60)), None);
    // Gaps are no starts.
    let mut gapped = places;
    gapped.insert(40, Place::gap(quality::characteristic::Kind::Measured));
    assert_eq!(proposed_start(&gapped), Some(61));
}
