//! Samples from devices: by token, once, the valid ones beside the refused.

use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{Server, Visitor, read, start};

/// A device of the engineer's for a station; its identity and token.
async fn device(server: &Server, station: Uuid) -> (String, String) {
    let engineer = Visitor::signed_in(server, "eve").await;
    let new = json!({"name": "Coordinate machine", "stations": [station], "link": {"kind": "ingest"}});
    let (status, made) = read(engineer.post("/api/plan/devices", new).await).await;
    assert_eq!(status, StatusCode::CREATED);
    (made["id"].as_str().unwrap().to_owned(), made["token"].as_str().unwrap().to_owned())
}

async fn send(server: &Server, token: &str, body: &Value) -> (StatusCode, Value) {
    let client = reqwest::Client::new();
    let request = client.post(format!("{}/api/ingest", server.url)).bearer_auth(token).json(body);
    read(request.send().await.unwrap()).await
}

fn sample(characteristic: Uuid, readings: Value) -> Value {
    json!({"entry": Uuid::new_v4(), "characteristic": characteristic, "readings": readings})
}

async fn view(server: &Server) -> Value {
    let engineer = Visitor::signed_in(server, "eve").await;
    let (_, devices) = read(engineer.get("/api/plan/devices").await).await;
    devices[0].clone()
}

#[sqlx::test]
async fn valid_samples_are_saved_beside_refused_ones_and_judged(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (_, token) = device(&server, site.station).await;
    let body = json!({"samples": [
        sample(site.wall, json!([5.01, "5,02", "+0004.99 mm"])),
        sample(site.wall, json!([5.0, 5.0])),
        sample(site.wall, json!([5.0, "0.197 in", 5.0])),
        sample(site.wall, json!([5.901, 5.9, 5.9])),
        sample(Uuid::nil(), json!([5.0])),
        sample(site.wall, json!([5.9, 5.91, 5.89])),
    ]});
    let (status, answer) = send(&server, &token, &body).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let codes: Vec<&Value> = answer["samples"].as_array().unwrap().iter().map(|s| &s["refused"]).collect();
    let expected = [
        Value::Null,
        json!("wrong_count"),
        json!("other_unit"),
        json!("too_many_decimals"),
        json!("other_station"),
        Value::Null,
    ];
    assert_eq!(codes, expected.iter().collect::<Vec<_>>());
    assert_eq!((&answer["saved"], &answer["refused"]), (&json!(2), &json!(4)));
    assert_eq!(answer["samples"][5]["number"], 2);
    let signals: i64 = sqlx::query_scalar("select count(*) from signal").fetch_one(&pool).await.unwrap();
    assert_eq!(signals, 1, "beyond the limit");
    let device = view(&server).await;
    assert_eq!(device["accepted"], 2);
    let counted: Vec<(&str, i64)> = device["refusals"]
        .as_array()
        .unwrap()
        .iter()
        .map(|r| (r["reason"].as_str().unwrap(), r["count"].as_i64().unwrap()))
        .collect();
    assert_eq!(counted, [("other_station", 1), ("other_unit", 1), ("too_many_decimals", 1), ("wrong_count", 1)]);
}

#[sqlx::test]
async fn sent_again_it_is_saved_once_also_at_the_same_moment(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (_, token) = device(&server, site.station).await;
    let samples: Vec<Value> = (0..40).map(|_| sample(site.wall, json!([5.0, 5.01, 4.99]))).collect();
    let body = json!({ "samples": samples });
    let sent = futures::future::join_all((0..4).map(|_| send(&server, &token, &body))).await;
    let saved: i64 = sent.iter().map(|(_, answer)| answer["saved"].as_i64().unwrap()).sum();
    let again: i64 = sent.iter().map(|(_, answer)| answer["again"].as_i64().unwrap()).sum();
    assert_eq!((saved, again), (40, 120));
    let (_, answer) = send(
        &server,
        &token,
        &json!({"samples": [{
        "entry": samples[0]["entry"], "characteristic": site.wall, "readings": [5.5, 5.5, 5.5]}]}),
    )
    .await;
    assert_eq!(answer["samples"][0]["refused"], "entry_reused");
    let stored: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!(stored, 40);
}

#[rstest]
#[case::none(json!({"samples": []}), StatusCode::UNPROCESSABLE_ENTITY, "too_many")]
#[case::too_many(json!({"samples": vec![json!({"entry": Uuid::nil(), "characteristic": Uuid::nil()}); 1001]}),
    StatusCode::UNPROCESSABLE_ENTITY, "too_many")]
#[case::garbage(json!({"samples": "\u{0}\u{7}"}), StatusCode::UNPROCESSABLE_ENTITY, "unreadable")]
#[sqlx::test]
async fn what_cannot_be_read_is_counted(
    #[ignore] pool: PgPool,
    #[case] body: Value,
    #[case] expected: StatusCode,
    #[case] reason: &str,
) {
    let (server, site) = start(&pool).await;
    let (_, token) = device(&server, site.station).await;
    assert_eq!(send(&server, &token, &body).await.0, expected);
    assert_eq!(view(&server).await["refusals"][0]["reason"], reason);
}

#[sqlx::test]
async fn a_token_opens_the_ingest_route_alone_and_until_it_is_revoked(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (id, token) = device(&server, site.station).await;
    let body = json!({"samples": [sample(site.wall, json!([5.0, 5.0, 5.0]))]});
    assert_eq!(send(&server, "", &body).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(send(&server, &token[1..], &body).await.0, StatusCode::UNAUTHORIZED);
    let client = reqwest::Client::new();
    let elsewhere = client.get(format!("{}/api/plan", server.url)).bearer_auth(&token).send().await.unwrap();
    assert_eq!(elsewhere.status(), StatusCode::UNAUTHORIZED);
    let engineer = Visitor::signed_in(&server, "eve").await;
    assert!(engineer.get("/api/plan/devices").await.text().await.unwrap().find(&token).is_none(), "shown once");
    assert_eq!(send(&server, &token, &body).await.0, StatusCode::OK);
    let revoked = engineer.post(&format!("/api/plan/devices/{id}/revocation"), json!(null)).await;
    assert_eq!(revoked.status(), StatusCode::NO_CONTENT);
    assert_eq!(send(&server, &token, &body).await.0, StatusCode::UNAUTHORIZED);
}

#[sqlx::test]
async fn a_device_is_moved_by_who_saw_it_as_it_is_and_keeps_its_token_and_kind(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (id, token) = device(&server, site.station).await;
    let engineer = Visitor::signed_in(&server, "eve").await;
    let (_, moved_to) = read(engineer.post("/api/plan/stations", json!({"area": "Hall", "name": "Oven"})).await).await;
    let put = async |version: i32, link: Value| {
        let device = json!({"name": "Moved machine", "stations": [moved_to["id"]], "link": link});
        engineer.put(&format!("/api/plan/devices/{id}"), json!({"version": version, "device": device})).await
    };
    let gauge = json!({"kind": "gauge", "address": {"opens": "server", "at": "127.0.0.1:4001"}});
    let (status, answer) = read(put(1, gauge).await).await;
    assert_eq!((status, &answer["params"]["wrong"][0]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("kind")));
    assert_eq!(put(1, json!({"kind": "ingest"})).await.status(), StatusCode::NO_CONTENT);
    assert_eq!(put(1, json!({"kind": "ingest"})).await.status(), StatusCode::CONFLICT, "somebody was first");
    let seen = view(&server).await;
    assert_eq!((&seen["name"], &seen["stations"][0]["name"]), (&json!("Moved machine"), &json!("Oven")));
    let body = json!({"samples": [sample(site.wall, json!([5.0, 5.0, 5.0]))]});
    assert_eq!(send(&server, &token, &body).await.1["samples"][0]["refused"], "other_station");
}
