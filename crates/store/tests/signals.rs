//! Answer and review, and two people who act at once.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod common;

use common::{Site, save_wall, site};
use quality::object::ObjectKind;
use quality::signal::{Answer, Decision, SignalRefusal, SignalState};
use sqlx::PgPool;
use store::StoreError;
use store::signals::{answer, find, review};
use uuid::Uuid;

fn said(text: &str) -> Answer {
    Answer { cause: None, cause_text: Some(text.into()), nothing_found: false, action: "Changed it.".into() }
}

async fn raised(pool: &PgPool) -> (Site, Uuid) {
    let site = site(pool, "").await;
    let saved = save_wall(pool, &site, 0, 5.9).await;
    (site, saved.raised[0])
}

#[sqlx::test]
async fn open_answered_sent_back_answered_accepted(pool: PgPool) {
    let (site, signal) = raised(&pool).await;
    let at = site.since;
    answer(&pool, signal, 1, site.technician, at, said("worn die")).await.unwrap();
    review(&pool, signal, 2, site.supervisor, at, Decision::SentBack, Some("which die?")).await.unwrap();
    assert_eq!(find(&pool, Uuid::nil(), signal).await.unwrap().state, SignalState::Open);
    answer(&pool, signal, 3, site.other_technician, at + chrono::Duration::minutes(1), said("die 4")).await.unwrap();
    review(&pool, signal, 4, site.supervisor, at, Decision::Accepted, None).await.unwrap();
    let view = find(&pool, Uuid::nil(), signal).await.unwrap();
    assert_eq!((view.state, view.version), (SignalState::Reviewed, 5));
    let told: Vec<_> =
        view.answers.iter().map(|a| (a.cause.as_deref(), a.review.as_ref().map(|r| r.decision))).collect();
    assert_eq!(told, [(Some("worn die"), Some(Decision::SentBack)), (Some("die 4"), Some(Decision::Accepted))]);
}

#[sqlx::test]
async fn of_two_who_answer_at_once_the_second_is_told_and_overwrites_nothing(pool: PgPool) {
    let (site, signal) = raised(&pool).await;
    let (one, two) = futures::join!(
        answer(&pool, signal, 1, site.technician, site.since, said("first")),
        answer(&pool, signal, 1, site.other_technician, site.since, said("second")),
    );
    let refused = if one.is_err() { one } else { two };
    assert!(matches!(refused, Err(StoreError::Signal(SignalRefusal::Changed(_)))), "{refused:?}");
    assert_eq!(find(&pool, Uuid::nil(), signal).await.unwrap().answers.len(), 1);
}

#[sqlx::test]
async fn nobody_reviews_their_own_answer_not_even_around_the_code(pool: PgPool) {
    let (site, signal) = raised(&pool).await;
    answer(&pool, signal, 1, site.supervisor, site.since, said("worn die")).await.unwrap();
    let refused = review(&pool, signal, 2, site.supervisor, site.since, Decision::Accepted, None).await;
    assert!(matches!(refused, Err(StoreError::Signal(SignalRefusal::OwnAnswer))), "{refused:?}");
    let forced = sqlx::query(
        "insert into review (id, signal_id, answer_id, answered_by, person_id, at, decision)
         select $1, signal_id, id, person_id, person_id, now(), 'accepted' from answer",
    )
    .bind(Uuid::new_v4())
    .execute(&pool)
    .await
    .unwrap_err();
    assert_eq!(forced.as_database_error().unwrap().constraint(), Some("review_not_own"));
}

#[sqlx::test]
async fn an_unknown_cause_is_refused_and_nothing_is_stored(pool: PgPool) {
    let (site, signal) = raised(&pool).await;
    let unknown = Answer { cause: Some(Uuid::new_v4()), cause_text: None, ..said("") };
    let refused = answer(&pool, signal, 1, site.technician, site.since, unknown).await;
    assert!(matches!(refused, Err(StoreError::Missing(ObjectKind::Cause))), "{refused:?}");
    assert_eq!(find(&pool, Uuid::nil(), signal).await.unwrap().version, 1);
}

#[sqlx::test]
async fn after_its_review_a_run_that_goes_on_is_a_new_signal(pool: PgPool) {
    let site = site(&pool, "").await;
    let mut raised = Vec::new();
    for i in 0..8 {
        raised.extend(save_wall(&pool, &site, i, 5.02).await.raised);
    }
    for signal in &raised {
        answer(&pool, *signal, 1, site.technician, site.since, said("new lot")).await.unwrap();
        review(&pool, *signal, 2, site.supervisor, site.since, Decision::Accepted, None).await.unwrap();
    }
    let next = save_wall(&pool, &site, 8, 5.02).await;
    assert_eq!((next.raised.len(), next.grown.len()), (raised.len(), 0));
    assert_eq!(find(&pool, Uuid::nil(), next.raised[0]).await.unwrap().from_number, 2);
}

/// Causes of other areas are not offered, and what was named most often comes first.
#[sqlx::test]
async fn causes_fit_the_area_the_most_used_first(pool: PgPool) {
    let site = site(&pool, "").await;
    let names = async || {
        let causes = store::causes::list(&pool, Some(site.wall)).await.unwrap();
        causes.into_iter().map(|cause| cause.name).collect::<Vec<_>>()
    };
    assert_eq!(names().await, ["Tool worn", "Mould changed"]);
    assert_eq!(store::causes::list(&pool, None).await.unwrap().len(), 3);
    let raised = save_wall(&pool, &site, 0, 5.9).await.raised[0];
    let mould = store::causes::list(&pool, Some(site.wall)).await.unwrap()[1].id;
    let answer = Answer { cause: Some(mould), cause_text: None, nothing_found: false, action: "Changed back.".into() };
    store::signals::answer(&pool, raised, 1, site.technician, chrono::Utc::now(), answer).await.unwrap();
    assert_eq!(names().await, ["Mould changed", "Tool worn"]);
}
