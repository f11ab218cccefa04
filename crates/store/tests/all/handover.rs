//! What one shift hands over to the next.

use chrono::{DateTime, Duration, NaiveTime, SubsecRound, Utc};
use quality::episode::Answer;
use quality::shift::Shift;
use quality::signal::SignalState;
use quality::trail::Action;
use sqlx::PgPool;
use store::StoreError;
use store::answers::{By, answer};
use store::handover::{NewWord, begun, confirm, view, write};
use store::samples::{NewSample, Visit};
use uuid::Uuid;

use crate::common::{Site, sample, save_wall, site};

/// A site of two shifts a day, and a moment two hours into the one that runs.
async fn with_shifts(pool: &PgPool) -> (Site, DateTime<Utc>) {
    let made = site(pool, "hash").await;
    let shift = |name: &str, hour| Shift { name: name.into(), begins: NaiveTime::from_hms_opt(hour, 0, 0).unwrap() };
    let clock = store::sites::Site {
        name: "Tarn Valley".into(),
        time_zone: "UTC".into(),
        shifts: vec![shift("Day", 6), shift("Night", 18)],
    };
    store::sites::set_site(&mut pool.acquire().await.unwrap(), &clock).await.unwrap();
    (made, Utc::now().trunc_subsecs(6))
}

fn word(shift_began: DateTime<Utc>, person: Uuid, text: &str) -> NewWord {
    NewWord { shift_began, area: None, person, at: Utc::now(), text: text.into(), entry: Uuid::new_v4() }
}

async fn area(pool: &PgPool, name: &str) -> Uuid {
    sqlx::query_scalar("select id from area where name = $1").bind(name).fetch_one(pool).await.unwrap()
}

#[sqlx::test]
async fn words_stand_with_their_shift_and_area_once(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let (site, now) = with_shifts(&pool).await;
    let shift = begun(&pool, now, now).await.unwrap();
    let for_all = word(shift, site.technician, " The die is at its end. ");
    let id = write(&pool, &for_all).await.unwrap();
    assert_eq!(write(&pool, &for_all).await.unwrap(), id, "sent twice, left once");
    let other = NewWord { text: "Something else".into(), ..for_all.clone() };
    assert!(matches!(write(&pool, &other).await, Err(StoreError::EntryReused)));
    let firing =
        NewWord { area: Some(area(&pool, "Firing").await), ..word(shift, site.supervisor, "Burner 2 is off.") };
    write(&pool, &firing).await.unwrap();
    let nowhere = NewWord { area: Some(Uuid::from_u128(7)), ..word(shift, site.technician, "Lost") };
    assert!(matches!(write(&pool, &nowhere).await, Err(StoreError::Missing(_))));
    let texts = |view: store::handover::HandoverView| view.words.into_iter().map(|w| w.text).collect::<Vec<_>>();
    assert_eq!(texts(view(&pool, Some(now), None, now).await.unwrap()), ["The die is at its end.", "Burner 2 is off."]);
    // Who works at the casting line reads what is for all, and what is for their area.
    assert_eq!(texts(view(&pool, Some(now), Some(&[site.station]), now).await.unwrap()), ["The die is at its end."]);
    assert_eq!(texts(view(&pool, Some(shift - Duration::hours(1)), None, now).await.unwrap()), Vec::<String>::new());
}

#[sqlx::test]
async fn it_tells_what_is_open_what_was_dealt_with_and_what_was_skipped(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let (site, _) = with_shifts(&pool).await;
    let open = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    // All of it happens as the site begins.
    let (then, now) = (Some(site.since), site.since + Duration::hours(1));
    let seen = view(&pool, then, None, now).await.unwrap();
    assert_eq!(seen.open.iter().map(|row| row.id).collect::<Vec<_>>(), [open]);
    assert_eq!((seen.open_count, seen.dealt_with_count), (1, 0));
    let looked = Answer { nothing_found: true, action: "Measured again.".into(), ..Answer::default() };
    answer(&pool, open, 1, By::at(site.technician, now), looked).await.unwrap();
    let seen = view(&pool, then, None, now).await.unwrap();
    assert_eq!((seen.open_count, seen.dealt_with_count), (0, 1));
    assert_eq!(seen.dealt_with[0].state, SignalState::Answered);
    let skipped = Visit::Skipped { because: "The mixer stands still".into() };
    let skipped = NewSample { visit: skipped, ..sample(&site, site.viscosity, 0, &[1.0]) };
    store::samples::save(&pool, &skipped).await.unwrap();
    let seen = view(&pool, then, None, now).await.unwrap();
    let (name, because) = (seen.skipped[0].name.as_str(), seen.skipped[0].because.as_str());
    assert_eq!((seen.skipped.len(), name, because), (1, "Viscosity", "The mixer stands still"));
    // The site's own limits were put in force as it began.
    assert_eq!(seen.changes.iter().filter(|entry| entry.action == Action::LimitsPutInForce).count(), 2);
    // Elsewhere nothing of it is told, nor in another shift.
    for (asked, within) in [(then, Some(vec![Uuid::from_u128(7)])), (Some(seen.began - Duration::hours(1)), None)] {
        let other = view(&pool, asked, within.as_deref(), now).await.unwrap();
        assert_eq!((other.dealt_with_count, other.skipped.len(), other.changes.len()), (0, 0, 0));
    }
}

#[sqlx::test]
async fn who_has_read_it_says_so_once_and_the_trail_knows(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let (site, now) = with_shifts(&pool).await;
    let shift = begun(&pool, now, now).await.unwrap();
    write(&pool, &word(shift, site.technician, "The die is at its end.")).await.unwrap();
    let open = [Uuid::from_u128(3)];
    for _ in 0..2 {
        confirm(&pool, shift, &open, (site.other_technician, now)).await.unwrap();
    }
    let seen = view(&pool, Some(now), None, now).await.unwrap();
    assert_eq!(seen.read_by.iter().map(|reader| reader.person).collect::<Vec<_>>(), [site.other_technician]);
    let intact = store::trail::verify(&pool, None).await.unwrap();
    assert!(intact.findings.is_empty(), "{:?}", intact.findings);
    for tamper in ["update handover_word set text = 'All is well.'", "update handover_read set open = '{}'"] {
        sqlx::query(sqlx::AssertSqlSafe(tamper)).execute(&pool).await.unwrap();
    }
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().findings.len(), 2);
}

#[sqlx::test]
async fn without_shifts_nothing_is_handed_over(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    site(&pool, "hash").await;
    let now = Utc::now();
    assert!(matches!(view(&pool, None, None, now).await, Err(StoreError::Missing(_))));
}
