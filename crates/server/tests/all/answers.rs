//! Answers over the network: files that cannot run, what is sent twice, causes, and signatures by password and PIN.

use reqwest::{Response, StatusCode};
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{self, PASSWORD, Site, Visitor, read, save_wall, start};

const PNG: &[u8] = b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\0\x01\0\0\0\x01\x08\x06\0\0\0";

async fn send(visitor: &Visitor, server: &common::Server, id: Uuid, name: &str, content: Vec<u8>) -> Response {
    let url = format!("{}/api/files/{id}?name={name}", server.url);
    visitor.client.put(url).header("content-type", "application/octet-stream").body(content).send().await.unwrap()
}

#[rstest]
#[case::a_page(b"<!doctype html><script>alert(1)</script>".to_vec(), 422)]
#[case::a_drawing_that_can_run(b"<svg xmlns='http://www.w3.org/2000/svg' onload='alert(1)'/>".to_vec(), 422)]
#[case::nothing(vec![], 422)]
#[case::too_large([PNG, &vec![0; 10 * 1024 * 1024]].concat(), 413)]
#[sqlx::test]
async fn what_is_no_picture_or_document_is_refused(
    #[ignore] pool: PgPool,
    #[case] content: Vec<u8>,
    #[case] status: u16,
) {
    let (server, _) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    assert_eq!(send(&tess, &server, Uuid::new_v4(), "die.png", content).await.status().as_u16(), status);
    let kept: i64 = sqlx::query_scalar("select count(*) from file").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 0);
}

#[sqlx::test]
async fn a_file_is_handed_out_to_be_kept_and_never_to_be_run(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let id = Uuid::new_v4();
    // What it claims to be by its name counts for nothing.
    let (status, kept) = read(send(&tess, &server, id, "die%20%22one%22.html", PNG.to_vec()).await).await;
    assert_eq!((status, &kept["kind"]), (StatusCode::OK, &json!("png")));
    let sue = Visitor::signed_in(&server, "sue").await;
    assert_eq!(sue.get(&format!("/api/files/{id}")).await.status(), StatusCode::NOT_FOUND);
    let episode = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    let body = json!({"version": 1, "nothing_found": true, "action": "Looked.", "files": [id]});
    assert_eq!(tess.post(&format!("/api/episodes/{episode}/answers"), body).await.status(), StatusCode::OK);
    let served = sue.get(&format!("/api/files/{id}")).await;
    let header = |name: &str| served.headers()[name].to_str().unwrap().to_owned();
    assert_eq!(header("content-type"), "image/png");
    assert_eq!(header("content-disposition"), "attachment; filename*=UTF-8''die%20%22one%22.html");
    assert_eq!(header("content-security-policy"), "default-src 'none'; sandbox");
    assert_eq!(header("x-content-type-options"), "nosniff");
    assert_eq!(served.bytes().await.unwrap(), PNG);
    let nobody = Visitor::new(&server);
    assert_eq!(nobody.get(&format!("/api/files/{id}")).await.status(), StatusCode::UNAUTHORIZED);
}

#[sqlx::test]
async fn an_answer_that_waited_is_kept_once_with_its_own_time(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let episode = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    let path = format!("/api/episodes/{episode}/answers");
    let at = (chrono::Utc::now() - chrono::Duration::minutes(5)).to_rfc3339();
    let body = json!({"version": 1, "nothing_found": true, "action": "Looked.", "entry": Uuid::from_u128(5), "at": at});
    for _ in 0..2 {
        let (status, view) = read(tess.post(&path, body.clone()).await).await;
        assert_eq!((status, view["answers"].as_array().unwrap().len()), (StatusCode::OK, 1));
        let given: chrono::DateTime<chrono::Utc> = view["answers"][0]["at"].as_str().unwrap().parse().unwrap();
        assert!((chrono::Utc::now() - given).num_minutes() >= 5, "{given}");
    }
    let future = json!({"version": 2, "nothing_found": true, "action": "Looked.", "at": "2999-01-01T00:00:00Z"});
    let (status, problem) = read(tess.post(&path, future).await).await;
    assert_eq!((status.as_u16(), &problem["code"]), (422, &json!("from_the_future")));
}

#[sqlx::test]
async fn a_cause_is_added_once_and_changed_on_what_was_seen(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let new = json!({"name": "Ram packing leaks", "group": "machine"});
    let (status, created) = read(eve.post("/api/causes", new.clone()).await).await;
    assert_eq!(status, StatusCode::CREATED);
    let (status, taken) = read(eve.post("/api/causes", new).await).await;
    assert_eq!((status.as_u16(), &taken["code"]), (409, &json!("taken")));
    let path = format!("/api/causes/{}", created["id"].as_str().unwrap());
    let retire = json!({"version": 1, "group": "machine", "state": "retired"});
    assert_eq!(eve.put(&path, retire.clone()).await.status(), StatusCode::NO_CONTENT);
    let (status, changed) = read(eve.put(&path, retire).await).await;
    assert_eq!((status.as_u16(), &changed["code"]), (409, &json!("changed")));
    let area = json!({"version": 2, "group": "machine", "state": "in_use", "area": Uuid::nil()});
    let (status, missing) = read(eve.put(&path, area).await).await;
    assert_eq!((status.as_u16(), &missing["params"]["object"]), (404, &json!("area")));
    let (_, offered) = read(eve.get("/api/causes").await).await;
    assert!(!offered.as_array().unwrap().iter().any(|cause| cause["name"] == "Ram packing leaks"));
}

/// A decision of Sue's that is not signed.
async fn decided(pool: &PgPool, site: &Site, tess: &Visitor, sue: &Visitor) -> Value {
    let episode = save_wall(pool, site, 0, 5.9).await.asking[0];
    let answer = json!({"version": 1, "nothing_found": true, "action": "Looked."});
    tess.post(&format!("/api/episodes/{episode}/answers"), answer).await;
    let review = json!({"version": 2, "decision": "accepted"});
    assert_eq!(sue.post(&format!("/api/episodes/{episode}/reviews"), review).await.status(), StatusCode::OK);
    let (_, unsigned) = read(sue.get("/api/reviews/unsigned").await).await;
    json!([{"review": unsigned[0]["review"], "digest": unsigned[0]["digest"]}])
}

#[sqlx::test]
async fn a_signature_takes_the_password_or_the_pin_of_whoever_signs(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (tess, sue) = (Visitor::signed_in(&server, "tess").await, Visitor::signed_in(&server, "sue").await);
    let reviews = decided(&pool, &site, &tess, &sue).await;
    let sign = async |by: Value| read(sue.post("/api/signatures", json!({"by": by, "reviews": reviews})).await).await;
    let (status, wrong) = sign(json!({"password": "guess"})).await;
    assert_eq!((status.as_u16(), &wrong["code"]), (401, &json!("wrong_sign_in")));
    // She has no PIN yet.
    let (status, unknown) = sign(json!({"pin": "2580"})).await;
    assert_eq!((status.as_u16(), &unknown["code"]), (401, &json!("unknown_here")));
    let pin = sue.put("/api/me/pin", json!({"password": PASSWORD, "pin": "2580"})).await;
    assert_eq!(pin.status(), StatusCode::NO_CONTENT);
    let (status, wrong) = sign(json!({"pin": "0852"})).await;
    assert_eq!((status.as_u16(), &wrong["code"]), (401, &json!("wrong_pin")));
    let (status, signature) = sign(json!({"pin": "2580"})).await;
    assert_eq!((status, &signature["covers"][0]["changed"]), (StatusCode::CREATED, &json!([])));
    let (status, again) = sign(json!({"password": PASSWORD})).await;
    assert_eq!((status.as_u16(), &again["code"]), (409, &json!("changed")));
    // Everybody may look at it.
    let id = signature["id"].as_str().unwrap();
    let (status, seen) = read(tess.get(&format!("/api/signatures/{id}")).await).await;
    assert_eq!((status, &seen["name"]), (StatusCode::OK, &json!("sue")));
}
