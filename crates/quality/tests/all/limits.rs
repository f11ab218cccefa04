//! The life of limits: transitions as a table, what is asked, what speaks against the points they rest on.

use quality::characteristic::{Characteristic, Kind};
use quality::limits::{Basis, LimitsAct, LimitsRefusal, LimitsState, NewLimits, Unfit, estimate, unfit};
use quality::place::Place;
use quality::role::{Permission, Role};
use quality::sample::Plotted;
use rstest::rstest;
use spc::chart::{ChartKind, Figures};
use spc::points::Count;

use crate::common::{leaks, wall_thickness};

const ACTS: [LimitsAct; 10] = [
    LimitsAct::SetAside,
    LimitsAct::TakeBack,
    LimitsAct::Restart,
    LimitsAct::PutInForce,
    LimitsAct::StartPhase,
    LimitsAct::MoveStart,
    LimitsAct::Merge,
    LimitsAct::Rename,
    LimitsAct::Keep,
    LimitsAct::Decline,
];

const T: Option<LimitsState> = Some(LimitsState::Trial);
const F: Option<LimitsState> = Some(LimitsState::InForce);
const R: Option<LimitsState> = Some(LimitsState::Retired);

/// In the order of the acts; nothing where an act is refused.
#[rstest]
#[case::on_trial(LimitsState::Trial, [T, T, T, F, T, T, R, T, None, T])]
#[case::in_force(LimitsState::InForce, [F, F, F, None, R, F, R, F, F, F])]
#[case::retired(LimitsState::Retired, [R, R, R, None, R, R, R, R, None, R])]
fn a_life_of_limits(#[case] from: LimitsState, #[case] to: [Option<LimitsState>; 10]) {
    assert_eq!(ACTS.map(|act| from.after(act).ok()), to);
}

/// Supervisors set aside, take back and restart; the rest is the engineer's; technicians look.
#[rstest]
#[case::technician(Role::Technician, false, false)]
#[case::supervisor(Role::Supervisor, true, false)]
#[case::engineer(Role::Engineer, true, true)]
#[case::administrator(Role::Administrator, false, false)]
#[case::device(Role::Device, false, false)]
fn who_acts_on_limits(#[case] role: Role, #[case] sets_aside: bool, #[case] sets_limits: bool) {
    for act in ACTS {
        let expected = if act.needs() == Permission::SetAside { sets_aside } else { sets_limits };
        assert_eq!(role.may(act.needs()), expected, "{act:?}");
    }
    assert_eq!(ACTS.iter().filter(|act| act.needs() == Permission::SetAside).count(), 3);
}

fn new_limits() -> NewLimits {
    NewLimits { remark: Some("  ".into()), ..NewLimits::of_phase(" Since the new die ") }
}

#[test]
fn texts_of_new_limits_are_trimmed() {
    let checked = new_limits().check().unwrap();
    assert_eq!((checked.name.as_str(), checked.remark), ("Since the new die", None));
}

#[rstest]
#[case::no_name(|new: &mut NewLimits| new.name = " ".into(), "name")]
#[case::crossed(|new: &mut NewLimits| (new.lower, new.upper) = (Some(2.0), Some(2.0)), "lower")]
#[case::no_source(|new: &mut NewLimits| new.basis = Basis::Given { figures: Figures::new(1.0, 1.0), source: String::new() }, "source")]
#[case::nothing_chosen(|new: &mut NewLimits| new.basis = Basis::Chosen { samples: vec![] }, "samples")]
fn new_limits_are_refused_at_the_field(#[case] spoil: fn(&mut NewLimits), #[case] field: &str) {
    let mut new = new_limits();
    spoil(&mut new);
    match new.check() {
        Err(LimitsRefusal::Field(wrong)) => assert_eq!(wrong.field, field),
        other => panic!("{other:?}"),
    }
}

fn values(readings: impl IntoIterator<Item = f64>) -> Vec<Place> {
    readings.into_iter().map(|x| Place::of(Plotted::Values(vec![x]))).collect()
}

fn counts(counts: impl IntoIterator<Item = u32>, size: f64) -> Vec<Place> {
    let count = |count: u32| Some(Count { count: f64::from(count), size });
    counts.into_iter().map(|c| Place::of(Plotted::Count(count(c)))).collect()
}

fn single() -> Characteristic {
    Characteristic { chart: ChartKind::IMr, subgroup_size: 1, ..wall_thickness() }
}

/// What speaks against points, by code.
fn codes(characteristic: &Characteristic, places: &[Place]) -> Vec<String> {
    let found = estimate(characteristic, places).unwrap();
    let code = |unfit: &Unfit| serde_json::to_value(unfit).unwrap()["code"].as_str().unwrap().to_owned();
    unfit(characteristic, places, &found).iter().map(code).collect()
}

/// A quiet process about 5, on a fine grid.
fn quiet(count: usize) -> Vec<f64> {
    let noise = [0.13, -0.42, 0.57, -0.08, 0.31, -0.66, 0.22, -0.19, 0.48, -0.35, 0.05, -0.51, 0.74, -0.27];
    (0..count).map(|i| 5.0 + 0.01 * noise[(i * 5 + i / 14) % 14]).collect()
}

#[rstest]
#[case::fit(quiet(30), &[])]
#[case::few(quiet(12), &["few_points"])]
#[case::unstable(quiet(29).into_iter().chain([5.3]).collect(), &["unstable", "not_normal"])]
#[case::coarse((0..40).map(|i| f64::from([0, 0, 1, 0, 1, 1, 0, 1, 0, 0, 1][i % 11])).collect(), &["not_normal", "coarse"])]
fn what_speaks_against_single_values(#[case] readings: Vec<f64>, #[case] expected: &[&str]) {
    assert_eq!(codes(&single(), &values(readings)), expected);
}

#[rstest]
#[case::fit([4, 2, 3, 5, 1, 3, 4, 2, 3, 2], 50.0, &[])]
#[case::hardly_any([0, 0, 1, 0, 0, 0, 1, 0, 0, 0], 50.0, &["few_found"])]
#[case::scattered([2, 9, 1, 8, 10, 2, 9, 1, 9, 3], 50.0, &["over_dispersed"])]
fn what_speaks_against_counts(#[case] found: [u32; 10], #[case] size: f64, #[case] expected: &[&str]) {
    let thrice = found.iter().chain(&found).chain(&found).copied();
    assert_eq!(codes(&leaks(), &counts(thrice, size)), expected);
}

#[test]
fn a_point_set_aside_is_not_estimated_from() {
    let mut places = values(quiet(24).into_iter().chain([9.0]));
    let with = estimate(&single(), &places).unwrap();
    places[24].aside = true;
    let without = estimate(&single(), &places).unwrap();
    assert_eq!(without, estimate(&single(), &places[..24]).unwrap());
    assert!(with.figures.sigma > without.figures.sigma && without.baseline.points == 24);
}

#[test]
fn a_c_chart_expects_what_its_centre_says() {
    let c = Characteristic { kind: Kind::Nonconformities, chart: ChartKind::C, varying: false, ..leaks() };
    let codes = codes(&c, &counts([1, 0, 0, 1, 0, 0].repeat(4), 10.0));
    assert_eq!(codes, ["few_found"]);
}
