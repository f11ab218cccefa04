//! Everything that came in, over the network.

use rstest::rstest;
use sqlx::PgPool;

use crate::common::{self, Visitor, read, start};

#[sqlx::test]
async fn samples_are_listed_with_what_they_recorded_and_what_became_of_them(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let clean = common::save_wall(&pool, &site, 0, 5.0).await;
    let flagged = common::save_wall(&pool, &site, 1, 5.9).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let (status, all) = read(tess.get("/api/samples").await).await;
    assert!(status.is_success(), "{all}");
    let ids: Vec<&str> = all.as_array().unwrap().iter().filter_map(|line| line["sample"].as_str()).collect();
    assert_eq!(ids, [flagged.sample.to_string(), clean.sample.to_string()]);
    assert_eq!(all[0]["content"]["readings"]["values"][1], 5.9);
    assert_eq!((&all[0]["episode"]["state"], &all[1]["episode"]), (&"open".into(), &serde_json::Value::Null));
    let (_, rest) = read(tess.get(&format!("/api/samples?behind={}", flagged.sample)).await).await;
    assert_eq!(rest[0]["sample"], clean.sample.to_string());
    assert_eq!(rest.as_array().unwrap().len(), 1);
    let (_, flagged_alone) = read(tess.get("/api/samples?became=flagged").await).await;
    assert_eq!(flagged_alone.as_array().unwrap().len(), 1);
}

#[rstest]
#[case::no_such_outcome("became=lost", 400, "malformed")]
#[case::no_such_field("colour=red", 400, "malformed")]
#[case::behind_nothing("behind=00000000-0000-0000-0000-000000000001", 404, "missing")]
#[case::a_zero_character("became=%00", 422, "zero_character")]
#[sqlx::test]
async fn what_cannot_be_asked_is_refused(
    #[ignore] pool: PgPool,
    #[case] asked: &str,
    #[case] status: u16,
    #[case] code: &str,
) {
    let (server, _) = start(&pool).await;
    let (found, said) =
        read(Visitor::signed_in(&server, "sue").await.get(&format!("/api/samples?{asked}")).await).await;
    assert_eq!((found.as_u16(), said["code"].as_str()), (status, Some(code)), "{said}");
}
