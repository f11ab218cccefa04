//! Saving: once, judged right, in order, whatever arrives and however many save at once.

use chrono::{Duration, SubsecRound};
use futures::future::join_all;
use quality::entry::Tags;
use quality::limits::{Baseline, LimitsRefusal, LimitsState, NewLimits};
use quality::sample::Content;
use sqlx::PgPool;
use store::StoreError;
use store::limits::LimitsChange;
use uuid::Uuid;

use crate::common::{Kept, act, episode, kept_signals, sample, save_wall, site};

async fn signals(pool: &PgPool, of: Uuid) -> Vec<Kept> {
    let mut all = kept_signals(pool, of).await;
    all.retain(|signal| signal.panel == "mean");
    all
}

#[sqlx::test]
async fn a_sample_sent_twice_is_kept_once(pool: PgPool) {
    let site = site(&pool, "").await;
    let new = sample(&site, site.wall, 10, &[5.9, 5.9, 5.8]);
    let first = store::samples::save(&pool, &new).await.unwrap();
    let second = store::samples::save(&pool, &new).await.unwrap();
    assert!(!first.again && second.again);
    assert_eq!((second.sample, second.number, &second.asking), (first.sample, 1, &first.asking));
    assert_eq!(first.asking.len(), 1, "beyond the upper limit");
    let kept: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 1);
}

#[sqlx::test]
async fn an_entry_id_used_for_other_readings_is_refused(pool: PgPool) {
    let site = site(&pool, "").await;
    let new = sample(&site, site.wall, 10, &[5.0, 5.0, 5.1]);
    store::samples::save(&pool, &new).await.unwrap();
    let mut other = sample(&site, site.wall, 10, &[5.1, 5.0, 5.1]);
    other.entry = new.entry;
    assert!(matches!(store::samples::save(&pool, &other).await, Err(StoreError::EntryReused)));
    let mut elsewhere = sample(&site, site.viscosity, 10, &[5.0]);
    elsewhere.entry = new.entry;
    assert!(matches!(store::samples::save(&pool, &elsewhere).await, Err(StoreError::EntryReused)));
}

#[sqlx::test]
async fn many_savers_at_once_all_succeed_in_an_order_and_are_judged_right(pool: PgPool) {
    let site = site(&pool, "").await;
    let all: Vec<_> = (0..16).map(|i| sample(&site, site.wall, i, &[5.03, 5.02, 5.04])).collect();
    let saved = join_all(all.iter().map(|new| store::samples::save(&pool, new))).await;
    let mut numbers: Vec<i64> = saved.into_iter().map(|saved| saved.unwrap().number).collect();
    numbers.sort_unstable();
    assert_eq!(numbers, (1..=16).collect::<Vec<_>>());
    let found = signals(&pool, site.wall).await;
    assert!(found.iter().all(|s| !s.withdrawn));
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(100)).await.unwrap();
    let run: Vec<_> = view.signals.iter().filter(|s| s.panel == spc::chart::Statistic::Mean).collect();
    assert!(!run.is_empty(), "sixteen means on one side must raise a signal");
    assert_eq!(run.iter().map(|s| s.to).max(), Some(15));
}

#[sqlx::test]
async fn a_run_raises_one_signal_that_grows(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..10 {
        let saved = save_wall(&pool, &site, i, 5.02).await;
        assert_eq!(saved.asking.len(), usize::from(i == 7) * 2, "means and ranges at sample {i}");
        assert_eq!(saved.goes_on, i > 7, "sample {i}");
    }
    let found = signals(&pool, site.wall).await;
    assert_eq!(found.len(), 1);
    assert_eq!((found[0].from_number, found[0].to_number, found[0].state.as_str()), (1, 10, "open"));
    assert_eq!((found[0].center, found[0].sigma, found[0].trial, found[0].late), (5.0, Some(0.1), false, false));
}

#[sqlx::test]
async fn a_late_sample_takes_its_place_and_withdraws_what_no_longer_holds(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..8 {
        save_wall(&pool, &site, i * 10, 5.02).await;
    }
    save_wall(&pool, &site, 35, 4.9).await;
    let found = signals(&pool, site.wall).await;
    assert!(found.is_empty(), "an open signal that was withdrawn asks nothing of anybody");
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(100)).await.unwrap();
    assert_eq!(view.points.iter().map(|p| p.number).collect::<Vec<_>>(), [1, 2, 3, 4, 9, 5, 6, 7, 8]);
    let kept: i64 = sqlx::query_scalar("select count(*) from signal where withdrawn_because is not null")
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(kept, 1, "withdrawn, never deleted");
}

#[sqlx::test]
async fn a_late_sample_may_raise_a_signal_that_is_marked_late(pool: PgPool) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.0).await;
    save_wall(&pool, &site, 20, 5.0).await;
    save_wall(&pool, &site, 10, 5.5).await;
    let found = signals(&pool, site.wall).await;
    assert_eq!(found.len(), 1);
    assert!(found[0].late);
    assert_eq!(found[0].to_number, 3);
}

#[sqlx::test]
async fn trial_limits_appear_with_enough_points_and_mark_their_signals(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..9 {
        let reading = 300.0 + f64::from(i % 3);
        store::samples::save(&pool, &sample(&site, site.viscosity, i64::from(i), &[reading])).await.unwrap();
    }
    let view = store::charts::view(&pool, site.viscosity, &store::charts::Asked::last(100)).await.unwrap();
    assert!(view.panels[0].points.iter().all(|p| p.value.get().is_some() && p.center.get().is_none()));
    store::samples::save(&pool, &sample(&site, site.viscosity, 10, &[301.0])).await.unwrap();
    let wild = store::samples::save(&pool, &sample(&site, site.viscosity, 11, &[330.0])).await.unwrap();
    assert!(!wild.asking.is_empty());
    let found = episode(&pool, wild.asking[0]).await;
    assert!(found.trial);
    let view = store::charts::view(&pool, site.viscosity, &store::charts::Asked::last(100)).await.unwrap();
    assert!(view.panels[0].points[0].upper.get().is_some());
}

#[sqlx::test]
async fn limits_in_force_stay_as_they_were_frozen_and_revised_ones_begin_a_phase(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..12 {
        store::samples::save(&pool, &sample(&site, site.viscosity, i, &[300.0 + (i % 4) as f64])).await.unwrap();
    }
    let phases = || async {
        let mut conn = pool.acquire().await.unwrap();
        store::phases::phases(&mut conn, site.viscosity).await.unwrap()
    };
    let phase = phases().await[0].id;
    let put = |name: &str| LimitsChange::PutInForce {
        phase,
        limits: Box::new(NewLimits { reason: Some("Few, but needed.".into()), ..NewLimits::of_phase(name) }),
    };
    let at = |minutes| site.since + chrono::Duration::minutes(minutes);
    act(&pool, site.viscosity, &put("First"), site.engineer, at(12)).await.unwrap();
    let frozen = phases().await[0].clone();
    assert_eq!(frozen.baseline, Some(Baseline { points: 12, size: 12.0 }));
    store::samples::save(&pool, &sample(&site, site.viscosity, 20, &[400.0])).await.unwrap();
    assert_eq!(phases().await[0].figures, frozen.figures);
    act(&pool, site.viscosity, &put("Second"), site.engineer, at(30)).await.unwrap();
    let now = phases().await;
    let states: Vec<_> = now.iter().map(|phase| (phase.name.as_str(), phase.state)).collect();
    assert_eq!(states, [("First limits", LimitsState::Retired), ("Second", LimitsState::InForce)]);
    assert_eq!((now[0].figures, now[1].starts_at), (frozen.figures, at(30)));
    let again = act(&pool, site.viscosity, &put("Third"), site.engineer, at(40)).await;
    assert!(matches!(again, Err(StoreError::Limits(LimitsRefusal::NotOnTrial))), "{again:?}");
}

#[sqlx::test]
async fn the_pencil_point_is_what_saving_would_give(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..7 {
        save_wall(&pool, &site, i, 5.02).await;
    }
    let at = site.since + chrono::Duration::minutes(7);
    let pencilling = store::samples::Pencilling::begin(&pool, site.wall).await.unwrap();
    let entered = (&Content::readings([5.01, 5.02, 5.03]), &Tags::default());
    let pencil = pencilling.point(entered, at).await.unwrap();
    assert!(pencil.panels[0].flagged);
    assert_eq!(pencil.findings[0].points, 8);
    save_wall(&pool, &site, 7, 5.02).await;
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(1)).await.unwrap();
    assert_eq!(view.panels[0].points[0].value.get(), pencil.panels[0].value);
    assert_eq!(view.panels[0].points[0].upper.get(), pencil.panels[0].upper);
}

/// What samples are judged by is kept in memory: whatever is changed of it, by whomever, holds for the next one; what is
/// only tried is not waited for, and holds for none.
#[sqlx::test]
async fn the_next_sample_is_judged_by_what_was_changed(pool: PgPool) {
    let site = site(&pool, "").await;
    // Who only looks sees the same as who enters.
    let upper = async || {
        let pencilling = store::samples::Pencilling::begin(&pool, site.wall).await.unwrap();
        let seen = pencilling.checks().0.hard_bounds.upper;
        drop(pencilling);
        let entering = store::samples::Entering::begin(&pool, site.wall).await.unwrap();
        assert_eq!(entering.checks().0.hard_bounds.upper, seen);
        seen
    };
    let change = async |sql: &'static str| sqlx::raw_sql(sql).execute(&pool).await.unwrap();
    let shift = async |number: i64| -> Option<String> {
        let tagged = "select tags->>'shift' from sample where characteristic_id = $1 and number = $2";
        sqlx::query_scalar(tagged).bind(site.wall).bind(number).fetch_one(&pool).await.unwrap()
    };
    save_wall(&pool, &site, 0, 5.0).await;
    assert_eq!((signals(&pool, site.wall).await.len(), shift(1).await), (0, None));

    let mut tried = pool.begin().await.unwrap();
    let tries = "update characteristic set hard_upper = 6.5; update limits set center = 1, sigma = 0.01
                 where put_in_force_at is not null";
    sqlx::raw_sql(tries).execute(&mut *tried).await.unwrap();
    assert_ne!(upper().await, Some(6.5));
    save_wall(&pool, &site, 1, 5.0).await;
    tried.rollback().await.unwrap();
    save_wall(&pool, &site, 2, 5.0).await;
    assert_eq!(signals(&pool, site.wall).await.len(), 0);

    change("update characteristic set hard_upper = 7.5").await;
    assert_eq!(upper().await, Some(7.5));
    change("insert into shift (name, begins) values ('Day', '00:00')").await;
    save_wall(&pool, &site, 3, 5.0).await;
    assert_eq!(shift(4).await.as_deref(), Some("Day"));
    change("update shift set name = 'Long day'").await;
    save_wall(&pool, &site, 4, 5.0).await;
    assert_eq!(shift(5).await.as_deref(), Some("Long day"));
    change("update limits set center = 1, sigma = 0.01 where put_in_force_at is not null").await;
    save_wall(&pool, &site, 5, 5.0).await;
    assert!(!signals(&pool, site.wall).await.is_empty());
}

/// Rounds tell the newest sample that was not withdrawn, in whichever order they came.
#[sqlx::test]
async fn the_newest_sample_is_told_by_rounds(pool: PgPool) {
    let site = site(&pool, "").await;
    let told = async || {
        let stations = store::rounds::list(&pool, None, site.since).await.unwrap();
        let stops = stations.iter().flat_map(|station| &station.characteristics);
        stops.filter(|stop| stop.id == site.wall).filter_map(|stop| stop.last_taken_at).next()
    };
    let at = |minutes| Some((site.since + Duration::minutes(minutes)).trunc_subsecs(6));
    assert_eq!(told().await, None);
    save_wall(&pool, &site, 10, 5.0).await;
    let newest = save_wall(&pool, &site, 20, 5.0).await;
    save_wall(&pool, &site, 15, 5.0).await;
    assert_eq!(told().await, at(20));
    let engineer = crate::common::person(site.engineer, quality::role::Role::Engineer);
    store::samples::withdraw(&pool, newest.sample, 1, &engineer, site.since, "Wrong part").await.unwrap();
    assert_eq!(told().await, at(15));
}
