//! What a display sees by its token, and what it does not.

use std::time::Duration;

use futures::StreamExt;
use reqwest::StatusCode;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{Server, Visitor, device, events, next, read, save_wall, show, start};

async fn display(server: &Server, station: Uuid) -> (Uuid, String) {
    device(server, station, json!({"kind": "display", "charts": 4, "seconds": 15, "dark": true})).await
}

#[sqlx::test]
async fn a_display_sees_charts_of_its_stations_and_what_waits_there_but_nobody(pool: PgPool) {
    let (server, site) = start(&pool).await;
    save_wall(&pool, &site, 0, 5.0).await;
    save_wall(&pool, &site, 10, 5.9).await;
    // Who measured, and what somebody wrote, is not for the hall.
    let tess = Visitor::signed_in(&server, "tess").await;
    let sample: Uuid = sqlx::query_scalar("select id from sample where number = 2 and characteristic_id = $1")
        .bind(site.wall)
        .fetch_one(&pool)
        .await
        .unwrap();
    let note = json!({"entry": Uuid::new_v4(), "text": "Quentin saw it"});
    assert!(tess.post(&format!("/api/samples/{sample}/notes"), note).await.status().is_success());
    let (_, token) = display(&server, site.station).await;
    let (status, wall) = read(show(&server, "/api/wall", &token).await).await;
    assert_eq!(status, StatusCode::OK, "{wall}");
    assert_eq!((&wall["name"], &wall["at_a_time"]), (&json!("Hall"), &json!(4)));
    let charts: Vec<&Value> = wall["charts"].as_array().unwrap().iter().map(|chart| &chart["id"]).collect();
    assert!(charts.contains(&&json!(site.wall)), "{charts:?}");
    assert!(wall["charts"].as_array().unwrap().iter().all(|chart| chart["station_id"] == json!(site.station)));
    assert_eq!((&wall["open_count"], &wall["open"][0]["name"]), (&json!(1), &json!("Wall thickness")));
    // Taken hours ago, every hour: the next one is overdue.
    let overdue = &wall["overdue"][0]["characteristics"];
    assert!(overdue.as_array().unwrap().iter().any(|stop| stop["id"] == json!(site.wall)), "{wall}");
    assert!(overdue.as_array().unwrap().iter().all(|stop| stop["state"] == json!("overdue")));
    let said = wall.to_string().to_lowercase();
    for person in ["\"tess\"", "\"eve\"", "quentin", "person", "answered_by"] {
        assert!(!said.contains(person), "{person} is named: {said}");
    }
    let engineer = Visitor::signed_in(&server, "eve").await;
    let (_, devices) = read(engineer.get("/api/plan/devices").await).await;
    assert!(devices[0]["heard_at"].is_string(), "it is known when it looked last");
}

#[sqlx::test]
async fn a_token_opens_what_it_was_given_for_and_nothing_else(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (id, shown) = display(&server, site.station).await;
    let (_, posted) = device(&server, site.station, json!({"kind": "ingest"})).await;
    for path in ["/api/wall", "/api/wall/live"] {
        for token in ["", "nothing", &posted] {
            let (status, problem) = read(show(&server, path, token).await).await;
            assert_eq!((status, &problem["code"]), (StatusCode::UNAUTHORIZED, &json!("unknown_token")), "{path}");
        }
    }
    let client = reqwest::Client::new();
    let samples = json!({"samples": [{"entry": Uuid::new_v4(), "characteristic": site.wall, "readings": [5, 5, 5]}]});
    let ingest = client.post(format!("{}/api/ingest", server.url)).bearer_auth(&shown).json(&samples);
    assert_eq!(ingest.send().await.unwrap().status(), StatusCode::UNAUTHORIZED);
    for path in ["/api/charts", "/api/rounds", "/api/episodes", "/api/session", "/api/live"] {
        assert_eq!(show(&server, path, &shown).await.status(), StatusCode::UNAUTHORIZED, "{path}");
    }
    let engineer = Visitor::signed_in(&server, "eve").await;
    let revoked = engineer.without_body("POST", &format!("/api/plan/devices/{id}/revocation")).await;
    assert_eq!(revoked.status(), StatusCode::NO_CONTENT);
    assert_eq!(show(&server, "/api/wall", &shown).await.status(), StatusCode::UNAUTHORIZED);
}

#[sqlx::test]
async fn a_display_is_told_of_its_own_stations_until_it_is_revoked(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (id, token) = display(&server, site.station).await;
    let mut stream = events(show(&server, "/api/wall/live", &token).await);
    let changed = ("changed".to_owned(), json!({}));
    assert_eq!(next(&mut stream).await, changed);
    let tess = Visitor::signed_in(&server, "tess").await;
    let (status, _) = tess.enter(site.wall, &["5", "5.1", "5"]).await;
    assert_eq!(status, StatusCode::CREATED);
    assert_eq!(next(&mut stream).await, changed);
    let mut conn = pool.acquire().await.unwrap();
    let area = store::sites::add_area(&mut conn, "Yard").await.unwrap();
    let elsewhere = store::sites::add_station(&mut conn, area, "Gate", 9).await.unwrap();
    sqlx::query("update device_station set station_id = $1 where device_id = $2")
        .bind(elsewhere)
        .bind(id)
        .execute(&pool)
        .await
        .unwrap();
    let mut other = events(show(&server, "/api/wall/live", &token).await);
    assert_eq!(next(&mut other).await, changed);
    tess.enter(site.wall, &["5", "5", "5"]).await;
    assert_eq!(next(&mut stream).await, changed);
    let quiet = tokio::time::timeout(Duration::from_millis(500), other.next()).await;
    assert!(quiet.is_err(), "it was told of another station");
    sqlx::query("update device set revoked_at = now() where id = $1").bind(id).execute(&pool).await.unwrap();
    // What was told before may still be on its way.
    let ended = async { while stream.next().await.is_some() {} };
    tokio::time::timeout(Duration::from_secs(20), ended).await.expect("the stream ends");
}
