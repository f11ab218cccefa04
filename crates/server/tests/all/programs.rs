//! What a program reads by its token: samples page by page as they change, and what a reader of its stations sees.

use chrono::Utc;
use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{Server, Site, Visitor, device, read, save_wall, show, start};

async fn program(server: &Server, site: &Site) -> (Uuid, String) {
    device(server, site.station, json!({"kind": "program"})).await
}

/// A page of the wall thickness.
async fn page(server: &Server, token: &str, site: &Site, asked: &str) -> Value {
    let path = format!("/api/characteristics/{}/samples?{asked}", site.wall);
    let (status, page) = read(show(server, &path, token).await).await;
    assert_eq!(status, StatusCode::OK, "{page}");
    page
}

fn numbers(page: &Value) -> Vec<i64> {
    page["samples"].as_array().unwrap().iter().map(|sample| sample["number"].as_i64().unwrap()).collect()
}

/// All pages from a place on: numbers as they were told, and where to go on.
async fn all(server: &Server, token: &str, site: &Site, limit: usize) -> (Vec<i64>, String) {
    let (mut told, mut asked) = (vec![], format!("limit={limit}"));
    loop {
        let page = page(server, token, site, &asked).await;
        let some = numbers(&page);
        assert!(some.len() <= limit);
        told.extend(some);
        let next = page["next"].as_str().unwrap().to_owned();
        if page["more"] == json!(false) {
            return (told, next);
        }
        asked = format!("limit={limit}&after={next}");
    }
}

#[rstest]
#[case::one_at_a_time(1)]
#[case::some(7)]
#[case::all_at_once(10_000)]
#[sqlx::test]
async fn pages_tell_every_sample_and_what_changed_since(#[ignore] pool: PgPool, #[case] limit: usize) {
    let (server, site) = start(&pool).await;
    save_wall(&pool, &site, 0, 5.0).await;
    save_wall(&pool, &site, 10, 5.9).await;
    // An import is one entry of the trail; its samples come in pages all the same.
    let eve = Visitor::signed_in(&server, "eve").await;
    let rows: String = (0..20).map(|i| format!("2026-01-05 06:{i:02},5,5.01,5.02\n")).collect();
    let table = format!("taken,x1,x2,x3\n{rows}").into_bytes();
    let (_, file) = read(eve.send("/api/data/files?name=wall.csv", table).await).await;
    let recipe = json!({"read": {"format": "csv"}, "shape": {"kind": "across", "values": ["x1", "x2", "x3"]},
                        "time": {"column": "taken", "format": "%Y-%m-%d %H:%M"}});
    let import = json!({"file": file["id"], "recipe": recipe, "characteristic": site.wall});
    assert_eq!(eve.post("/api/data/imports", import).await.status(), StatusCode::CREATED);
    let stored: Vec<(i64, Uuid)> =
        sqlx::query_as("select number, id from sample where characteristic_id = $1 order by number")
            .bind(site.wall)
            .fetch_all(&pool)
            .await
            .unwrap();
    let (_, token) = program(&server, &site).await;
    let (told, next) = all(&server, &token, &site, limit).await;
    assert_eq!(told, stored.iter().map(|(number, _)| *number).collect::<Vec<_>>());
    let after = format!("after={next}");
    assert_eq!(numbers(&page(&server, &token, &site, &after).await), [0; 0], "nothing has changed since");
    // What changes comes again, as it is now, and once.
    let now = Utc::now();
    let (number, sample) = stored[2];
    let tess = Visitor::signed_in(&server, "eve").await;
    for (version, reading) in [(1, "5.11"), (2, "5.12")] {
        let correction = json!({"version": version, "sample": {"readings": [reading, "5", "5"]}, "reason": "misread"});
        let corrected = tess.post(&format!("/api/samples/{sample}/corrections"), correction).await;
        assert!(corrected.status().is_success(), "{:?}", read(corrected).await);
    }
    let (_, saved) = tess.enter(site.wall, &["5", "5", "5"]).await;
    let withdrawn = json!({"version": 1, "reason": "not of this lot"});
    let path = format!("/api/samples/{}/withdrawal", saved["sample"].as_str().unwrap());
    assert!(tess.post(&path, withdrawn).await.status().is_success());
    let since = format!("since={}", now.to_rfc3339_opts(chrono::SecondsFormat::Micros, true));
    for asked in [after, since] {
        let changed = page(&server, &token, &site, &asked).await;
        assert_eq!(numbers(&changed), [number, stored.len() as i64 + 1], "{asked}");
        let [corrected, gone] = [0, 1].map(|at| &changed["samples"][at]);
        assert_eq!(corrected["content"]["readings"]["values"], json!([5.12, 5.0, 5.0]));
        assert_eq!((&corrected["corrected"], &corrected["version"]), (&json!(true), &json!(3)));
        assert_eq!((&gone["gap"]["withdrawn"], &gone["gap"]["because"]), (&json!(true), &json!("not of this lot")));
    }
}

#[sqlx::test]
async fn a_program_reads_its_stations_and_changes_nothing(pool: PgPool) {
    let (server, site) = start(&pool).await;
    save_wall(&pool, &site, 0, 5.0).await;
    let mut conn = pool.acquire().await.unwrap();
    let area = store::sites::add_area(&mut conn, "Yard").await.unwrap();
    let elsewhere = store::sites::add_station(&mut conn, area, "Gate", 9).await.unwrap();
    let (id, token) = program(&server, &site).await;
    let (_, other) = device(&server, elsewhere, json!({"kind": "program"})).await;
    let chart = format!("/api/characteristics/{}/chart", site.wall);
    let samples = format!("/api/characteristics/{}/samples", site.wall);
    let table = format!("/api/data/samples?of={}&shape=across&as=csv", site.wall);
    for path in [&chart, &samples, &table] {
        assert_eq!(show(&server, path, &token).await.status(), StatusCode::OK, "{path}");
        let (status, problem) = read(show(&server, path, &other).await).await;
        assert_eq!((status, &problem["code"]), (StatusCode::NOT_FOUND, &json!("missing")), "{path}");
    }
    let (_, plan) = read(show(&server, "/api/plan", &token).await).await;
    assert!(plan["characteristics"].as_array().unwrap().iter().any(|one| one["id"] == json!(site.wall)), "{plan}");
    let (_, plan) = read(show(&server, "/api/plan", &other).await).await;
    assert_eq!(plan["characteristics"], json!([]));
    // Neither who it is nor what is for people, nor anything that changes something.
    for path in ["/api/session", "/api/trail", "/api/bell", "/api/accounts", "/api/wall"] {
        assert!(show(&server, path, &token).await.status().is_client_error(), "{path}");
    }
    let entry = json!({"device": Uuid::nil(), "entry": Uuid::nil(), "readings": ["5", "5", "5"]});
    let client = reqwest::Client::new();
    let posted = client.post(format!("{}{samples}", server.url)).bearer_auth(&token).json(&entry);
    assert_eq!(posted.send().await.unwrap().status(), StatusCode::UNAUTHORIZED);
    let pinned = client.put(format!("{}/api/characteristics/{}/pin", server.url, site.wall)).bearer_auth(&token);
    assert_eq!(pinned.send().await.unwrap().status(), StatusCode::UNAUTHORIZED);
    // Plan tells when it read last; revoked, it reads nothing.
    let eve = Visitor::signed_in(&server, "eve").await;
    let (_, devices) = read(eve.get("/api/plan/devices").await).await;
    let heard = devices.as_array().unwrap().iter().find(|it| it["id"] == json!(id)).unwrap();
    assert!(heard["heard_at"].is_string() && heard["silent_since"].is_null(), "{heard}");
    assert!(eve.without_body("POST", &format!("/api/plan/devices/{id}/revocation")).await.status().is_success());
    let (status, problem) = read(show(&server, &chart, &token).await).await;
    assert_eq!((status, &problem["code"]), (StatusCode::UNAUTHORIZED, &json!("unknown_token")));
}

/// A proxy that asks for a password of its own sends it on; that is no token.
#[sqlx::test]
async fn credentials_of_a_proxy_do_not_sign_anybody_out(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let chart = format!("{}/api/characteristics/{}/chart", server.url, site.wall);
    let seen = tess.client.get(chart).basic_auth("house", Some("door")).send().await.unwrap();
    assert_eq!(seen.status(), StatusCode::OK);
}

#[rstest]
#[case::no_cursor("after=first", "after")]
#[case::of_one_part("after=12", "after")]
#[case::below_zero("after=-1.0", "after")]
#[case::both("after=1.0&since=2026-01-01T00:00:00Z", "after")]
#[case::none("limit=0", "limit")]
#[case::too_many("limit=10001", "limit")]
#[sqlx::test]
async fn what_is_no_page_is_said(#[ignore] pool: PgPool, #[case] asked: &str, #[case] field: &str) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let path = format!("/api/characteristics/{}/samples?{asked}", site.wall);
    let (status, problem) = read(tess.get(&path).await).await;
    assert_eq!((status, &problem["params"]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(field)), "{problem}");
    // The largest number there is asks for what comes after everything.
    let far = format!("/api/characteristics/{}/samples?after=9223372036854775807.9223372036854775807", site.wall);
    let (status, page) = read(tess.get(&far).await).await;
    assert_eq!((status, &page["more"]), (StatusCode::OK, &json!(false)), "{page}");
}

#[sqlx::test]
async fn the_interface_describes_itself_to_anybody(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let (status, described) = read(Visitor::new(&server).get("/api/openapi.json").await).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(described["components"]["securitySchemes"]["token"]["scheme"], "bearer");
    let asked = &described["paths"]["/api/characteristics/{id}/samples"]["get"]["parameters"];
    assert!(asked.as_array().unwrap().iter().any(|it| it["name"] == "after" && it["example"] == "4711.0"), "{asked}");
}
