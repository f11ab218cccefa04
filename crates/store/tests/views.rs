//! What is looked at: rounds, stretches of a chart, lists of signals.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod common;

use chrono::Duration;
use common::{act, sample, save_wall, site};
use quality::due::DueState;
use quality::limits::LimitsState;
use quality::signal::SignalState;
use rstest::rstest;
use sqlx::PgPool;
use store::limits::{LimitsChange, PhaseLimits};
use store::signals::SignalFilter;

#[sqlx::test]
async fn rounds_say_what_is_due_and_what_is_open(pool: PgPool) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.9).await;
    let at = |minutes: i64| site.since + Duration::minutes(minutes);
    for (minutes, expected) in [(30, DueState::Done), (61, DueState::Due), (90, DueState::Overdue)] {
        let stations = store::rounds::list(&pool, site.technician, at(minutes)).await.unwrap();
        assert_eq!(stations.len(), 1);
        let wall = stations[0].characteristics.iter().find(|stop| stop.id == site.wall).unwrap();
        assert_eq!((wall.state, wall.due_at, wall.open_signals), (expected, Some(at(60)), 1));
    }
}

#[rstest]
#[case::newest(3, None, &[10, 11, 12])]
#[case::more_than_there_are(100, None, &[1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])]
#[case::around_a_sample(6, Some(4), &[4, 5, 6, 7, 8, 9])]
#[case::around_the_newest(2, Some(12), &[11, 12])]
#[case::none_is_one(0, None, &[12])]
#[sqlx::test]
async fn a_stretch_of_a_chart_shows_these_samples(
    #[ignore] pool: PgPool,
    #[case] last: u32,
    #[case] until: Option<usize>,
    #[case] expected: &[i64],
) {
    let site = site(&pool, "").await;
    let mut ids = Vec::new();
    for i in 0..12 {
        ids.push(save_wall(&pool, &site, i * 10, 5.0 + (i % 3) as f64 / 100.0).await.sample);
    }
    let until = until.map(|number| ids[number - 1]);
    let view = store::charts::view(&pool, site.wall, last, until).await.unwrap();
    assert_eq!(view.points.iter().map(|p| p.number).collect::<Vec<_>>(), expected);
    assert_eq!(view.total, 12);
    assert!(view.panels.iter().all(|panel| panel.points.len() == expected.len()));
    assert_eq!((view.phases[0].start, view.phases[0].end), (0, expected.len() - 1));
}

#[sqlx::test]
async fn the_first_moving_range_shown_reaches_back_to_what_is_not_shown(pool: PgPool) {
    let site = site(&pool, "").await;
    for (i, reading) in [300.0, 310.0, 304.0].into_iter().enumerate() {
        store::samples::save(&pool, &sample(&site, site.viscosity, i as i64, &[reading])).await.unwrap();
    }
    let view = store::charts::view(&pool, site.viscosity, 2, None).await.unwrap();
    let moving: Vec<_> = view.panels[1].points.iter().map(|p| p.value.get()).collect();
    assert_eq!(moving, [Some(10.0), Some(6.0)]);
}

#[sqlx::test]
async fn a_new_phase_has_its_own_trial_limits_and_leaves_the_old_ones(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..5 {
        save_wall(&pool, &site, i, 5.0).await;
    }
    let first = save_wall(&pool, &site, 5, 7.0).await;
    let (sample, name) = (first.sample, "New mould".to_owned());
    let start = LimitsChange::StartPhase { sample, name, limits: PhaseLimits::Trial };
    act(&pool, site.wall, &start, site.engineer, site.since + Duration::minutes(6)).await.unwrap();
    for i in 6..17 {
        // Far from the old limits: judged by the new phase alone, none is beyond anything.
        let saved = save_wall(&pool, &site, i, 7.0 + ((i - 5) % 3) as f64 / 100.0).await;
        assert!(saved.raised.is_empty(), "sample {i}");
    }
    let view = store::charts::view(&pool, site.wall, 100, None).await.unwrap();
    let phases: Vec<_> = view.phases.iter().map(|p| (p.limits.name.as_str(), p.start, p.end, p.limits.state)).collect();
    assert_eq!(phases, [("First limits", 0, 4, LimitsState::Retired), ("New mould", 5, 16, LimitsState::Trial)]);
    assert_eq!(view.panels[0].points[4].center.get(), Some(5.0));
    assert!((view.panels[0].points[5].center.get().unwrap() - 7.01).abs() < 1e-9);
}

#[sqlx::test]
async fn signals_are_listed_by_state_characteristic_and_time(pool: PgPool) {
    let site = site(&pool, "").await;
    let first = save_wall(&pool, &site, 0, 5.9).await.raised[0];
    let second = save_wall(&pool, &site, 10, 5.0).await;
    assert!(second.raised.is_empty());
    let third = save_wall(&pool, &site, 20, 4.1).await.raised[0];
    let list = |filter: SignalFilter| {
        let pool = pool.clone();
        async move {
            let all = store::signals::list(&pool, filter, 10).await.unwrap();
            all.into_iter().map(|s| s.id).collect::<Vec<_>>()
        }
    };
    let every = SignalFilter::default();
    assert_eq!(list(every).await, [third, first]);
    assert!(list(SignalFilter { state: Some(SignalState::Answered), ..every }).await.is_empty());
    assert!(list(SignalFilter { characteristic: Some(site.viscosity), ..every }).await.is_empty());
    let before = Some(site.since + Duration::minutes(20));
    assert_eq!(list(SignalFilter { before, ..every }).await, [first]);
}
