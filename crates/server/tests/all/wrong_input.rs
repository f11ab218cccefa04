//! What a clock that stands wrong, a text or a lost database sends: answered with a clear error, never
//! with a failure of ours.

use std::time::Duration;

use futures::StreamExt;
use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{self, PASSWORD, Visitor, read, start};

/// A time is asked about, or refused, by every route that takes one.
#[rstest]
#[case::before_all_calendars("-262143-01-01T00:00:00Z", "too_early")]
#[case::before_what_the_database_holds("-5000-01-01T00:00:00Z", "too_early")]
#[case::before_computers("1969-12-31T23:59:59Z", "too_early")]
#[case::a_dead_clock("1999-12-31T23:00:00Z", "confirm_time")]
#[case::the_future("2999-01-01T00:00:00Z", "from_the_future")]
#[case::the_end_of_all_calendars("+262142-12-31T00:00:00Z", "from_the_future")]
#[sqlx::test]
async fn a_time_that_cannot_be_is_refused(#[ignore] pool: PgPool, #[case] at: &str, #[case] code: &str) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let c = format!("/api/characteristics/{}", site.wall);
    let s = format!("/api/stations/{}", site.station);
    let (_, kinds) = read(tess.get("/api/event-kinds").await).await;
    let entry = |more: Value| {
        let mut body = json!({"device": Uuid::nil(), "entry": Uuid::new_v4()});
        body.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        body
    };
    for (path, body) in [
        (format!("{c}/samples"), entry(json!({"taken_at": at, "readings": ["5", "5", "5"]}))),
        (format!("{c}/gaps"), entry(json!({"taken_at": at, "because": "No product."}))),
        (format!("{s}/events"), entry(json!({"at": at, "kind": kinds[0]["id"]}))),
        (format!("{s}/pieces"), entry(json!({"at": at, "pieces": 5}))),
        (format!("{s}/runs"), entry(json!({"taken_at": at, "results": []}))),
    ] {
        let (status, problem) = read(tess.post(&path, body).await).await;
        assert_eq!((status.as_u16(), &problem["code"]), (422, &json!(code)), "{path}: {problem}");
    }
    let sue = Visitor::signed_in(&server, "sue").await;
    let at = at.replace('+', "%2B");
    let nil = Uuid::nil();
    for path in [
        "episodes?from".to_owned(),
        "episodes/count?until".into(),
        format!("episodes?behind={nil}&behind_raised"),
        "trail?from".into(),
        "trail?until".into(),
        format!("trail?behind_chain={nil}&behind_position=1&behind_at"),
    ] {
        assert_eq!(sue.get(&format!("/api/{path}={at}")).await.status(), StatusCode::OK, "{path}");
    }
}

#[sqlx::test]
async fn a_time_long_ago_is_kept_once_it_is_confirmed(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let path = format!("/api/characteristics/{}/samples", site.wall);
    let sample = |confirmed: bool| {
        json!({"device": Uuid::nil(), "entry": Uuid::nil(), "taken_at": "1999-12-31T23:00:00Z",
               "readings": ["5", "5", "5"], "confirmed": confirmed})
    };
    let (status, asked) = read(tess.post(&path, sample(false)).await).await;
    assert_eq!((status.as_u16(), &asked["params"]["asked_after_days"]), (422, &json!(31)));
    assert_eq!(tess.post(&path, sample(true)).await.status(), StatusCode::CREATED);
}

/// One door for all texts: none of them may hold what the database cannot keep.
#[sqlx::test]
async fn a_zero_character_is_refused_in_every_text(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let saved = common::save_wall(&pool, &site, 0, 5.9).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let ids = json!({"device": Uuid::nil(), "entry": Uuid::nil()});
    let with = |more: Value| {
        let mut body = ids.clone();
        body.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        body
    };
    let (zero, c) = ("a\u{0}b", format!("/api/characteristics/{}", site.wall));
    for (path, body) in [
        ("/api/session".to_owned(), json!({"login": zero, "password": PASSWORD})),
        (format!("{c}/samples"), with(json!({"readings": ["5", "5", "5"], "tags": {"lot": zero}}))),
        (format!("{c}/gaps"), with(json!({"because": zero}))),
        (format!("/api/samples/{}/notes", saved.sample), json!({"entry": Uuid::nil(), "text": zero})),
        (format!("/api/samples/{}/withdrawal", saved.sample), json!({"version": 1, "reason": zero})),
        (
            format!("/api/episodes/{}/answers", saved.asking[0]),
            json!({"version": 1, "cause_text": zero, "action": zero}),
        ),
        (format!("/api/stations/{}/events", site.station), with(json!({"kind": Uuid::nil(), "text": zero}))),
        ("/api/plan/stations".into(), json!({"area": zero, "name": zero})),
        ("/api/plan/products".into(), json!({"name": zero})),
    ] {
        let (status, problem) = read(eve.post(&path, body).await).await;
        assert_eq!((status.as_u16(), &problem["code"]), (422, &json!("zero_character")), "{path}: {problem}");
    }
    for path in ["/api/episodes?rule=a%00b", "/api/episodes/count?rule=%00"] {
        let (status, problem) = read(eve.get(path).await).await;
        assert_eq!((status.as_u16(), &problem["code"]), (422, &json!("zero_character")), "{path}: {problem}");
    }
}

#[sqlx::test]
async fn an_event_entry_belongs_to_one_station(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let (status, _) =
        read(eve.post("/api/plan/stations", json!({"area": "Forming", "name": "Casting line 10"})).await).await;
    assert!(status.is_success());
    let other: Uuid =
        sqlx::query_scalar("select id from station where name = 'Casting line 10'").fetch_one(&pool).await.unwrap();
    let (_, kinds) = read(tess.get("/api/event-kinds").await).await;
    let event = |entry: u128| json!({"device": Uuid::nil(), "entry": Uuid::from_u128(entry), "kind": kinds[0]["id"]});
    let path = |station: Uuid| format!("/api/stations/{station}/events");
    assert_eq!(tess.post(&path(site.station), event(1)).await.status(), StatusCode::CREATED);
    assert_eq!(tess.post(&path(site.station), event(1)).await.status(), StatusCode::CREATED, "the same");
    let (status, problem) = read(tess.post(&path(other), event(1)).await).await;
    assert_eq!((status, &problem["code"]), (StatusCode::CONFLICT, &json!("entry_reused")));
    // At once, at two stations: one of them has it.
    for round in 2..12 {
        let (here, there) = (path(site.station), path(other));
        let (one, two) = futures::join!(tess.post(&here, event(round)), tess.post(&there, event(round)));
        let mut statuses = [one.status().as_u16(), two.status().as_u16()];
        statuses.sort_unstable();
        assert_eq!(statuses, [201, 409]);
    }
}

#[sqlx::test]
async fn news_end_with_the_session(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let mut news = tess.get("/api/live").await.bytes_stream();
    assert!(news.next().await.is_some(), "it begins with a resync");
    tess.without_body("DELETE", "/api/session").await;
    let rest = tokio::time::timeout(Duration::from_secs(5), async { while news.next().await.is_some() {} }).await;
    assert!(rest.is_ok(), "the stream ends when its person signs out");
    // Expired, or ended on another instance: a moment later.
    let tess = Visitor::signed_in(&server, "tess").await;
    let mut news = tess.get("/api/live").await.bytes_stream();
    sqlx::query("delete from session").execute(&pool).await.unwrap();
    let rest = tokio::time::timeout(Duration::from_secs(20), async { while news.next().await.is_some() {} }).await;
    assert!(rest.is_ok());
}

/// Whatever is asked while the database is away: it is not our fault, and it may be asked again.
#[sqlx::test]
async fn without_a_database_every_route_says_so(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    pool.close().await;
    for path in ["/api/session", "/api/rounds", "/api/episodes", "/api/plan", "/api/terminal"] {
        let (status, problem) = read(tess.get(path).await).await;
        assert_eq!((status.as_u16(), &problem["code"]), (503, &json!("database_away")), "{path}");
    }
    let body = json!({"device": Uuid::nil(), "entry": Uuid::nil(), "readings": ["5", "5", "5"]});
    let path = format!("/api/characteristics/{}/samples", site.wall);
    assert_eq!(tess.post(&path, body).await.status(), StatusCode::SERVICE_UNAVAILABLE);
    assert_eq!(Visitor::new(&server).sign_in("tess", PASSWORD).await.status(), StatusCode::SERVICE_UNAVAILABLE);
    assert_eq!(tess.without_body("DELETE", "/api/session").await.status(), StatusCode::SERVICE_UNAVAILABLE);
}
