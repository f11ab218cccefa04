//! Shared terminals: who can take one over, and how often they may try.

use reqwest::{Response, StatusCode};
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;

use crate::common::{PASSWORD, Visitor, read, start};

const PIN: &str = "2580";

async fn code(response: Response) -> (u16, Value) {
    let (status, problem) = read(response).await;
    (status.as_u16(), problem["code"].clone())
}

async fn sign_out(visitor: &Visitor) {
    assert_eq!(visitor.without_body("DELETE", "/api/session").await.status(), StatusCode::NO_CONTENT);
}

async fn with_pin(visitor: &Visitor) {
    let set = visitor.put("/api/me/pin", json!({"password": PASSWORD, "pin": PIN})).await;
    assert_eq!(set.status(), StatusCode::NO_CONTENT);
}

#[sqlx::test]
async fn two_people_take_turns_at_a_terminal_by_pin_and_badge(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let terminal = Visitor::signed_in(&server, "tess").await;
    with_pin(&terminal).await;
    sign_out(&terminal).await;
    terminal.sign_in("sue", PASSWORD).await;
    let set = terminal.put("/api/me/badge", json!({"password": PASSWORD, "badge": "04a9c1d7"})).await;
    assert_eq!(set.status(), StatusCode::NO_CONTENT);
    let (_, known) = read(terminal.get("/api/terminal").await).await;
    let seen: Vec<_> = known.as_array().unwrap().iter().map(|k| (k["name"].clone(), k["has_pin"].clone())).collect();
    assert_eq!(seen.len(), 2);
    assert!(seen.iter().any(|(_, has_pin)| has_pin == true) && seen.iter().any(|(_, has_pin)| has_pin == false));

    let taken = terminal.post("/api/terminal", json!({"person": site.technician, "pin": PIN})).await;
    assert_eq!(read(taken).await.1["login"], "tess");
    assert_eq!(read(terminal.get("/api/session").await).await.1["login"], "tess");
    let taken = terminal.post("/api/terminal", json!({"badge": "04A9C1D7"})).await;
    assert_eq!(read(taken).await.1["login"], "sue");
    assert_eq!(read(terminal.get("/api/session").await).await.1["login"], "sue");
}

#[sqlx::test]
async fn pin_and_badge_are_worth_nothing_where_the_person_never_signed_in(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let own = Visitor::signed_in(&server, "tess").await;
    with_pin(&own).await;
    own.put("/api/me/badge", json!({"password": PASSWORD, "badge": "04A9C1D7"})).await;
    let elsewhere = Visitor::signed_in(&server, "sue").await;
    for terminal in [elsewhere, Visitor::new(&server)] {
        for shown in [json!({"person": site.technician, "pin": PIN}), json!({"badge": "04A9C1D7"})] {
            assert_eq!(code(terminal.post("/api/terminal", shown).await).await, (401, json!("unknown_here")));
        }
    }
}

#[sqlx::test]
async fn after_five_wrong_pins_only_the_password_helps(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let terminal = Visitor::signed_in(&server, "tess").await;
    with_pin(&terminal).await;
    sign_out(&terminal).await;
    let try_pin = |pin: &'static str| terminal.post("/api/terminal", json!({"person": site.technician, "pin": pin}));
    for left in (0..5).rev() {
        let (status, problem) = read(try_pin("0852").await).await;
        assert_eq!((status.as_u16(), &problem["code"]), (401, &json!("wrong_pin")));
        assert_eq!(problem["params"]["tries_left"], left);
    }
    assert_eq!(code(try_pin(PIN).await).await, (401, json!("pin_blocked")));
    terminal.sign_in("tess", PASSWORD).await;
    assert_eq!(try_pin(PIN).await.status(), StatusCode::OK);
}

#[sqlx::test]
async fn wrong_pins_at_once_are_all_counted(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let terminal = Visitor::signed_in(&server, "tess").await;
    with_pin(&terminal).await;
    let tries = (0..12).map(|_| terminal.post("/api/terminal", json!({"person": site.technician, "pin": "0852"})));
    let mut blocked = 0;
    for response in futures::future::join_all(tries).await {
        blocked += usize::from(code(response).await.1 == "pin_blocked");
    }
    assert_eq!(blocked, 7);
}

/// One's own badge in between does not help: it takes back one's own try, not the guesses.
#[sqlx::test]
async fn badges_cannot_be_guessed_one_after_another(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let terminal = Visitor::signed_in(&server, "tess").await;
    let own = json!({"badge": "04A9C1D7"});
    let set = terminal.put("/api/me/badge", json!({"password": PASSWORD, "badge": "04A9C1D7"})).await;
    assert_eq!(set.status(), StatusCode::NO_CONTENT);
    for n in 0..5 {
        let shown = json!({"badge": format!("BADGE00{n}")});
        assert_eq!(code(terminal.post("/api/terminal", shown).await).await, (401, json!("unknown_here")));
        if n < 4 {
            assert_eq!(terminal.post("/api/terminal", own.clone()).await.status(), StatusCode::OK);
        }
    }
    let mut heard = 0;
    for n in 5..60 {
        let shown = json!({"badge": format!("BADGE{n:03}")});
        heard += usize::from(code(terminal.post("/api/terminal", shown).await).await.0 == 401);
    }
    assert!(heard <= 3, "{heard} more guesses were heard");
    let told: i64 = sqlx::query_scalar("select count(*) from trail where action = 'sign_in_failed'")
        .fetch_one(&pool)
        .await
        .unwrap();
    assert!(told >= 5, "failed tries stand in the trail");
}

#[sqlx::test]
async fn whether_a_badge_is_taken_cannot_be_asked_at_will(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let sue = Visitor::signed_in(&server, "sue").await;
    sue.put("/api/me/badge", json!({"password": PASSWORD, "badge": "SUE1CARD"})).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    for _ in 0..5 {
        let asked = tess.put("/api/me/badge", json!({"password": PASSWORD, "badge": "SUE1CARD"})).await;
        assert_eq!(code(asked).await, (409, json!("taken")));
    }
    let asked = tess.put("/api/me/badge", json!({"password": PASSWORD, "badge": "SUE1CARD"})).await;
    assert_eq!(code(asked).await, (429, json!("too_many_tries")));
}

#[rstest]
#[case::simple("/api/me/pin", json!({"password": PASSWORD, "pin": "1234"}), (422, "field_refused"))]
#[case::not_the_password("/api/me/pin", json!({"password": "guess", "pin": PIN}), (401, "wrong_sign_in"))]
#[case::no_badge("/api/me/badge", json!({"password": PASSWORD, "badge": "a-1"}), (422, "field_refused"))]
#[case::short_badge("/api/me/badge", json!({"password": PASSWORD, "badge": "04A9C1D"}), (422, "field_refused"))]
#[case::counted_up("/api/me/badge", json!({"password": PASSWORD, "badge": "12345678"}), (422, "field_refused"))]
#[case::somebody_elses("/api/me/badge", json!({"password": PASSWORD, "badge": "sue1card"}), (409, "taken"))]
#[sqlx::test]
async fn a_pin_or_badge_is_refused(
    #[ignore] pool: PgPool,
    #[case] path: &str,
    #[case] body: Value,
    #[case] refused: (u16, &str),
) {
    let (server, _) = start(&pool).await;
    let sue = Visitor::signed_in(&server, "sue").await;
    sue.put("/api/me/badge", json!({"password": PASSWORD, "badge": "SUE1CARD"})).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    assert_eq!(code(tess.put(path, body).await).await, (refused.0, json!(refused.1)));
}
