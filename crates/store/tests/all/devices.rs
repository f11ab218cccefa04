//! Devices in the store: offers that one screen takes, steps of a stream, refusals that are counted.

use chrono::{DateTime, Duration, SubsecRound, Utc};
use quality::device::Reason;
use quality::device::{Address, Link, Opens};
use quality::object::ObjectKind;
use quality::sample::Content;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use store::StoreError;
use store::devices::{
    DeviceSample, DeviceView, NewDevice, NewOffer, StepAt, add, heard, list, offer, open_offers, refuse, revoke,
    save_batch, step, take,
};
use uuid::Uuid;

use crate::common::{Site, accepted, site};

async fn gauge(pool: &PgPool, site: &Site) -> Uuid {
    let link = Link::Gauge { address: Address { opens: Opens::Server, at: "127.0.0.1:4001".into() } };
    let new = NewDevice { name: "Gauge".into(), stations: vec![site.station], link };
    add(pool, &new, None, site.engineer, site.since).await.unwrap()
}

async fn view(pool: &PgPool, at: DateTime<Utc>) -> DeviceView {
    list(pool, at).await.unwrap().pop().unwrap()
}

fn offered(device: Uuid, site: &Site, value: &str, characteristic: Option<Uuid>) -> NewOffer {
    let message = characteristic.map(|_| "message 1".to_owned());
    let (station, measured_at) = (site.station, Utc::now());
    NewOffer { device, station, characteristic, message, value: value.into(), measured_at }
}

/// Nobody can be asked, so an unusual value is kept, and marked.
#[sqlx::test]
async fn what_is_unusual_of_a_device_is_kept_with_a_doubt(pool: PgPool) {
    let site = site(&pool, "").await;
    let device = gauge(&pool, &site).await;
    let at = site.since + Duration::hours(1);
    let sample = |i: i64, readings: [f64; 3]| DeviceSample {
        entry: Uuid::new_v4(),
        taken_at: at + Duration::minutes(i),
        accepted: accepted(Content::readings(readings)),
    };
    let samples = [sample(0, [5.0, 5.1, 4.9]), sample(1, [5.0, 50.1, 4.9])];
    for saved in save_batch(&pool, device, site.wall, &samples, at + Duration::hours(1)).await.unwrap() {
        saved.unwrap();
    }
    let doubts: Vec<serde_json::Value> =
        sqlx::query_scalar("select doubts from sample order by number").fetch_all(&pool).await.unwrap();
    assert_eq!(doubts, [serde_json::json!([]), serde_json::json!([{"piece": 2, "first": null}])]);
}

async fn latest_offer(pool: &PgPool) -> Uuid {
    sqlx::query_scalar("select id from offer order by arrived_at desc limit 1").fetch_one(pool).await.unwrap()
}

#[sqlx::test]
async fn the_first_screen_that_asks_has_an_offer_and_only_what_can_be_a_reading_is_taken(pool: PgPool) {
    let site = site(&pool, "").await;
    let device = gauge(&pool, &site).await;
    assert!(offer(&pool, &offered(device, &site, "5.01 mm", None), Utc::now()).await.unwrap());
    let id = latest_offer(&pool).await;
    // Viscosity is measured in another unit.
    let elsewhere = take(&pool, id, site.viscosity, site.technician, Utc::now()).await;
    assert!(matches!(elsewhere, Err(StoreError::Missing(ObjectKind::Offer))), "{elsewhere:?}");
    let asked = (0..8).map(|_| take(&pool, id, site.wall, site.technician, Utc::now()));
    let taken: Vec<String> = futures::future::join_all(asked).await.into_iter().flatten().collect();
    assert_eq!(taken, ["5.01 mm"]);
    assert_eq!(view(&pool, Utc::now()).await.untaken, 0);
}

#[sqlx::test]
async fn an_analysers_offer_stands_for_a_day_and_the_newest_of_a_level_is_shown(pool: PgPool) {
    let site = site(&pool, "").await;
    let device = gauge(&pool, &site).await;
    let now = Utc::now();
    let first = offered(device, &site, "5.01", Some(site.wall));
    assert!(offer(&pool, &first, now).await.unwrap());
    assert!(!offer(&pool, &first, now).await.unwrap(), "the same message once more");
    let second = NewOffer { message: Some("message 2".into()), value: "5.02".into(), ..first };
    assert!(offer(&pool, &NewOffer { measured_at: now + Duration::minutes(1), ..second }, now).await.unwrap());
    let shown = open_offers(&pool, site.station, now).await.unwrap();
    assert_eq!(shown.iter().map(|o| o.value.as_str()).collect::<Vec<_>>(), ["5.02"]);
    assert!(open_offers(&pool, site.station, now + Duration::hours(25)).await.unwrap().is_empty());
    assert_eq!(view(&pool, now + Duration::minutes(5)).await.untaken, 2);
}

#[sqlx::test]
async fn a_device_is_silent_after_five_minutes_and_not_when_it_is_revoked(pool: PgPool) {
    let site = site(&pool, "").await;
    let device = gauge(&pool, &site).await;
    let at = Utc::now().trunc_subsecs(6);
    assert_eq!(view(&pool, at).await.silent_since, None, "never heard is not silent");
    heard(&pool, device, at, 3).await.unwrap();
    // An earlier word that was written later does not turn the clock back.
    heard(&pool, device, at - Duration::minutes(9), 1).await.unwrap();
    let seen = view(&pool, at + Duration::minutes(4)).await;
    assert_eq!((seen.heard_at, seen.silent_since, seen.accepted), (Some(at), None, 4));
    assert_eq!(view(&pool, at + Duration::minutes(6)).await.silent_since, Some(at));
    revoke(&pool, device, site.engineer, at).await.unwrap();
    assert_eq!(view(&pool, at + Duration::minutes(6)).await.silent_since, None);
    assert!(matches!(revoke(&pool, device, site.engineer, at).await, Err(StoreError::Missing(ObjectKind::Device))));
}

#[sqlx::test]
async fn refusals_are_counted_by_reason_with_what_came_last(pool: PgPool) {
    let site = site(&pool, "").await;
    let device = gauge(&pool, &site).await;
    let at = Utc::now();
    refuse(&pool, device, at, Reason::Garbage, 1, "first").await.unwrap();
    refuse(&pool, device, at, Reason::Garbage, 2, &format!("\u{0}\u{7}{}", "x".repeat(900))).await.unwrap();
    refuse(&pool, device, at, Reason::OtherUnit, 1, "1 in").await.unwrap();
    let seen = view(&pool, at).await.refusals;
    assert_eq!(
        seen.iter().map(|r| (r.reason, r.count)).collect::<Vec<_>>(),
        [(Reason::Garbage, 3), (Reason::OtherUnit, 1)]
    );
    assert!(seen[0].last.starts_with("··xxx") && seen[0].last.chars().count() == 200, "{}", seen[0].last);
}

/// A progress that adds up what comes.
#[derive(Default, Serialize, Deserialize)]
struct Sum(f64);

struct Sensor<'a> {
    pool: &'a PgPool,
    at: StepAt,
}

/// The sum so far, and what became of the message.
type Taken = (f64, Result<(), Reason>);

impl Sensor<'_> {
    async fn take(&self, message: u128, value: f64, made: Option<f64>) -> Result<Taken, StoreError> {
        let at = StepAt { message: Some(Uuid::from_u128(message)), ..self.at };
        let sample = made.map(|reading| DeviceSample {
            entry: Uuid::new_v4(),
            taken_at: at.at,
            accepted: accepted(Content::readings([reading])),
        });
        let mut sum = 0.0;
        let outcome = step(self.pool, at, |progress: &mut Sum| {
            progress.0 += value;
            sum = progress.0;
            Ok(sample)
        })
        .await?;
        Ok((sum, outcome))
    }
}

#[sqlx::test]
async fn a_stream_goes_on_from_where_it_was_and_takes_each_message_once(pool: PgPool) {
    let site = site(&pool, "").await;
    let device = gauge(&pool, &site).await;
    let at = StepAt { device, characteristic: site.viscosity, message: None, at: Utc::now().trunc_subsecs(6) };
    let sensor = Sensor { pool: &pool, at };
    assert_eq!(sensor.take(1, 2.0, None).await.unwrap(), (2.0, Ok(())));
    assert_eq!(sensor.take(1, 2.0, None).await.unwrap().1, Err(Reason::SentBefore));
    assert_eq!(sensor.take(2, 3.0, Some(331.0)).await.unwrap(), (5.0, Ok(())));
    let seen = view(&pool, at.at).await;
    assert_eq!((seen.accepted, seen.heard_at), (1, Some(at.at)));
    // What time alone does not change is not written.
    let unchanged = step(&pool, StepAt { at: at.at + Duration::minutes(9), ..at }, |_: &mut Sum| Ok(None));
    assert_eq!(unchanged.await.unwrap(), Ok(()));
    assert_eq!(view(&pool, at.at).await.heard_at, Some(at.at));
    // A day later the names of old messages are forgotten with the next sample.
    let later = Sensor { pool: &pool, at: StepAt { at: at.at + Duration::hours(25), ..at } };
    later.take(3, 1.0, Some(332.0)).await.unwrap().1.unwrap();
    let noted: i64 = sqlx::query_scalar("select count(*) from stream_message").fetch_one(&pool).await.unwrap();
    assert_eq!(noted, 1);
}

#[sqlx::test]
async fn a_step_that_the_database_does_not_take_changes_nothing(pool: PgPool) {
    let site = site(&pool, "").await;
    let device = gauge(&pool, &site).await;
    let at = StepAt { device, characteristic: Uuid::nil(), message: None, at: Utc::now() };
    let sensor = Sensor { pool: &pool, at };
    // There is no such characteristic: the sample is refused, and the stream goes on behind it.
    assert_eq!(sensor.take(1, 2.0, Some(331.0)).await.unwrap().1, Err(Reason::Refused));
    sqlx::query("alter table device rename column progress to gone").execute(&pool).await.unwrap();
    assert!(matches!(sensor.take(2, 3.0, None).await, Err(StoreError::Database(_))));
    sqlx::query("alter table device rename column gone to progress").execute(&pool).await.unwrap();
    assert_eq!(sensor.take(2, 3.0, None).await.unwrap(), (5.0, Ok(())), "tried again it counts");
}
