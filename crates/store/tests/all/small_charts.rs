//! Many charts at once.

use chrono::Duration;
use sqlx::PgPool;
use store::StoreError;
use store::charts::{Asked, SmallAsked, pin, small, view};
use uuid::Uuid;

use crate::common::{save_wall, site};

const LAST: SmallAsked = SmallAsked { last: 40, since: None };

#[sqlx::test]
async fn each_small_chart_shows_what_its_large_one_does(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..60 {
        let mean = if i == 50 { 5.9 } else { 5.0 + ((i % 3) - 1) as f64 / 100.0 };
        save_wall(&pool, &site, i * 10, mean).await;
    }
    let all = small(&pool, Some(site.technician), None, &LAST).await.unwrap();
    let wall = all.iter().find(|chart| chart.id == site.wall).unwrap();
    assert_eq!((wall.pinned, wall.station_id), (false, site.station));
    let sent = serde_json::to_value(wall).unwrap();
    let large = serde_json::to_value(view(&pool, site.wall, &Asked::last(40)).await.unwrap()).unwrap();
    assert_eq!(sent["panel"], large["panels"][0]);
    assert_eq!((&sent["places"], &sent["place"]), (&large["places"], &large["points"]["place"]));
    assert_eq!(sent["taken_at"], large["points"]["taken_at"]);
    assert!(!sent["panel"]["flagged"].as_array().unwrap().is_empty());
    assert_eq!(wall.open_episodes as usize, large["episodes"].as_array().unwrap().len());
    let since = Some(site.since + Duration::minutes(500));
    let late = small(&pool, Some(site.technician), None, &SmallAsked { last: 1000, since }).await.unwrap();
    let late = serde_json::to_value(late.iter().find(|chart| chart.id == site.wall)).unwrap();
    assert_eq!(late["places"], 10);
    // One that has no point yet is there, and says so.
    let empty = serde_json::to_value(all.iter().find(|chart| chart.id == site.viscosity)).unwrap();
    assert_eq!((&empty["places"], &empty["panel"]), (&0.into(), &serde_json::Value::Null));
}

#[sqlx::test]
async fn charts_are_seen_at_some_stations_and_left_out_where_hidden(pool: PgPool) {
    let site = site(&pool, "").await;
    let at = async |only: Option<&[Uuid]>| {
        let charts = small(&pool, None, only, &LAST).await.unwrap();
        charts.into_iter().map(|chart| chart.id).collect::<Vec<_>>()
    };
    assert!(at(None).await.contains(&site.wall));
    assert!(at(Some(&[])).await.is_empty());
    assert!(at(Some(&[site.station])).await.contains(&site.wall));
    sqlx::query("update characteristic set hidden = true where id = $1").bind(site.wall).execute(&pool).await.unwrap();
    assert!(!at(None).await.contains(&site.wall));
}

#[sqlx::test]
async fn a_person_pins_charts_for_themselves(pool: PgPool) {
    let site = site(&pool, "").await;
    let pinned = async |person: Uuid| {
        let charts = small(&pool, Some(person), None, &LAST).await.unwrap();
        charts.into_iter().filter(|chart| chart.pinned).map(|chart| chart.id).collect::<Vec<_>>()
    };
    for _ in 0..2 {
        pin(&pool, site.technician, site.wall, true).await.unwrap();
    }
    assert_eq!((pinned(site.technician).await, pinned(site.engineer).await), (vec![site.wall], vec![]));
    pin(&pool, site.technician, site.wall, false).await.unwrap();
    assert!(pinned(site.technician).await.is_empty());
    let nothing = pin(&pool, site.technician, Uuid::nil(), true).await;
    assert!(matches!(nothing, Err(StoreError::Missing(_))), "{nothing:?}");
}
