//! What an administrator does with accounts, over the network, as those concerned notice it.

use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{PASSWORD, Visitor, read, start};

fn account(name: &str, role: &str) -> Value {
    json!({"name": name, "role": role, "areas": [], "stations": [], "bound": false})
}

/// Adds somebody; gives who and their first password.
async fn add(ann: &Visitor, login: &str, account: Value) -> (Uuid, String) {
    let (status, added) = read(ann.post("/api/accounts", json!({"login": login, "account": account})).await).await;
    assert_eq!(status, StatusCode::CREATED, "{added}");
    (added["person"].as_str().unwrap().parse().unwrap(), added["password"].as_str().unwrap().to_owned())
}

async fn account_of(ann: &Visitor, person: Uuid) -> Value {
    let (_, all) = read(ann.get("/api/accounts").await).await;
    all.as_array().unwrap().iter().find(|one| one["id"] == json!(person)).unwrap().clone()
}

async fn code(response: reqwest::Response) -> (u16, String) {
    let (status, body) = read(response).await;
    (status.as_u16(), body["code"].as_str().unwrap_or_default().to_owned())
}

#[sqlx::test]
async fn a_first_password_opens_nothing_but_the_choice_of_ones_own(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let ann = Visitor::signed_in(&server, "ann").await;
    let (nora, first) = add(&ann, " Nora ", account("Nora Newly", "technician")).await;
    let visitor = Visitor::new(&server);
    let (status, who) = read(visitor.sign_in("nora", &first).await).await;
    assert_eq!((status, &who["password_is_first"]), (StatusCode::OK, &json!(true)));
    assert_eq!(code(visitor.get("/api/rounds").await).await, (403, "password_to_choose".into()));
    let choose = |new: &str| visitor.put("/api/me/password", json!({"password": first, "new": new}));
    for refused in ["short", "password12345", "nora-in-the-mill", &first] {
        assert_eq!(code(choose(refused).await).await, (422, "field_refused".into()), "{refused}");
    }
    let (status, who) = read(choose("seven brown kettles").await).await;
    assert_eq!((status, &who["password_is_first"]), (StatusCode::OK, &json!(false)));
    assert_eq!(visitor.get("/api/rounds").await.status(), StatusCode::OK);
    assert_eq!(Visitor::new(&server).sign_in("nora", &first).await.status(), StatusCode::UNAUTHORIZED);
    assert_eq!(Visitor::new(&server).sign_in("nora", "seven brown kettles").await.status(), StatusCode::OK);
    let told: Vec<String> = sqlx::query_scalar("select action from trail where object = $1 order by position")
        .bind(nora)
        .fetch_all(&pool)
        .await
        .unwrap();
    let deeds: Vec<&str> = told.iter().map(String::as_str).filter(|deed| !deed.starts_with("sign")).collect();
    assert_eq!(deeds, ["person_added", "password_changed"]);
    let secrets: i64 = sqlx::query_scalar("select count(*) from trail where detail like '%' || $1 || '%'")
        .bind(&first)
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(secrets, 0);
}

#[sqlx::test]
async fn choosing_a_password_ends_ones_other_sessions(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let (here, there) = (Visitor::signed_in(&server, "tess").await, Visitor::signed_in(&server, "tess").await);
    let wrong = here.put("/api/me/password", json!({"password": "guess", "new": "seven brown kettles"})).await;
    assert_eq!(code(wrong).await, (401, "wrong_sign_in".into()));
    let chosen = here.put("/api/me/password", json!({"password": PASSWORD, "new": "seven brown kettles"})).await;
    assert_eq!(chosen.status(), StatusCode::OK);
    assert_eq!(here.get("/api/rounds").await.status(), StatusCode::OK);
    assert_eq!(there.get("/api/rounds").await.status(), StatusCode::UNAUTHORIZED);
}

#[sqlx::test]
async fn an_account_is_closed_and_opened_again_with_its_history(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let ann = Visitor::signed_in(&server, "ann").await;
    let tess = Visitor::signed_in(&server, "tess").await;
    tess.put("/api/me/pin", json!({"password": PASSWORD, "pin": "2580"})).await;
    tess.put("/api/me/badge", json!({"password": PASSWORD, "badge": "TESSCARD1"})).await;
    tess.enter(site.wall, &["5", "5", "5"]).await;
    let path = format!("/api/accounts/{}", site.technician);
    assert_eq!(ann.post(&format!("{path}/closing"), Value::Null).await.status(), StatusCode::NO_CONTENT);
    assert_eq!(code(ann.post(&format!("{path}/closing"), Value::Null).await).await, (409, "changed".into()));
    assert_eq!(tess.get("/api/rounds").await.status(), StatusCode::UNAUTHORIZED);
    assert_eq!(tess.sign_in("tess", PASSWORD).await.status(), StatusCode::UNAUTHORIZED);
    let shown = json!({"person": site.technician, "pin": "2580"});
    assert_eq!(code(tess.post("/api/terminal", shown).await).await, (401, "unknown_here".into()));
    // The badge is free for somebody else.
    let sue = Visitor::signed_in(&server, "sue").await;
    let badge = sue.put("/api/me/badge", json!({"password": PASSWORD, "badge": "TESSCARD1"})).await;
    assert_eq!(badge.status(), StatusCode::NO_CONTENT);
    let (_, chart) = read(sue.get(&format!("/api/characteristics/{}/chart", site.wall)).await).await;
    assert!(chart.to_string().contains("\"tess\""), "who entered it is still named");
    let closed = account_of(&ann, site.technician).await;
    assert_eq!((&closed["active"], &closed["has_pin"], &closed["sessions"]), (&json!(false), &json!(false), &json!(0)));
    for step in ["password", "pin", "sessions"] {
        let method = if step == "password" { "POST" } else { "DELETE" };
        let response = ann.without_body(method, &format!("{path}/{step}")).await;
        assert_eq!(code(response).await, (404, "missing".into()), "{step}");
    }
    let (_, opened) = read(ann.post(&format!("{path}/reopening"), Value::Null).await).await;
    let (status, who) = read(tess.sign_in("tess", opened["password"].as_str().unwrap()).await).await;
    assert_eq!((status, &who["password_is_first"]), (StatusCode::OK, &json!(true)));
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert!(report.findings.is_empty(), "{:?}", report.findings);
}

#[rstest]
#[case::given_a_password("POST", "password", StatusCode::OK)]
#[case::sessions_ended("DELETE", "sessions", StatusCode::NO_CONTENT)]
#[sqlx::test]
async fn sessions_end_with(
    #[ignore] pool: PgPool,
    #[case] method: &str,
    #[case] step: &str,
    #[case] expected: StatusCode,
) {
    let (server, site) = start(&pool).await;
    let (ann, tess) = (Visitor::signed_in(&server, "ann").await, Visitor::signed_in(&server, "tess").await);
    assert_eq!(account_of(&ann, site.technician).await["sessions"], 1);
    let done = ann.without_body(method, &format!("/api/accounts/{}/{step}", site.technician)).await;
    assert_eq!(done.status(), expected);
    assert_eq!(tess.get("/api/rounds").await.status(), StatusCode::UNAUTHORIZED);
    let password_holds = tess.sign_in("tess", PASSWORD).await.status() == StatusCode::OK;
    assert_eq!(password_holds, step == "sessions");
}

#[sqlx::test]
async fn a_pin_is_taken_away_with_the_badge(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let (ann, tess) = (Visitor::signed_in(&server, "ann").await, Visitor::signed_in(&server, "tess").await);
    tess.put("/api/me/pin", json!({"password": PASSWORD, "pin": "2580"})).await;
    let shown = json!({"person": site.technician, "pin": "2580"});
    assert_eq!(tess.post("/api/terminal", shown.clone()).await.status(), StatusCode::OK);
    assert_eq!(account_of(&ann, site.technician).await["has_pin"], true);
    let taken = ann.without_body("DELETE", &format!("/api/accounts/{}/pin", site.technician)).await;
    assert_eq!(taken.status(), StatusCode::NO_CONTENT);
    assert_eq!(code(tess.post("/api/terminal", shown).await).await, (401, "unknown_here".into()));
}

#[sqlx::test]
async fn an_account_is_changed_on_what_was_seen(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let ann = Visitor::signed_in(&server, "ann").await;
    let path = format!("/api/accounts/{}", site.other_technician);
    let mut new = account("Tom Turner", "supervisor");
    new["stations"] = json!([site.station]);
    let change = |version: i32, account: &Value| ann.put(&path, json!({"version": version, "account": account}));
    assert_eq!(change(1, &new).await.status(), StatusCode::NO_CONTENT);
    assert_eq!(code(change(1, &new).await).await, (409, "changed".into()));
    let seen = account_of(&ann, site.other_technician).await;
    assert_eq!((&seen["name"], &seen["role"]), (&json!("Tom Turner"), &json!("supervisor")));
    assert_eq!(seen["stations"], json!([site.station]));
    let (_, who) = read(Visitor::new(&server).sign_in("tom", PASSWORD).await).await;
    assert_eq!(who["stations"], json!([site.station]));
    assert!(who["may"].as_array().unwrap().contains(&json!("review_signal")));
    new["areas"] = json!([Uuid::from_u128(7)]);
    assert_eq!(code(change(2, &new).await).await, (404, "missing".into()));
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert!(report.findings.is_empty(), "{:?}", report.findings);
    // Who belongs where is told to the trail as well: a place given behind its back is found.
    sqlx::query("delete from belonging").execute(&pool).await.unwrap();
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert_eq!(report.findings.len(), 1, "{:?}", report.findings);
}

#[sqlx::test]
async fn somebody_is_always_left_to_look_after_people(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let ann = Visitor::signed_in(&server, "ann").await;
    let (_, who) = read(ann.get("/api/session").await).await;
    let own = format!("/api/accounts/{}", who["id"].as_str().unwrap());
    let resign = json!({"version": 1, "account": account("Ann", "engineer")});
    assert_eq!(code(ann.put(&own, resign.clone()).await).await, (409, "last_administrator".into()));
    assert_eq!(code(ann.post(&format!("{own}/closing"), Value::Null).await).await, (409, "last_administrator".into()));
    let (other, _) = add(&ann, "art", account("Art", "administrator")).await;
    // Both at once: one of them stays.
    let closing = [format!("{own}/closing"), format!("/api/accounts/{other}/closing")];
    let (first, second) = futures::join!(ann.post(&closing[0], Value::Null), ann.post(&closing[1], Value::Null));
    let closed = [first.status(), second.status()].iter().filter(|status| status.is_success()).count();
    assert_eq!(closed, 1);
}
