//! Entering samples through the interface: what is kept, what is refused and why.

use chrono::{Duration, Utc};
use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{Visitor, read, start};

#[sqlx::test]
async fn a_sample_is_saved_once_and_stands_on_its_chart(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let path = format!("/api/characteristics/{}/samples", site.wall);
    let body = json!({"device": Uuid::from_u128(1), "entry": Uuid::from_u128(2), "readings": ["5,01", "5.02", " 5 "]});
    let (status, first) = read(tess.post(&path, body.clone()).await).await;
    assert_eq!((status, &first["number"], &first["again"]), (StatusCode::CREATED, &json!(1), &json!(false)));
    let (status, second) = read(tess.post(&path, body).await).await;
    assert_eq!((status, &second["sample"], &second["again"]), (StatusCode::OK, &first["sample"], &json!(true)));
    let (_, chart) = read(tess.get(&format!("/api/characteristics/{}/chart", site.wall)).await).await;
    assert_eq!(chart["total"], 1);
    assert_eq!(chart["points"]["details"]["values"], json!([[5.01, 5.02, 5.0]]));
    assert_eq!(chart["points"]["details"]["people"], json!(["tess"]));
    let (_, rounds) = read(tess.get("/api/rounds").await).await;
    let stop = |name: &str| {
        let stops = rounds[0]["characteristics"].as_array().unwrap();
        stops.iter().find(|stop| stop["name"] == name).unwrap()["state"].clone()
    };
    assert_eq!((stop("Wall thickness"), stop("Viscosity")), (json!("done"), json!("overdue")));
}

#[rstest]
#[case::no_number(&["5", "x", "5"], "readings_refused", json!({"code": "not_a_number", "piece": 2, "given": "x"}))]
#[case::digits(&["5.001", "5", "5"], "readings_refused",
    json!({"code": "too_many_decimals", "piece": 1, "given": "5.001", "allowed": 2}))]
#[case::hard_bounds(&["5", "5", "12"], "readings_refused",
    json!({"code": "outside_hard_bounds", "piece": 3, "given": 12.0, "lower": 1.0, "upper": 9.0}))]
#[case::too_few(&["5", "5"], "readings_refused", json!({"code": "wrong_count", "given": 2, "expected": 3}))]
#[case::too_many(&["5", "5", "5", "5"], "readings_refused", json!({"code": "wrong_count", "given": 4, "expected": 3}))]
#[case::blank(&["5", "", "5"], "readings_refused", json!({"code": "blank", "piece": 2}))]
#[sqlx::test]
async fn readings_are_refused_with_their_facts(
    #[ignore] pool: PgPool,
    #[case] readings: &[&str],
    #[case] code: &str,
    #[case] refusal: Value,
) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let (status, problem) = tess.enter(site.wall, readings).await;
    assert_eq!((status, &problem["code"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(code)));
    assert_eq!(problem["params"]["refusals"], json!([refusal]));
}

/// Nothing is set about what is usual of the viscosity, and its limits are on trial.
#[sqlx::test]
async fn a_slip_is_asked_about_and_what_was_typed_first_stays_with_the_sample(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let path = format!("/api/characteristics/{}/samples", site.viscosity);
    let enter = async |reading: &str, more: Value| {
        let mut body = json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "readings": [reading]});
        body.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        read(tess.post(&path, body).await).await
    };
    for reading in ["297", "305", "300", "301", "299", "302", "298", "303"] {
        assert_eq!(tess.enter(site.viscosity, &[reading]).await.0, StatusCode::CREATED);
    }
    let (_, preview) = read(
        tess.post(&format!("/api/characteristics/{}/preview", site.viscosity), json!({"readings": ["3010"]})).await,
    )
    .await;
    let asked = json!({"piece": 1, "given": 3010.0, "lower": 289.0, "upper": 313.0, "by": "recorded", "likely": "301"});
    assert_eq!(preview["unusual"], json!([asked]));
    let (status, problem) = enter("3010", json!({})).await;
    assert_eq!((status, &problem["code"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("confirm_readings")));
    assert_eq!(problem["params"]["unusual"], json!([asked]));

    let first = |piece: usize, given: &str| json!({"typed_first": [{"piece": piece, "given": given}]});
    let (_, problem) = enter("301", first(2, "3010")).await;
    assert_eq!(problem["params"]["refusals"], json!([{"code": "wrong_count", "given": 1, "expected": 1}]));
    let (_, problem) = enter("301", first(1, "many")).await;
    assert_eq!(problem["params"]["refusals"], json!([{"code": "not_a_number", "piece": 1, "given": "many"}]));
    assert_eq!(enter("301", first(1, "3010")).await.0, StatusCode::CREATED);
    assert_eq!(enter("3010", json!({"confirmed": true})).await.0, StatusCode::CREATED);
    let (_, chart) = read(tess.get(&format!("/api/characteristics/{}/chart", site.viscosity)).await).await;
    let details = &chart["points"]["details"];
    let doubted = |point: usize, first: Value| json!({"point": point, "is": [{"piece": 1, "first": first}]});
    assert_eq!(details["doubts"], json!([doubted(8, json!("3010")), doubted(9, Value::Null)]));

    // Once it is corrected, nothing is doubted any more.
    let corrections = format!("/api/samples/{}/corrections", details["sample"][9].as_str().unwrap());
    let correct = async |reading: &str| {
        let sample = json!({"readings": [reading]});
        let body = json!({"version": details["version"][9], "reason": "Misread.", "sample": sample});
        read(tess.post(&corrections, body).await).await
    };
    assert_eq!(correct("30.1").await.1["code"], "readings_refused", "viscosity has whole numbers");
    assert_eq!(correct("302").await.0, StatusCode::OK);
    let (_, chart) = read(tess.get(&format!("/api/characteristics/{}/chart", site.viscosity)).await).await;
    assert_eq!(chart["points"]["details"]["doubts"], json!([doubted(8, json!("3010"))]));
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert!(report.is_whole(), "{report:?}");
}

#[sqlx::test]
async fn an_improbable_reading_is_asked_about_and_kept_when_confirmed(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let (status, problem) = tess.enter(site.wall, &["5", "6.4", "5"]).await;
    assert_eq!((status, &problem["code"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("confirm_readings")));
    assert_eq!(problem["params"]["unusual"][0]["piece"], 2);
    let body = json!({"device": Uuid::nil(), "entry": Uuid::nil(), "readings": ["5", "6.4", "5"], "confirmed": true});
    let response = tess.post(&format!("/api/characteristics/{}/samples", site.wall), body).await;
    assert_eq!(response.status(), StatusCode::CREATED);
}

#[rstest]
#[case::future(json!({"taken_at": Utc::now() + Duration::minutes(10)}), 422, "from_the_future")]
#[case::unknown_field(json!({"colour": "red"}), 422, "wrong_form")]
#[case::no_id(json!({"entry": "first"}), 422, "wrong_form")]
#[case::numbers(json!({"readings": [5, 5, 5]}), 422, "wrong_form")]
#[sqlx::test]
async fn entries_that_cannot_be_are_refused(
    #[ignore] pool: PgPool,
    #[case] change: Value,
    #[case] status: u16,
    #[case] code: &str,
) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let mut body = json!({"device": Uuid::nil(), "entry": Uuid::nil(), "readings": ["5", "5", "5"]});
    body.as_object_mut().unwrap().extend(change.as_object().unwrap().clone());
    let (got, problem) = read(tess.post(&format!("/api/characteristics/{}/samples", site.wall), body).await).await;
    assert_eq!((got.as_u16(), &problem["code"]), (status, &json!(code)), "{problem}");
    let kept: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 0);
}

#[sqlx::test]
async fn bodies_that_are_no_json_too_large_or_elsewhere_never_fail_the_server(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let url = format!("{}/api/characteristics/{}/samples", server.url, site.wall);
    let send = |body: Vec<u8>| tess.client.post(&url).header("content-type", "application/json").body(body).send();
    for (body, status) in
        [(b"{".to_vec(), 400), (vec![0xff, 0xfe], 400), (vec![b' '; 70_000], 413), (vec![b'['; 10_000], 422)]
    {
        assert_eq!(send(body).await.unwrap().status().as_u16(), status);
    }
    assert_eq!(tess.get("/api/characteristics/none/chart").await.status(), StatusCode::BAD_REQUEST);
    let (status, problem) = tess.enter(Uuid::new_v4(), &["5"]).await;
    assert_eq!((status, &problem["params"]["object"]), (StatusCode::NOT_FOUND, &json!("characteristic")));
    assert_eq!(tess.get("/api/episodes?state=closed").await.status(), StatusCode::BAD_REQUEST);
}

#[sqlx::test]
async fn the_pencil_point_needs_no_complete_sample(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let path = format!("/api/characteristics/{}/preview", site.wall);
    let (_, none) = read(tess.post(&path, json!({"readings": ["", "", ""]})).await).await;
    assert_eq!(none["pencil"], Value::Null);
    let (_, some) = read(tess.post(&path, json!({"readings": ["5.1", "5.3", ""]})).await).await;
    assert_eq!(some["pencil"]["panels"][0]["value"], 5.199999999999999);
    assert_eq!(some["pencil"]["panels"][1]["statistic"], "range");
    let kept: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 0, "nothing is stored");
}

#[sqlx::test]
async fn the_analysis_interface_answers_and_names_what_is_wrong(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let request = json!({"task": "chart", "chart": "i_mr", "points": [{"values": [1]}, {"values": [2]}]});
    let (status, answer) = read(tess.post("/api/analyze", request).await).await;
    assert_eq!((status, &answer["phases"][0]["center"]), (StatusCode::OK, &json!(1.5)));
    let (status, problem) = read(tess.post("/api/analyze", json!({"task": "chart", "chart": "x"})).await).await;
    assert_eq!((status, &problem["params"]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("chart")));
}
