//! Sessions and the count of tries, as several instances share them.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use chrono::{DateTime, Duration, SubsecRound, Utc};
use serde_json::json;
use sqlx::PgPool;
use store::access::{
    ATTEMPTS_AT_MOST, attempt_window, begin_session, end_expired_sessions, end_session, forget_attempts, save_session,
    session, try_sign_in,
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

#[sqlx::test]
async fn tries_count_by_name_and_address_and_are_forgotten_in_time(pool: PgPool) {
    let start = now();
    let at = |seconds: i64| start + Duration::seconds(seconds);
    for i in 0..ATTEMPTS_AT_MOST {
        assert_eq!(try_sign_in(&pool, "tess", "10.0.0.1", at(i)).await.unwrap(), None, "try {i}");
    }
    let wait = try_sign_in(&pool, "TESS", "10.0.0.1", at(20)).await.unwrap();
    assert_eq!(wait, Some(attempt_window() - Duration::seconds(20)), "counted from the first, whatever the case");
    assert_eq!(try_sign_in(&pool, "tess", "10.0.0.2", at(20)).await.unwrap(), None, "another address");
    assert_eq!(try_sign_in(&pool, "tom", "10.0.0.1", at(20)).await.unwrap(), None, "another name");
    // The first try is forgotten; a try that was refused did not count.
    assert_eq!(try_sign_in(&pool, "tess", "10.0.0.1", at(301)).await.unwrap(), None);
    forget_attempts(&pool, "Tess", "10.0.0.1").await.unwrap();
    for i in 0..ATTEMPTS_AT_MOST {
        assert_eq!(
            try_sign_in(&pool, "tess", "10.0.0.1", at(302 + i)).await.unwrap(),
            None,
            "after a success, try {i}"
        );
    }
}
