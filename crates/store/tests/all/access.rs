//! Sessions and the count of tries, as several instances share them.

use chrono::{DateTime, Duration, SubsecRound, Utc};
use serde_json::json;
use sqlx::PgPool;
use store::access::{
    Try, begin_session, begin_try, end_expired_sessions, end_session, save_session, session, try_fitted,
};

fn now() -> DateTime<Utc> {
    Utc::now().trunc_subsecs(6)
}

#[sqlx::test]
async fn a_session_begins_once_is_kept_up_and_ends(pool: PgPool) {
    let (now, later) = (now(), now() + Duration::hours(1));
    assert!(begin_session(&pool, b"token", &json!({"person": 1}), later).await.unwrap());
    assert!(!begin_session(&pool, b"token", &json!({"person": 2}), later).await.unwrap(), "a token is nobody else's");
    save_session(&pool, b"token", &json!({"person": 3}), later).await.unwrap();
    assert_eq!(session(&pool, b"token", now).await.unwrap(), Some((json!({"person": 3}), later)));
    end_session(&pool, b"token").await.unwrap();
    assert_eq!(session(&pool, b"token", now).await.unwrap(), None);
    save_session(&pool, b"token", &json!({}), later).await.unwrap();
    assert_eq!(session(&pool, b"token", now).await.unwrap(), None, "what was ended stays ended");
}

#[sqlx::test]
async fn an_expired_session_is_none_and_is_cleared_away(pool: PgPool) {
    let now = now();
    begin_session(&pool, b"old", &json!({}), now).await.unwrap();
    begin_session(&pool, b"new", &json!({}), now + Duration::seconds(1)).await.unwrap();
    assert_eq!(session(&pool, b"old", now).await.unwrap(), None);
    assert_eq!(end_expired_sessions(&pool, now).await.unwrap(), 1);
    assert!(session(&pool, b"new", now).await.unwrap().is_some());
}

async fn heard(pool: &PgPool, name: &str, place: &str, at: DateTime<Utc>) -> Result<i64, Duration> {
    match begin_try(pool, name, place, at).await.unwrap() {
        Try::Heard(id) => Ok(id),
        Try::Wait(wait) => Err(wait),
    }
}

#[sqlx::test]
async fn tries_count_by_name_and_place_and_are_forgotten_in_time(pool: PgPool) {
    let start = now();
    let at = |seconds: i64| start + Duration::seconds(seconds);
    for i in 0..5 {
        assert!(heard(&pool, "tess", "10.0.0.1", at(i)).await.is_ok(), "try {i}");
    }
    // The fifth was at 4: a second later the next is heard, whatever the case of the name.
    let early = at(4) + Duration::milliseconds(300);
    assert_eq!(heard(&pool, "TESS", "10.0.0.1", early).await, Err(Duration::milliseconds(700)));
    assert!(heard(&pool, "tess", "10.0.0.2", early).await.is_ok(), "another place");
    assert!(heard(&pool, "tom", "10.0.0.1", early).await.is_ok(), "another name");
    // One that fits takes back itself alone; a try that was refused did not count.
    let fitting = heard(&pool, "tess", "10.0.0.1", at(10)).await.unwrap();
    try_fitted(&pool, fitting).await.unwrap();
    assert!(heard(&pool, "tess", "10.0.0.1", at(11)).await.is_ok());
    assert_eq!(heard(&pool, "tess", "10.0.0.1", at(12)).await, Err(Duration::seconds(1)));
    let forgotten = at(11) + quality::tries::REMEMBERED + Duration::seconds(1);
    for i in 0..5 {
        assert!(heard(&pool, "tess", "10.0.0.1", forgotten).await.is_ok(), "forgotten, try {i}");
    }
}
