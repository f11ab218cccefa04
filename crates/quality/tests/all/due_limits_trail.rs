//! What is due, when trial limits exist, and what the hash of a trail entry covers.

use chrono::{DateTime, Duration, Utc};
use quality::characteristic::{Characteristic, Kind, Sampling};
use quality::correction::{NotYours, may_change};
use quality::due::{DueState, Facts, due};
use quality::entry::{LONG_AGO, Origin, TimeRefusal, accept_time};
use quality::limits::{Baseline, Estimate, TRIAL_POINTS_AT_LEAST, trial};
use quality::place::Place;
use quality::role::Role;
use quality::sample::Plotted;
use quality::shift::{Calendar, Shift};
use quality::trail::Link;
use rstest::rstest;
use spc::chart::{ChartKind, Figures};
use spc::points::Count;
use uuid::Uuid;

use crate::common::{leaks, wall_thickness};

fn now() -> DateTime<Utc> {
    "2026-03-02T08:00:00Z".parse().unwrap()
}

fn facts(last: Option<DateTime<Utc>>) -> Facts {
    let exists_since = now() - Duration::minutes(1);
    Facts { last, exists_since, pieces_since: 0, lot_began: None, turn: None }
}

#[rstest]
#[case(59, DueState::Done)]
#[case(60, DueState::Due)]
#[case(74, DueState::Due)]
#[case(75, DueState::Overdue)]
fn an_hourly_sample_falls_due(#[case] minutes_ago: i64, #[case] expected: DueState) {
    let last = now() - Duration::minutes(minutes_ago);
    let found = due(Sampling::Minutes { count: 60 }, &facts(Some(last)), now());
    assert_eq!((found.state, found.at), (expected, Some(last + Duration::minutes(60))));
}

#[test]
fn what_was_never_sampled_is_due_since_it_exists() {
    assert_eq!(due(Sampling::Minutes { count: 60 }, &facts(None), now()).state, DueState::Due);
}

#[rstest]
#[case(0, DueState::Done, 500)]
#[case(499, DueState::Done, 1)]
#[case(500, DueState::Due, 0)]
#[case(624, DueState::Due, -124)]
#[case(625, DueState::Overdue, -125)]
fn a_sample_of_so_many_pieces_falls_due(#[case] made: i64, #[case] expected: DueState, #[case] left: i64) {
    let facts = Facts { pieces_since: made, ..facts(None) };
    let found = due(Sampling::Pieces { count: 500 }, &facts, now());
    assert_eq!((found.state, found.pieces_left, found.at), (expected, Some(left), None));
}

#[rstest]
#[case::no_lot(None, None, DueState::Done)]
#[case::new_lot(Some(10), Some(11), DueState::Due)]
#[case::never_sampled(Some(10), None, DueState::Due)]
#[case::waiting(Some(31), Some(40), DueState::Overdue)]
#[case::sampled(Some(31), Some(5), DueState::Done)]
fn a_lot_is_sampled_once(#[case] began: Option<i64>, #[case] last: Option<i64>, #[case] expected: DueState) {
    let ago = |minutes| now() - Duration::minutes(minutes);
    let facts = Facts { lot_began: began.map(ago), ..facts(last.map(ago)) };
    assert_eq!(due(Sampling::Lot, &facts, now()).state, expected);
}

fn calendar() -> Calendar {
    let shift = |name: &str, begins: &str| Shift { name: name.into(), begins: begins.parse().unwrap() };
    let shifts = vec![shift("Early", "06:00:00"), shift("Late", "14:00:00"), shift("Night", "22:00:00")];
    Calendar { zone: "Europe/Berlin".parse().unwrap(), shifts }
}

#[rstest]
// At 08:00 UTC it is 09:00 there in winter: three hours into a shift of eight.
#[case::not_yet(Some(240), 0, DueState::Due)]
#[case::before_it_began(None, 0, DueState::Due)]
#[case::half_gone(None, 61, DueState::Overdue)]
#[case::sampled(Some(30), 61, DueState::Done)]
fn a_shift_is_sampled_once(#[case] last: Option<i64>, #[case] later: i64, #[case] expected: DueState) {
    let at = now() + Duration::minutes(later);
    let turn = calendar().at(at);
    let facts = Facts { turn, ..facts(last.map(|minutes| now() - Duration::minutes(minutes))) };
    assert_eq!(due(Sampling::Shift, &facts, at).state, expected);
}

#[rstest]
#[case::day("2026-03-02T08:00:00Z", "Early", "2026-03-02T05:00:00Z", "2026-03-02T13:00:00Z")]
#[case::night("2026-03-02T02:00:00Z", "Night", "2026-03-01T21:00:00Z", "2026-03-02T05:00:00Z")]
#[case::begins("2026-03-02T21:00:00Z", "Night", "2026-03-02T21:00:00Z", "2026-03-03T05:00:00Z")]
#[case::spring("2026-03-29T02:00:00Z", "Night", "2026-03-28T21:00:00Z", "2026-03-29T04:00:00Z")]
#[case::autumn("2026-10-25T02:00:00Z", "Night", "2026-10-24T20:00:00Z", "2026-10-25T05:00:00Z")]
fn the_calendar_follows_the_clock_on_the_wall(
    #[case] at: &str,
    #[case] name: &str,
    #[case] began: &str,
    #[case] ends: &str,
) {
    let turn = calendar().at(at.parse().unwrap()).unwrap();
    assert_eq!((turn.name.as_str(), turn.began, turn.ends), (name, began.parse().unwrap(), ends.parse().unwrap()));
}

#[test]
fn without_shifts_there_is_no_turn() {
    assert_eq!(Calendar { shifts: vec![], ..calendar() }.at(now()), None);
}

#[rstest]
#[case::own_in_the_shift(1, 1, Role::Technician, 4, Ok(()))]
#[case::own_after_the_shift(1, 1, Role::Technician, 6, Err(NotYours::ShiftOver))]
#[case::of_another(1, 2, Role::Technician, 1, Err(NotYours::SomebodyElses))]
#[case::supervisor(1, 2, Role::Supervisor, 900, Ok(()))]
#[case::a_device_what_it_entered(1, 1, Role::Device, 900, Ok(()))]
#[case::a_device_what_another_entered(1, 2, Role::Device, 1, Err(NotYours::SomebodyElses))]
fn who_may_change_a_sample(
    #[case] person: u128,
    #[case] entered_by: u128,
    #[case] role: Role,
    #[case] hours: i64,
    #[case] expected: Result<(), NotYours>,
) {
    // Entered at 09:00 on the wall, in a shift that ends at 14:00.
    let later = now() + Duration::hours(hours) - Duration::minutes(1);
    let found = may_change(Uuid::from_u128(person), role, Uuid::from_u128(entered_by), now(), &calendar(), later);
    assert_eq!(found, expected);
}

#[test]
fn a_clock_a_little_ahead_is_not_the_future() {
    let (second, ahead) = (Duration::seconds(1), Duration::minutes(2));
    let asked = |at| accept_time(Some(at), now(), Origin::Hand { confirmed: false });
    for given in [now() + ahead, now() - LONG_AGO] {
        assert_eq!(asked(given), Ok(given));
    }
    for given in [now() + ahead + second, DateTime::<Utc>::MAX_UTC] {
        assert_eq!(asked(given), Err(TimeRefusal::Future { given, now: now() }));
    }
    for given in [DateTime::UNIX_EPOCH - second, DateTime::<Utc>::MIN_UTC] {
        assert_eq!(asked(given), Err(TimeRefusal::TooEarly { given }));
    }
    for given in [now() - LONG_AGO - second, DateTime::UNIX_EPOCH] {
        assert_eq!(asked(given), Err(TimeRefusal::LongAgo { given }));
        for origin in [Origin::Hand { confirmed: true }, Origin::Instrument, Origin::Import] {
            assert_eq!(accept_time(Some(given), now(), origin), Ok(given));
        }
    }
    assert_eq!(accept_time(None, now(), Origin::Instrument), Ok(now()));
    let finer = now() + Duration::nanoseconds(1_700);
    assert_eq!(accept_time(Some(finer), finer, Origin::Import), Ok(now() + Duration::microseconds(1)));
}

#[test]
fn trial_limits_need_enough_points_and_some_variation() {
    let wall = wall_thickness();
    let trial_of = |count: usize, step: f64| {
        let readings = |i: usize| vec![3.0, 3.0 + step * (i % 3) as f64];
        let places: Vec<Place> = (0..count).map(|i| Place::of(Plotted::Values(readings(i)))).collect();
        trial(&wall, &places)
    };
    assert_eq!(trial_of(TRIAL_POINTS_AT_LEAST - 1, 0.1), None);
    assert_eq!(trial_of(TRIAL_POINTS_AT_LEAST, 0.0), None);
    let Estimate { figures, baseline } = trial_of(TRIAL_POINTS_AT_LEAST, 0.1).unwrap();
    assert_eq!(baseline, Baseline { points: 10, size: 20.0 });
    // Ranges 0, 0.1, 0.2 … average 0.09; d2(2) = 2/√π.
    let sigma = 0.09 / std::f64::consts::FRAC_2_SQRT_PI;
    assert!((figures.sigma.unwrap() - sigma).abs() < 1e-9 * sigma);
}

#[rstest]
#[case::some(leaks(), 3.0, Some(0.06))]
#[case::none_found(leaks(), 0.0, None)]
#[case::all_of_them(leaks(), 50.0, None)]
#[case::flaws(Characteristic { kind: Kind::Nonconformities, chart: ChartKind::U, ..leaks() }, 75.0, Some(1.5))]
#[case::too_even_for_a_sigma_of_its_own(Characteristic { chart: ChartKind::PPrime, ..leaks() }, 3.0, None)]
fn trial_limits_of_counts(#[case] counts: Characteristic, #[case] count: f64, #[case] center: Option<f64>) {
    let places = vec![Place::of(Plotted::Count(Some(Count { count, size: 50.0 }))); 12];
    let found = trial(&counts, &places).map(|found| found.figures);
    assert_eq!(found, center.map(Figures::centered));
}

#[test]
fn the_hash_covers_every_field() {
    let link = Link {
        before: "ab",
        chain: Uuid::from_u128(1),
        position: 2,
        at: 3,
        person: None,
        action: "sample_saved",
        object: Uuid::from_u128(4),
        detail: "{}",
    };
    let others = [
        Link { before: "ac", ..link },
        Link { chain: Uuid::from_u128(9), ..link },
        Link { position: 3, ..link },
        Link { at: 4, ..link },
        Link { person: Some(Uuid::nil()), ..link },
        Link { action: "note_written", ..link },
        Link { object: Uuid::from_u128(5), ..link },
        Link { detail: "{ }", ..link },
    ];
    assert_eq!(link.hash().len(), 64);
    for other in others {
        assert_ne!(other.hash(), link.hash(), "{other:?}");
    }
}
