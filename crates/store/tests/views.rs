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
use store::episodes::EpisodeFilter;
use store::limits::{LimitsChange, PhaseLimits};
use uuid::Uuid;

#[sqlx::test]
async fn rounds_say_what_is_due_and_what_is_open(pool: PgPool) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.9).await;
    let at = |minutes: i64| site.since + Duration::minutes(minutes);
    for (minutes, expected) in [(30, DueState::Done), (61, DueState::Due), (90, DueState::Overdue)] {
        let stations = store::rounds::list(&pool, site.technician, at(minutes)).await.unwrap();
        assert_eq!(stations.len(), 1);
        let wall = stations[0].characteristics.iter().find(|stop| stop.id == site.wall).unwrap();
        assert_eq!((wall.state, wall.due_at, wall.open_episodes), (expected, Some(at(60)), 1));
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
        assert!(saved.asking.is_empty(), "sample {i}");
    }
    let view = store::charts::view(&pool, site.wall, 100, None).await.unwrap();
    let phases: Vec<_> = view.phases.iter().map(|p| (p.limits.name.as_str(), p.start, p.end, p.limits.state)).collect();
    assert_eq!(phases, [("First limits", 0, 4, LimitsState::Retired), ("New mould", 5, 16, LimitsState::Trial)]);
    assert_eq!(view.panels[0].points[4].center.get(), Some(5.0));
    assert!((view.panels[0].points[5].center.get().unwrap() - 7.01).abs() < 1e-9);
}

#[sqlx::test]
async fn episodes_are_listed_by_state_characteristic_and_station(pool: PgPool) {
    let site = site(&pool, "").await;
    let first = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    assert!(save_wall(&pool, &site, 10, 5.0).await.asking.is_empty());
    let third = save_wall(&pool, &site, 20, 4.1).await.asking[0];
    let list = async |filter: EpisodeFilter| {
        let all = store::episodes::list(&pool, &filter, 10).await.unwrap();
        all.into_iter().map(|s| s.id).collect::<Vec<_>>()
    };
    assert_eq!(list(EpisodeFilter::default()).await, [third, first]);
    assert_eq!(list(EpisodeFilter { station: Some(site.station), ..EpisodeFilter::default() }).await, [third, first]);
    assert!(list(EpisodeFilter { states: vec![SignalState::Answered], ..EpisodeFilter::default() }).await.is_empty());
    assert!(list(EpisodeFilter { characteristic: Some(site.viscosity), ..EpisodeFilter::default() }).await.is_empty());
    assert!(list(EpisodeFilter { station: Some(Uuid::nil()), ..EpisodeFilter::default() }).await.is_empty());
}

/// Many were raised at one moment; no page skips one of them or shows it twice.
#[sqlx::test]
async fn pages_of_episodes_neither_skip_nor_repeat(pool: PgPool) {
    let site = site(&pool, "").await;
    // Too far apart for two of three, and with ranges on both sides: clean points lie between them.
    for i in 0..36 {
        let (mean, half) = (if i % 3 == 0 { 5.9 } else { 5.0 }, if i % 2 == 0 { 0.01 } else { 0.12 });
        store::samples::save(&pool, &sample(&site, site.wall, i, &[mean - half, mean, mean + half])).await.unwrap();
    }
    sqlx::query("update episode set raised_at = $1 where from_number > 5")
        .bind(site.since)
        .execute(&pool)
        .await
        .unwrap();
    let (mut seen, mut filter) = (Vec::new(), EpisodeFilter::default());
    loop {
        let page = store::episodes::list(&pool, &filter, 5).await.unwrap();
        filter.behind = page.last().map(|last| (last.raised_at, last.id));
        seen.extend(page.iter().map(|episode| episode.id));
        if page.len() < 5 {
            break;
        }
    }
    let once: std::collections::BTreeSet<_> = seen.iter().collect();
    assert_eq!((seen.len(), once.len()), (12, 12));
}
