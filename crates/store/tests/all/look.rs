//! Limits to look at: what enters the list, what leaves it, and what the trail knows of it.

use chrono::{Days, Duration, Utc};
use quality::characteristic::Characteristic;
use quality::limits::Drift;
use sqlx::PgPool;
use store::events::NewEvent;
use store::limits::{LimitsChange, PhaseLimits};
use store::look::{ToLookAt, look_at_changed, to_look_at};
use store::plan::CharacteristicChange;
use store::samples::save;
use uuid::Uuid;

use crate::common::{Site, act, first_phase, sample, site};

/// Three pieces about a mean, sigma about 0.1.
async fn save_about(pool: &PgPool, site: &Site, minutes: std::ops::Range<i64>, mean: f64) {
    const STEPS: [f64; 5] = [-0.09, 0.06, 0.0, 0.1, -0.07];
    for i in minutes {
        let at = |place: i64| mean + STEPS[((i * 3 + place) % 5) as usize];
        save(pool, &sample(site, site.wall, i, &[at(0), at(1) + 0.05, at(2) - 0.05])).await.unwrap();
    }
}

async fn listed(pool: &PgPool) -> Vec<ToLookAt> {
    while look_at_changed(pool, Utc::now()).await.unwrap() > 0 {}
    to_look_at(pool, None, Utc::now().date_naive()).await.unwrap()
}

#[sqlx::test]
async fn a_moved_mean_enters_the_list_and_a_phase_begun_where_it_moved_takes_it_off(pool: PgPool) {
    let site = site(&pool, "").await;
    save_about(&pool, &site, 0..30, 5.0).await;
    assert!(listed(&pool).await.is_empty(), "limits that hold");
    save_about(&pool, &site, 30..60, 5.12).await;
    let [found] = listed(&pool).await.try_into().unwrap();
    let look = found.look.unwrap();
    assert_eq!((found.characteristic, look.drift), (site.wall, Some(Drift::Above)));
    assert!(look.shift.unwrap() > 1.0 && look.p < 0.001, "{look:?}");
    assert_eq!(found.proposed_number, Some(31));
    // Nothing has changed since: nothing is looked at again.
    assert_eq!(look_at_changed(&pool, Utc::now()).await.unwrap(), 0);
    let start = LimitsChange::StartPhase {
        sample: found.proposed.unwrap(),
        name: "Since the move".into(),
        limits: PhaseLimits::Trial,
    };
    act(&pool, site.wall, &start, site.engineer, Utc::now()).await.unwrap();
    assert!(listed(&pool).await.is_empty(), "limits on trial move by themselves");
}

#[sqlx::test]
async fn limits_that_are_kept_leave_the_list_until_their_day_and_the_trail_knows(pool: PgPool) {
    let site = site(&pool, "").await;
    save_about(&pool, &site, 0..30, 4.88).await;
    let [found] = listed(&pool).await.try_into().unwrap();
    assert_eq!(found.look.unwrap().drift, Some(Drift::Below));
    let today = Utc::now().date_naive();
    let keep = |until| LimitsChange::Keep { phase: found.phase, reason: "Wanted so by the customer.".into(), until };
    assert!(act(&pool, site.wall, &keep(today), site.engineer, Utc::now()).await.is_err(), "today is over");
    act(&pool, site.wall, &keep(today + Days::new(14)), site.engineer, Utc::now()).await.unwrap();
    save_about(&pool, &site, 30..40, 4.88).await;
    assert!(listed(&pool).await.is_empty());
    // The day has come: it is back, with who kept it and why.
    look_at_changed(&pool, Utc::now()).await.unwrap();
    let [again] = to_look_at(&pool, None, today + Days::new(14)).await.unwrap().try_into().unwrap();
    assert_eq!(again.kept.unwrap().reason, "Wanted so by the customer.");
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert_eq!(report.found, 0, "{report:?}");
    sqlx::query("update limits_kept set reason = 'Nobody said why.'").execute(&pool).await.unwrap();
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().found, 1);
}

#[sqlx::test]
async fn limits_on_trial_are_neither_kept_nor_looked_at(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..40 {
        save(&pool, &sample(&site, site.viscosity, i, &[300.0 + (i * 7 % 5 + i) as f64])).await.unwrap();
    }
    assert!(listed(&pool).await.is_empty());
    let phase = first_phase(&pool, site.viscosity).await.id;
    let until = (Utc::now() + Duration::days(9)).date_naive();
    let keep = LimitsChange::Keep { phase, reason: "Why not.".into(), until };
    assert!(act(&pool, site.viscosity, &keep, site.engineer, Utc::now()).await.is_err());
}

async fn new_lot(pool: &PgPool, site: &Site, minutes: i64, lot: &str) -> Uuid {
    let kind = sqlx::query_scalar("select id from event_kind where name = 'New lot'").fetch_one(pool).await.unwrap();
    let at = site.since + Duration::minutes(minutes);
    let entry = Uuid::new_v4();
    let new = NewEvent {
        station: site.station,
        kind,
        at,
        arrived_at: at,
        person: site.technician,
        lot: Some(lot.to_owned()),
        text: None,
        device: Uuid::nil(),
        entry,
    };
    store::events::record(pool, &new).await.unwrap();
    sqlx::query_scalar("select id from event where entry = $1").bind(entry).fetch_one(pool).await.unwrap()
}

#[sqlx::test]
async fn an_event_proposes_a_phase_where_it_is_set_up_so_and_none_begins_by_itself(pool: PgPool) {
    let site = site(&pool, "").await;
    save_about(&pool, &site, 0..5, 5.0).await;
    new_lot(&pool, &site, 5, "L-1").await;
    save_about(&pool, &site, 6..9, 5.0).await;
    assert!(listed(&pool).await.is_empty(), "nobody set it up so");
    let kind = sqlx::query_scalar("select id from event_kind where name = 'New lot'").fetch_one(&pool).await.unwrap();
    let setup = store::characteristics::find(&pool, site.wall).await.unwrap();
    let becomes = CharacteristicChange {
        id: site.wall,
        version: setup.version,
        characteristic: Characteristic { phase_events: vec![kind], ..setup.characteristic },
    };
    store::plan::change(&pool, &[becomes], site.engineer, Utc::now()).await.unwrap();
    let [found] = listed(&pool).await.try_into().unwrap();
    let first = found.event.unwrap();
    assert_eq!((first.lot.as_deref(), first.number), (Some("L-1"), 6));
    let decline = LimitsChange::Decline { event: first.id };
    act(&pool, site.wall, &decline, site.engineer, Utc::now()).await.unwrap();
    assert!(listed(&pool).await.is_empty());
    assert!(act(&pool, site.wall, &decline, site.engineer, Utc::now()).await.is_err(), "it is said already");
    // The next one proposes again, once something was sampled since.
    new_lot(&pool, &site, 10, "L-2").await;
    assert!(listed(&pool).await.is_empty());
    save_about(&pool, &site, 11..13, 5.0).await;
    let [found] = listed(&pool).await.try_into().unwrap();
    let event = found.event.unwrap();
    let start = LimitsChange::StartPhase { sample: event.sample, name: "L-2".into(), limits: PhaseLimits::Trial };
    act(&pool, site.wall, &start, site.engineer, Utc::now()).await.unwrap();
    assert!(listed(&pool).await.is_empty());
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().found, 0);
    sqlx::query("delete from phase_declined").execute(&pool).await.unwrap();
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().found, 1);
}
