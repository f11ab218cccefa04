//! Reports as files, over the network, read back by other readers.

use std::io::Cursor;

use calamine::{Data, Reader, Xlsx};
use reqwest::StatusCode;
use rstest::rstest;
use serde_json::json;
use sqlx::PgPool;

use crate::common::{self, Visitor, read, start};

const PERIOD: &str = "from=2020-01-01T00:00:00Z&until=2100-01-01T00:00:00Z";

#[rstest]
#[case::episodes("episodes", "action")]
#[case::points("points", "actions")]
#[case::reviews("reviews", "remark")]
#[sqlx::test]
async fn a_report_is_one_table_in_every_form(#[ignore] pool: PgPool, #[case] kind: &str, #[case] column: &str) {
    let (server, site) = start(&pool).await;
    let episode = common::save_wall(&pool, &site, 0, 5.9).await.asking[0];
    let (tess, sue) = (Visitor::signed_in(&server, "tess").await, Visitor::signed_in(&server, "sue").await);
    let answer = json!({"version": 1, "nothing_found": true, "action": "=SUM(A1:A9) looked"});
    let (status, said) = read(tess.post(&format!("/api/episodes/{episode}/answers"), answer).await).await;
    assert!(status.is_success(), "{said}");
    let review = json!({"version": 2, "decision": "sent_back", "remark": "Which, exactly?"});
    assert!(sue.post(&format!("/api/episodes/{episode}/reviews"), review).await.status().is_success());
    let asked = format!("report={kind}&{PERIOD}&station={}", site.station);
    let (_, report) = read(sue.get(&format!("/api/report?{asked}")).await).await;
    assert_eq!(report["lines"][kind].as_array().unwrap().len(), 1, "{report}");
    let csv = sue.get(&format!("/api/report.csv?{asked}")).await;
    assert_eq!(csv.headers()["content-disposition"], "attachment; filename=\"report.csv\"");
    let csv = csv.bytes().await.unwrap();
    let mut reader = csv::Reader::from_reader(csv.as_ref());
    let place = reader.headers().unwrap().iter().position(|name| name == column).unwrap();
    let expected = match kind {
        "episodes" => "'=SUM(A1:A9) looked",
        "points" => "tess: =SUM(A1:A9) looked",
        _ => "Which, exactly?",
    };
    assert_eq!(&reader.records().next().unwrap().unwrap()[place], expected);
    let sheet = sue.get(&format!("/api/report.xlsx?{asked}")).await.bytes().await.unwrap();
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(sheet.to_vec())).unwrap();
    let table = book.worksheet_range("Report").unwrap();
    let column = u32::try_from(place).unwrap();
    let expected = expected.strip_prefix('\'').unwrap_or(expected);
    assert_eq!(table.get_value((1, column)), Some(&Data::String(expected.into())));
    let about = book.worksheet_range("About").unwrap();
    let said: Vec<String> = about.rows().flatten().map(ToString::to_string).collect();
    for part in ["Casting line 9", "sue", "digest of the seal (SHA-256)"] {
        assert!(said.iter().any(|cell| cell == part), "{part} in {said:?}");
    }
}

#[rstest]
#[case("report=episodes&from=2026-02-01T00:00:00Z&until=2026-01-01T00:00:00Z", 422, "field_refused")]
#[case("report=gossip&from=2026-01-01T00:00:00Z&until=2026-02-01T00:00:00Z", 400, "malformed")]
#[case("report=episodes&from=yesterday&until=2026-02-01T00:00:00Z", 400, "malformed")]
#[case("report=episodes", 400, "malformed")]
#[sqlx::test]
async fn what_cannot_be_asked_for_is_said(
    #[ignore] pool: PgPool,
    #[case] asked: &str,
    #[case] status: u16,
    #[case] code: &str,
) {
    let (server, _) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    for form in ["", ".csv", ".xlsx"] {
        let (found, problem) = read(tess.get(&format!("/api/report{form}?{asked}")).await).await;
        assert_eq!((found, problem["code"].as_str()), (StatusCode::from_u16(status).unwrap(), Some(code)), "{form}");
    }
}
