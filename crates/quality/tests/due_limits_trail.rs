//! What is due, when trial limits exist, and what the hash of a trail entry covers.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod common;

use chrono::{DateTime, Duration, Utc};
use common::wall_thickness;
use quality::due::{CLOCK_TOLERANCE, DueState, due, is_from_the_future};
use quality::limits::{TRIAL_POINTS_AT_LEAST, trial};
use quality::trail::Link;
use rstest::rstest;
use uuid::Uuid;

fn now() -> DateTime<Utc> {
    "2026-03-02T08:00:00Z".parse().unwrap()
}

#[rstest]
#[case(59, DueState::Done)]
#[case(60, DueState::Due)]
#[case(74, DueState::Due)]
#[case(75, DueState::Overdue)]
fn an_hourly_sample_falls_due(#[case] minutes_ago: i64, #[case] expected: DueState) {
    let last = now() - Duration::minutes(minutes_ago);
    let found = due(Some(last), last, 60, now());
    assert_eq!((found.state, found.at), (expected, last + Duration::minutes(60)));
}

#[test]
fn what_was_never_sampled_is_due_since_it_exists() {
    let since = now() - Duration::minutes(1);
    assert_eq!(due(None, since, 60, now()).state, DueState::Due);
}

#[test]
fn a_clock_a_little_ahead_is_not_the_future() {
    assert!(!is_from_the_future(now() + CLOCK_TOLERANCE, now()));
    assert!(is_from_the_future(now() + CLOCK_TOLERANCE + Duration::seconds(1), now()));
}

#[test]
fn trial_limits_need_enough_points_and_some_variation() {
    let points = |count: usize, step: f64| (0..count).map(|i| vec![3.0, 3.0 + step * (i % 3) as f64]).collect();
    assert_eq!(trial(&wall_thickness(), points(TRIAL_POINTS_AT_LEAST - 1, 0.1), 3.0), None);
    assert_eq!(trial(&wall_thickness(), points(TRIAL_POINTS_AT_LEAST, 0.0), 3.0), None);
    let figures = trial(&wall_thickness(), points(TRIAL_POINTS_AT_LEAST, 0.1), 3.0).unwrap();
    assert_eq!((figures.used, figures.k), (TRIAL_POINTS_AT_LEAST, 3.0));
    // Ranges 0, 0.1, 0.2 … average 0.09; d2(2) = 2/√π.
    assert!((figures.sigma - 0.09 / std::f64::consts::FRAC_2_SQRT_PI).abs() < 1e-9 * figures.sigma);
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
