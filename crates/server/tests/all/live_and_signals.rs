//! News on every instance, and the life of an episode through the interface.

use std::time::Duration;

use futures::StreamExt;
use reqwest::StatusCode;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{Visitor, events, instance, next, read, start};

#[sqlx::test]
async fn a_sample_saved_on_one_instance_is_told_on_both(pool: PgPool) {
    let (one, site) = start(&pool).await;
    let two = instance(&pool).await;
    let tess = Visitor::signed_in(&one, "tess").await;
    let mut streams = Vec::new();
    for server in [&one, &two] {
        let sue = Visitor::signed_in(server, "sue").await;
        let mut stream = events(sue.get("/api/live").await);
        assert_eq!(next(&mut stream).await.0, "resync");
        streams.push(stream);
    }
    // An instance listens as soon as it has a connection; it has had time for two sign-ins.
    let (status, _) = tess.enter(site.wall, &["5", "5.1", "5"]).await;
    assert_eq!(status, StatusCode::CREATED);
    for stream in &mut streams {
        let told = loop {
            let (event, data) = next(stream).await;
            if event == "news" {
                break data;
            }
        };
        // The point comes along, so that no screen has to ask.
        assert_eq!((&told["kind"], &told["characteristic"]), (&json!("sample"), &json!(site.wall)));
        assert_eq!(told["added"], 1);
        let chart = &told["point"]["chart"];
        assert_eq!(chart["points"]["number"], json!([1]));
        assert_eq!(chart["points"]["details"]["people"], json!(["tess"]));
        let (_, asked) = read(tess.get(&format!("/api/characteristics/{}/chart", site.wall)).await).await;
        assert_eq!(chart["panels"], asked["panels"]);
    }
}

/// What changes more than the end of a chart is looked at as a whole.
#[sqlx::test]
async fn a_sample_that_raises_a_signal_or_comes_late_is_told_without_its_point(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let mut stream = events(tess.get("/api/live").await);
    next(&mut stream).await;
    let path = format!("/api/characteristics/{}/samples", site.wall);
    let enter = async |entry: u128, readings: [&str; 3], taken_at: Option<&str>| {
        let mut body =
            json!({"device": Uuid::nil(), "entry": Uuid::from_u128(entry), "readings": readings, "confirmed": true});
        if let Some(taken_at) = taken_at {
            body["taken_at"] = json!(taken_at);
        }
        let (status, saved) = read(tess.post(&path, body).await).await;
        assert_eq!(status, StatusCode::CREATED, "{saved}");
    };
    let mut told = async || loop {
        let (_, data) = next(&mut stream).await;
        if data["kind"] == "sample" {
            return (data["added"].clone(), data["point"].is_object());
        }
    };
    enter(1, ["5.01", "5.02", "5.00"], None).await;
    assert_eq!(told().await, (json!(1), true));
    enter(2, ["5.91", "5.92", "5.90"], None).await;
    assert_eq!(told().await, (Value::Null, false), "it is beyond its limit");
    let before = (chrono::Utc::now() - chrono::Duration::minutes(10)).to_rfc3339();
    enter(3, ["5.01", "5.02", "5.00"], Some(&before)).await;
    assert_eq!(told().await, (Value::Null, false), "it has its place before others");
}

#[sqlx::test]
async fn a_refused_sample_is_no_news(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let mut stream = events(tess.get("/api/live").await);
    next(&mut stream).await;
    tess.enter(site.wall, &["5", "x", "5"]).await;
    tess.enter(site.viscosity, &["300"]).await;
    let (_, told) = next(&mut stream).await;
    assert_eq!(told["characteristic"], json!(site.viscosity));
}

#[sqlx::test]
async fn streams_end_when_the_server_stops(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let mut stream = events(tess.get("/api/live").await);
    next(&mut stream).await;
    drop(server);
    let ended = tokio::time::timeout(Duration::from_secs(5), stream.next()).await.expect("the stream ends");
    assert_eq!(ended, None);
}

async fn asked(tess: &Visitor, wall: Uuid) -> String {
    let (_, saved) = tess.enter(wall, &["5.5", "5.5", "5.6"]).await;
    format!("/api/episodes/{}", saved["asking"][0].as_str().unwrap())
}

#[sqlx::test]
async fn technician_answers_supervisor_sends_back_and_accepts(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (tess, sue) = (Visitor::signed_in(&server, "tess").await, Visitor::signed_in(&server, "sue").await);
    let episode = asked(&tess, site.wall).await;
    let (_, causes) = read(tess.get("/api/causes").await).await;
    let answer = |version: i32| json!({"version": version, "cause": causes[0]["id"], "action": "Changed the tool."});
    let (status, view) = read(tess.post(&format!("{episode}/answers"), answer(1)).await).await;
    assert_eq!((status, &view["answers"][0]["cause"]), (StatusCode::OK, &json!("Tool worn")));
    let review = |version: i32, decision: &str, remark: Value| {
        let body = json!({"version": version, "decision": decision, "remark": remark});
        sue.post_owned(format!("{episode}/reviews"), body)
    };
    let (status, problem) = read(review(2, "overruled", Value::Null).await).await;
    assert_eq!((status, &problem["params"]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("remark")));
    let (_, view) = read(review(2, "sent_back", json!("Which tool?")).await).await;
    assert_eq!(view["state"], "sent_back");
    let (status, problem) = read(review(2, "accepted", Value::Null).await).await;
    assert_eq!((status, &problem["code"]), (StatusCode::CONFLICT, &json!("changed")));
    tess.post(&format!("{episode}/answers"), answer(3)).await;
    let (status, view) = read(review(4, "accepted", Value::Null).await).await;
    assert_eq!((status, &view["state"]), (StatusCode::OK, &json!("reviewed")));
}

impl Visitor {
    async fn post_owned(&self, path: String, body: Value) -> reqwest::Response {
        self.post(&path, body).await
    }
}

#[sqlx::test]
async fn a_supervisor_may_answer_but_not_review_that_answer(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (tess, sue) = (Visitor::signed_in(&server, "tess").await, Visitor::signed_in(&server, "sue").await);
    let episode = asked(&tess, site.wall).await;
    let answer = json!({"version": 1, "nothing_found": true, "action": "Looked."});
    assert_eq!(sue.post(&format!("{episode}/answers"), answer).await.status(), StatusCode::OK);
    let review = json!({"version": 2, "decision": "accepted"});
    let (status, problem) = read(sue.post(&format!("{episode}/reviews"), review).await).await;
    assert_eq!((status, &problem["code"]), (StatusCode::FORBIDDEN, &json!("own_part")));
}

#[sqlx::test]
async fn a_note_stands_on_its_point_and_in_the_trail(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (tess, sue) = (Visitor::signed_in(&server, "tess").await, Visitor::signed_in(&server, "sue").await);
    let (_, saved) = tess.enter(site.wall, &["5", "5.1", "5"]).await;
    let notes = format!("/api/samples/{}/notes", saved["sample"].as_str().unwrap());
    let note = |text: &str, entry: u128| json!({"text": text, "entry": Uuid::from_u128(entry)});
    assert_eq!(tess.post(&notes, note("new gauge", 1)).await.status(), StatusCode::CREATED);
    // Sent again after its answer was lost it is the same note; the id is no other note's.
    assert_eq!(tess.post(&notes, note("new gauge", 1)).await.status(), StatusCode::CREATED);
    assert_eq!(tess.post(&notes, note("another", 1)).await.status(), StatusCode::CONFLICT);
    assert_eq!(tess.post(&notes, note("  ", 2)).await.status(), StatusCode::UNPROCESSABLE_ENTITY);
    let (_, chart) = read(sue.get(&format!("/api/characteristics/{}/chart", site.wall)).await).await;
    assert_eq!(chart["notes"].as_array().unwrap().len(), 1);
    assert_eq!((&chart["notes"][0]["text"], &chart["notes"][0]["place"]), (&json!("new gauge"), &json!(0)));
    let (_, trail) = read(sue.get(&format!("/api/trail?characteristic={}", site.wall)).await).await;
    assert_eq!((&trail[0]["action"], &trail[0]["person"]), (&json!("note_written"), &json!("tess")));
}
