//! Samples handed out by the interface: what each shape holds, and that it comes in again.

use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;

use crate::common::{Server, Site, Visitor, read, start};

/// Wall thickness of three pieces, brought in: forty samples, of which one breaks a rule.
async fn with_samples(pool: &PgPool) -> (Server, Site, Visitor) {
    let (server, site) = start(pool).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let row = |i: i64| format!("2026-01-05 06:{i:02},{},5.0{},5.02\n", if i == 3 { "6.9" } else { "5.01" }, i % 7);
    let table = (0..40).fold("taken,x1,x2,x3\n".to_owned(), |table, i| table + &row(i));
    let recipe = json!({"read": {"format": "csv"}, "shape": {"kind": "across", "values": ["x1", "x2", "x3"]},
                        "time": {"column": "taken", "format": "%Y-%m-%d %H:%M"}});
    bring_in(&eve, "wall.csv", table.into_bytes(), (&recipe, site.wall)).await;
    (server, site, eve)
}

async fn bring_in(eve: &Visitor, name: &str, table: Vec<u8>, (recipe, into): (&Value, uuid::Uuid)) {
    let (_, file) = read(eve.send(&format!("/api/data/files?name={name}"), table).await).await;
    let asked = json!({"file": file["id"], "recipe": recipe, "characteristic": into, "without_tags": ["shift"]});
    let (status, made) = read(eve.post("/api/data/imports", asked).await).await;
    assert_eq!(status, StatusCode::CREATED, "{made}");
}

async fn readings(pool: &PgPool, of: uuid::Uuid) -> Vec<(chrono::DateTime<chrono::Utc>, Vec<f64>)> {
    sqlx::query_as("select taken_at, readings from sample where characteristic_id = $1 order by taken_at, number")
        .bind(of)
        .fetch_all(pool)
        .await
        .unwrap()
}

#[rstest]
#[sqlx::test]
async fn what_goes_out_comes_in_again(
    #[ignore] pool: PgPool,
    #[values("across", "grouped")] shape: &str,
    #[values("csv", "xlsx", "ods", "json")] format: &str,
) {
    let (_server, site, eve) = with_samples(&pool).await;
    let asked = format!("of={}&shape={shape}&as={format}&signals=true", site.wall);
    let table = eve.get(&format!("/api/data/samples?{asked}")).await;
    assert_eq!(table.status(), StatusCode::OK);
    assert!(table.headers()["content-disposition"].to_str().unwrap().ends_with(&format!(".{format}\"")));
    let table = table.bytes().await.unwrap().to_vec();
    let (_, recipes) = read(eve.get(&format!("/api/data/samples/recipes?{asked}")).await).await;
    let before = readings(&pool, site.wall).await;
    // Under another name it is another list: each sample is there twice.
    let name = format!("again.{format}");
    bring_in(&eve, &name, table, (&recipes[0]["recipe"], site.wall)).await;
    let after = readings(&pool, site.wall).await;
    let twice: Vec<_> = before.iter().flat_map(|one| [one.clone(), one.clone()]).collect();
    assert_eq!(after, twice);
}

#[sqlx::test]
async fn what_is_said_of_a_sample_stands_beside_it(pool: PgPool) {
    let (_server, site, eve) = with_samples(&pool).await;
    let asked = format!("of={}&shape=across&as=json&limits=true&signals=true&answers=true", site.wall);
    let (_, rows) = read(eve.get(&format!("/api/data/samples?{asked}")).await).await;
    let rows = rows.as_array().unwrap();
    let far = &rows[3];
    assert_eq!((rows.len(), &far["sample"], &far["reading_1"]), (40, &json!(4), &json!(6.9)));
    assert_eq!(
        (&far["mean_center"], &far["mean_flagged"], &far["taken_at"]),
        (&json!(5), &json!("flagged"), &json!("2026-01-05 06:03:00"))
    );
    assert!(far["signals"].as_str().unwrap().starts_with("mean beyond"), "{far}");
    // What was brought in counts as found late.
    assert!(far["signals_state"].as_str().unwrap().starts_with("found_late"), "{far}");
    assert_eq!(far["answers"], Value::Null);
    assert!(!rows[30]["signals"].as_str().unwrap().contains("beyond"), "{}", rows[30]);
    let few = format!("of={}&shape=across&as=json&last=5", site.wall);
    let (_, rows) = read(eve.get(&format!("/api/data/samples?{few}")).await).await;
    assert_eq!((rows.as_array().unwrap().len(), &rows[0]["sample"], &rows[0]["mean"]), (5, &json!(36), &Value::Null));
}

#[sqlx::test]
async fn several_characteristics_and_a_matrix(pool: PgPool) {
    let (_server, site, eve) = with_samples(&pool).await;
    let both = format!("of={},{}&shape=grouped&as=json", site.wall, site.viscosity);
    let (_, rows) = read(eve.get(&format!("/api/data/samples?{both}")).await).await;
    assert_eq!(rows.as_array().unwrap().len(), 120);
    assert!(rows[0]["characteristic"].as_str().unwrap().starts_with("Wall thickness, "), "{}", rows[0]);
    let (_, recipes) = read(eve.get(&format!("/api/data/samples/recipes?{both}")).await).await;
    assert_eq!(recipes[0]["recipe"]["where"][0]["is"][0], rows[0]["characteristic"]);
    let tags = "update sample set tags = jsonb_build_object('lot', 'K-' || number % 2, 'mould', 'M' || number % 5)";
    sqlx::query(tags).execute(&pool).await.unwrap();
    let matrix = format!("of={}&shape=crossed&rows=lot&columns=mould&cell=samples&as=json", site.wall);
    let (_, rows) = read(eve.get(&format!("/api/data/samples?{matrix}")).await).await;
    assert_eq!(rows[0], json!({"lot": "K-1", "M1": 4, "M2": 4, "M3": 4, "M4": 4, "M0": 4}), "{rows}");
    let some = format!("of={}&shape=across&as=json&tag=mould&value=M3", site.wall);
    let (_, rows) = read(eve.get(&format!("/api/data/samples?{some}")).await).await;
    assert_eq!((rows.as_array().unwrap().len(), &rows[0]["sample"]), (8, &json!(3)));
    let (_, recipes) = read(eve.get(&format!("/api/data/samples/recipes?{matrix}")).await).await;
    assert_eq!(recipes, json!([]));
}

#[rstest]
#[case::no_characteristic("of=&shape=across&as=csv", 422, "of")]
#[case::no_id("of=wall&shape=across&as=csv", 422, "of")]
#[case::matrix_without_tags("of=LEAKS&shape=crossed&rows=lot&as=csv", 422, "columns")]
#[case::counted("of=LEAKS&shape=grouped&as=csv", 422, "shape")]
#[sqlx::test]
async fn what_cannot_be_handed_out_is_refused(
    #[ignore] pool: PgPool,
    #[case] asked: &str,
    #[case] status: u16,
    #[case] field: &str,
) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let counted =
        json!({"entry": uuid::Uuid::new_v4(), "device": uuid::Uuid::new_v4(), "inspected": "50", "defects": []});
    tess.post(&format!("/api/characteristics/{}/samples", site.leaks), counted).await;
    let asked = asked.replace("LEAKS", &site.leaks.to_string());
    for what in ["samples", "samples/recipes"] {
        let (given, refused) = read(tess.get(&format!("/api/data/{what}?{asked}")).await).await;
        assert_eq!((given.as_u16(), &refused["code"]), (status, &json!("field_refused")), "{refused}");
        assert!(refused.to_string().contains(field), "{refused}");
    }
}
