//! What is open too long is raised to the supervisors, once, and stands in the trail.

use chrono::{DateTime, Duration, Utc};
use quality::episode::{Answer, Decision};
use quality::signal::SignalState;
use rstest::rstest;
use sqlx::PgPool;
use store::answers::{By, answer, review};
use store::episodes::{EpisodeFilter, count, escalate, list};
use store::trail::verify;
use uuid::Uuid;

use crate::common::{Site, decided, episode, kept_signals, save_wall, site};

async fn raised(pool: &PgPool) -> (Site, Uuid) {
    store::migrate(pool).await.unwrap();
    let site = site(pool, "").await;
    let id = save_wall(pool, &site, 0, 5.9).await.asking[0];
    (site, id)
}

fn looked() -> Answer {
    Answer { nothing_found: true, action: "Measured again.".into(), ..Answer::default() }
}

/// A clock that the test moves: minutes after the episode was raised.
async fn after(pool: &PgPool, id: Uuid, minutes: i64) -> DateTime<Utc> {
    episode(pool, id).await.raised_at + Duration::minutes(minutes)
}

#[sqlx::test]
async fn it_is_raised_when_its_time_is_over_and_once(pool: PgPool) {
    let (_, id) = raised(&pool).await;
    assert_eq!(escalate(&pool, after(&pool, id, 29).await).await.unwrap(), 0);
    let over = after(&pool, id, 30).await;
    // Two instances look at one moment.
    let (one, two) = futures::join!(escalate(&pool, over), escalate(&pool, over));
    assert_eq!(one.unwrap() + two.unwrap(), 1);
    assert_eq!(escalate(&pool, after(&pool, id, 500).await).await.unwrap(), 0);
    assert_eq!(episode(&pool, id).await.escalated_at, Some(over));
    let only = EpisodeFilter { escalated: true, ..EpisodeFilter::default() };
    assert_eq!(list(&pool, &only, 10).await.unwrap()[0].escalated_at, Some(over));
    assert_eq!(count(&pool, &only).await.unwrap(), 1);
    let told: i64 = sqlx::query_scalar("select count(*) from trail where action = 'episode_escalated'")
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(told, 1);
    let report = verify(&pool, None).await.unwrap();
    assert!(report.is_whole(), "{report:?}");
    sqlx::raw_sql("update episode set escalated_at = null").execute(&pool).await.unwrap();
    assert!(!verify(&pool, None).await.unwrap().is_whole());
}

#[sqlx::test]
async fn each_characteristic_says_how_long(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    sqlx::query("update characteristic set escalates_after = 45 where id = $1")
        .bind(site.wall)
        .execute(&pool)
        .await
        .unwrap();
    assert_eq!(escalate(&pool, after(&pool, id, 44).await).await.unwrap(), 0);
    assert_eq!(escalate(&pool, after(&pool, id, 45).await).await.unwrap(), 1);
}

#[rstest]
#[case::answered(SignalState::Answered)]
#[case::reviewed(SignalState::Reviewed)]
#[sqlx::test]
async fn what_was_answered_in_time_is_not_raised(#[ignore] pool: PgPool, #[case] state: SignalState) {
    let (site, id) = raised(&pool).await;
    answer(&pool, id, 1, By::at(site.technician, after(&pool, id, 10).await), looked()).await.unwrap();
    if state == SignalState::Reviewed {
        let at = after(&pool, id, 20).await;
        review(&pool, id, 2, &decided(site.supervisor, at, Decision::Accepted, None)).await.unwrap();
    }
    assert_eq!(episode(&pool, id).await.state, state);
    assert_eq!(escalate(&pool, after(&pool, id, 500).await).await.unwrap(), 0);
}

#[sqlx::test]
async fn what_was_sent_back_waits_from_then_on(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    answer(&pool, id, 1, By::at(site.technician, after(&pool, id, 10).await), looked()).await.unwrap();
    let back = decided(site.supervisor, after(&pool, id, 100).await, Decision::SentBack, Some("which die?"));
    review(&pool, id, 2, &back).await.unwrap();
    assert_eq!(escalate(&pool, after(&pool, id, 129).await).await.unwrap(), 0);
    assert_eq!(escalate(&pool, after(&pool, id, 130).await).await.unwrap(), 1);
}

#[sqlx::test]
async fn what_stands_on_trial_or_was_found_late_is_never_raised(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    sqlx::query("update episode set trial = true where id = $1").bind(id).execute(&pool).await.unwrap();
    assert_eq!(escalate(&pool, after(&pool, id, 500).await).await.unwrap(), 0);
    sqlx::query("update episode set trial = false, state = 'found_late' where id = $1")
        .bind(id)
        .execute(&pool)
        .await
        .unwrap();
    assert_eq!(escalate(&pool, after(&pool, id, 500).await).await.unwrap(), 0);
    assert_eq!(kept_signals(&pool, site.wall).await.len(), 1);
}
