//! Peer groups by the interface: set up, what is given as a file, statistics from a file, and what cannot be.

use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;

use crate::common::{Visitor, read};
use crate::laboratory::{Bench, bench};

/// A group that files are handed over to, with one reviewed run given.
async fn given(pool: &PgPool) -> (Bench, Visitor, String) {
    let bench = bench(pool).await;
    let eve = Visitor::signed_in(&bench.server, "eve").await;
    let level = |n: usize| json!({"characteristic": bench.levels[n], "code": format!("AG-{}", n + 1)});
    let group = json!({"name": "Fell and Tarn", "laboratory": "Laboratory 17", "url": null, "active": true,
                       "since": "2026-01-01T00:00:00Z", "levels": [level(0), level(1)]});
    let (status, made) = read(eve.post("/api/peers", json!({"group": group})).await).await;
    assert_eq!(status, StatusCode::CREATED, "{made}");
    let tess = Visitor::signed_in(&bench.server, "tess").await;
    let (_, run) = bench.save(&tess, bench.results("10.2", "101.5"), None).await;
    let run_path = format!("/api/runs/{}", run["id"].as_str().unwrap());
    let (_, run) = read(tess.post(&format!("{run_path}/release"), json!({"version": run["version"]})).await).await;
    let (status, _) = read(eve.post(&format!("{run_path}/reviews"), json!({"version": run["version"]})).await).await;
    assert_eq!(status, StatusCode::OK);
    let path = format!("/api/peers/{}", made["id"].as_str().unwrap());
    (bench, eve, path)
}

#[sqlx::test]
async fn a_token_is_shown_to_nobody(pool: PgPool) {
    let (bench, eve, path) = given(&pool).await;
    let level = json!({"characteristic": bench.levels[0], "code": "AG-1"});
    let group = json!({"name": "Fell and Tarn", "laboratory": "Laboratory 17", "url": "http://127.0.0.1:9/",
                       "active": true, "since": "2026-01-01T00:00:00Z", "levels": [level]});
    let without = json!({"version": 1, "group": group});
    let (status, wrong) = read(eve.put(&path, without.clone()).await).await;
    assert_eq!((status, &wrong["params"]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("token")));
    let mut with = without;
    with["token"] = json!("very-secret-token");
    assert_eq!(eve.put(&path, with).await.status(), StatusCode::NO_CONTENT);
    let listed = eve.get("/api/peers").await.text().await.unwrap();
    let trail = eve.get("/api/trail").await.text().await.unwrap();
    assert!(listed.contains("http://127.0.0.1:9/") && trail.contains("http://127.0.0.1:9/"));
    assert!(!listed.contains("very-secret-token") && !trail.contains("very-secret-token"));
}

#[sqlx::test]
async fn a_file_holds_what_would_be_sent(pool: PgPool) {
    let (_bench, eve, path) = given(&pool).await;
    let (_, file) = read(eve.get(&format!("{path}/results.json?waiting=true")).await).await;
    assert_eq!(file["laboratory"], "Laboratory 17");
    let results = file["results"].as_array().unwrap();
    let told: Vec<_> = results.iter().map(|it| (&it["code"], &it["value"], &it["revision"], &it["unit"])).collect();
    let (one, kind) = (json!(1), json!("mg/kg"));
    assert!(told.contains(&(&json!("AG-1"), &json!(10.2), &one, &kind)), "{told:?}");
    assert!(told.contains(&(&json!("AG-2"), &json!(101.5), &one, &kind)), "{told:?}");
    let csv = eve.get(&format!("{path}/results.csv?waiting=true")).await.text().await.unwrap();
    let lines: Vec<&str> = csv.split("\r\n").collect();
    assert_eq!(lines[0], "laboratory,id,revision,code,withdrawn,value,unit,taken_at,reagent_lot,control_lot");
    assert!(lines.iter().any(|line| line.contains(",1,AG-1,,10.2,mg/kg,") && line.contains(",R-1,")), "{csv}");
    let handed: Vec<Value> = results.iter().map(|it| json!({"id": it["id"], "revision": it["revision"]})).collect();
    let (_, kept) = read(eve.post(&format!("{path}/handed-over"), json!(handed)).await).await;
    assert_eq!(kept["results"], 2);
    let (_, file) = read(eve.get(&format!("{path}/results.json?waiting=true")).await).await;
    assert_eq!(file["results"], json!([]));
}

#[rstest]
#[case::json(r#"{"statistics": [{"code": "AG-1", "month": "2026-03", "n": 600, "mean": 9.9, "sd": 1.1}]}"#)]
#[case::csv("code,month,n,mean,sd,reagent_lot\nAG-1,2026-03,600,9.9,1.1,\n")]
#[case::a_sheet_with_decimal_commas("\u{feff}month;code;mean;sd;n;laboratories\r\n2026-03;AG-1;9,9;1,1;600;24\r\n")]
#[sqlx::test]
async fn statistics_are_read_from_a_file(#[ignore] pool: PgPool, #[case] text: &str) {
    let (_bench, eve, path) = given(&pool).await;
    let (status, taken) = read(eve.post(&format!("{path}/statistics"), json!({"text": text})).await).await;
    assert_eq!((status, &taken["changed"]), (StatusCode::OK, &json!(1)), "{taken}");
    let kept: (f64, f64, i64) =
        sqlx::query_as("select mean, sd, n from peer_statistic").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, (9.9, 1.1, 600));
}

#[rstest]
#[case::no_json("{\"statistics\": [", "statistics_unreadable")]
#[case::no_month("code,month,n,mean,sd\nAG-1,March,600,9.9,1.1\n", "statistics_unreadable")]
#[case::no_such_column("code,month,n,mean\nAG-1,2026-03,600,9.9\n", "statistics_unreadable")]
#[case::not_a_table("\u{1}\u{2}", "")]
#[case::an_unknown_level("code,month,n,mean,sd\nAG-1,2026-03,600,9.9,1\nAG-7,2026-03,600,9,1\n", "statistics_refused")]
#[case::no_scatter("code,month,n,mean,sd\nAG-1,2026-03,600,9.9,0\n", "statistics_refused")]
#[case::endless("code,month,n,mean,sd\nAG-1,2026-03,600,1e999,1\n", "statistics_refused")]
#[sqlx::test]
async fn a_file_that_does_not_fit_changes_nothing(#[ignore] pool: PgPool, #[case] text: &str, #[case] code: &str) {
    let (_bench, eve, path) = given(&pool).await;
    let (status, answer) = read(eve.post(&format!("{path}/statistics"), json!({"text": text})).await).await;
    // A file without rows tells nothing.
    if code.is_empty() {
        assert_eq!((status, &answer["changed"]), (StatusCode::OK, &json!(0)), "{answer}");
    } else {
        assert_eq!((status, &answer["code"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(code)), "{answer}");
    }
    let kept: i64 = sqlx::query_scalar("select count(*) from peer_statistic").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 0);
}

#[sqlx::test]
async fn a_result_is_taken_back_with_a_reason(pool: PgPool) {
    let (_bench, eve, path) = given(&pool).await;
    let (_, results) = read(eve.get(&format!("{path}/results")).await).await;
    let result = results[0]["id"].as_str().unwrap();
    let withdrawal = format!("{path}/results/{result}/withdrawal");
    let (status, wrong) = read(eve.post(&withdrawal, json!({"because": " "})).await).await;
    assert_eq!((status, &wrong["params"]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("because")));
    assert_eq!(eve.post(&withdrawal, json!({"because": "Spilt"})).await.status(), StatusCode::NO_CONTENT);
    let (_, results) = read(eve.get(&format!("{path}/results")).await).await;
    let back = results.as_array().unwrap().iter().find(|it| it["id"] == result).unwrap();
    assert_eq!((&back["state"], &back["withdrawn_because"]), (&json!("withdrawn"), &json!("Spilt")));
    let (_, beside) = read(eve.get(&format!("{path}/comparison?months=0")).await).await;
    let lots: usize = beside.as_array().unwrap().iter().map(|level| level["lots"].as_array().unwrap().len()).sum();
    assert_eq!(lots, 1);
    let far = read(eve.get(&format!("{path}/comparison?months=121")).await).await;
    assert_eq!((far.0, &far.1["params"]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("months")));
}
