//! Signatures: exactly what was seen, once, by whoever decided; what changes later is shown against them.

use chrono::{Duration, SubsecRound, Utc};
use quality::episode::{Addition, Answer, Decision};
use quality::object::ObjectKind;
use quality::role::Role;
use quality::sample::Content;
use quality::signature::SeenPart;
use quality::version::Changed;
use rstest::rstest;
use sqlx::PgPool;
use store::StoreError;
use store::answers::{By, add_to, answer, review};
use store::people::Person;
use store::signatures::{SignatureView, find, list, sign, unsigned};
use store::trail::verify;
use uuid::Uuid;

use crate::common::{Site, accepted, decided, episode, person, save_wall, site};

/// Two episodes, answered and accepted by the supervisor.
async fn accepted_twice(pool: &PgPool) -> (Site, [Uuid; 2]) {
    store::migrate(pool).await.unwrap();
    let site = site(pool, "").await;
    let mut ids = [Uuid::nil(); 2];
    for (i, mean) in [5.9, 4.1].into_iter().enumerate() {
        ids[i] = save_wall(pool, &site, i as i64 * 10, mean).await.asking[0];
        let given = Answer { nothing_found: true, action: "Measured again.".into(), ..Answer::default() };
        answer(pool, ids[i], 1, By::at(site.technician, site.since), given).await.unwrap();
        let at = site.since + Duration::minutes(30 + i as i64);
        review(pool, ids[i], 2, &decided(site.supervisor, at, Decision::Accepted, None)).await.unwrap();
    }
    (site, ids)
}

fn sue(site: &Site) -> Person {
    Person { name: "Sue".into(), ..person(site.supervisor, Role::Supervisor) }
}

async fn to_sign(pool: &PgPool, site: &Site) -> Vec<(Uuid, String)> {
    let all = unsigned(pool, site.supervisor).await.unwrap();
    all.into_iter().map(|decision| (decision.review, decision.digest)).collect()
}

async fn signed(pool: &PgPool, site: &Site) -> SignatureView {
    let reviews = to_sign(pool, site).await;
    let id = sign(pool, &sue(site), Utc::now().trunc_subsecs(6), &reviews).await.unwrap();
    find(pool, id).await.unwrap()
}

#[sqlx::test]
async fn a_decision_is_listed_until_it_is_signed_and_then_says_by_what(pool: PgPool) {
    let (site, ids) = accepted_twice(&pool).await;
    let open = unsigned(&pool, site.supervisor).await.unwrap();
    assert_eq!(open.iter().map(|decision| decision.episode.id).collect::<Vec<_>>(), ids);
    assert!(unsigned(&pool, site.engineer).await.unwrap().is_empty());
    let view = signed(&pool, &site).await;
    assert_eq!((view.signature.name.as_str(), view.signature.reviews), ("Sue", 2));
    assert_eq!(view.covers.iter().map(|covered| covered.episode.id).collect::<Vec<_>>(), ids);
    assert!(view.covers.iter().all(|covered| covered.changed.is_empty()));
    assert!(to_sign(&pool, &site).await.is_empty());
    let of = episode(&pool, ids[0]).await.answers[0].review.clone().unwrap();
    assert_eq!((of.signature, of.signed_at), (Some(view.signature.id), Some(view.signature.at)));
    assert_eq!(list(&pool, None, 10).await.unwrap().len(), 1);
    let report = verify(&pool, None).await.unwrap();
    assert!(report.is_whole(), "{report:?}");
}

#[sqlx::test]
async fn nobody_signs_what_they_did_not_see_or_did_not_decide_or_has_been_signed(pool: PgPool) {
    let (site, ids) = accepted_twice(&pool).await;
    let reviews = to_sign(&pool, &site).await;
    let at = Utc::now().trunc_subsecs(6);
    let eve = person(site.engineer, Role::Engineer);
    let not_theirs = sign(&pool, &eve, at, &reviews).await;
    assert!(matches!(not_theirs, Err(StoreError::Missing(ObjectKind::Review))), "{not_theirs:?}");
    for wrong in [vec![], vec![reviews[0].clone(), reviews[0].clone()]] {
        assert!(matches!(sign(&pool, &sue(&site), at, &wrong).await, Err(StoreError::Field(_))));
    }
    let changed = |signed: Result<Uuid, StoreError>| match signed {
        Err(StoreError::Changed(Changed(of))) => assert_eq!(of, ObjectKind::Review),
        other => panic!("{other:?}"),
    };
    // Somebody adds to the answer while the list is looked at.
    let of = episode(&pool, ids[0]).await.answers[0].id;
    let more = Addition { comment: "It was the gauge.".into(), files: vec![] };
    add_to(&pool, ids[0], of, By::at(site.technician, site.since), more).await.unwrap();
    changed(sign(&pool, &sue(&site), at, &reviews).await);
    assert!(list(&pool, None, 10).await.unwrap().is_empty());
    let reviews = to_sign(&pool, &site).await;
    sign(&pool, &sue(&site), at, &reviews).await.unwrap();
    changed(sign(&pool, &sue(&site), at, &reviews).await);
    assert_eq!(list(&pool, None, 10).await.unwrap().len(), 1);
}

#[sqlx::test]
async fn what_changes_later_is_shown_against_the_signature(pool: PgPool) {
    let (site, ids) = accepted_twice(&pool).await;
    let view = signed(&pool, &site).await;
    let changed = async || {
        let view = find(&pool, view.signature.id).await.unwrap();
        view.covers.into_iter().map(|covered| covered.changed).collect::<Vec<_>>()
    };
    let of = episode(&pool, ids[0]).await.answers[0].id;
    let more = Addition { comment: "It was the gauge.".into(), files: vec![] };
    add_to(&pool, ids[0], of, By::at(site.technician, site.since), more).await.unwrap();
    assert_eq!(changed().await, [vec![SeenPart::Answers], vec![]]);
    let eve = person(site.engineer, Role::Engineer);
    let second: Uuid = sqlx::query_scalar("select id from sample where characteristic_id = $1 and number = 2")
        .bind(site.wall)
        .fetch_one(&pool)
        .await
        .unwrap();
    let content = &accepted(Content::readings([5.0, 5.0, 5.0]));
    store::samples::correct(&pool, second, 1, &eve, Utc::now(), content, "slip").await.unwrap();
    assert_eq!(changed().await, [vec![SeenPart::Answers], vec![SeenPart::Signals, SeenPart::Samples]]);
}

#[rstest]
#[case::renamed("update signature set name = 'Tom'")]
#[case::another_time("update signature set at = at + interval '1 second'")]
#[case::less_covered("delete from signed where review_id = (select min(review_id::text)::uuid from signed)")]
#[case::other_content("update signed set content = replace(content, 'accepted', 'overruled')")]
#[case::gone("delete from signed; delete from signature")]
#[sqlx::test]
async fn a_signature_is_held_against_the_trail(#[ignore] pool: PgPool, #[case] attack: &'static str) {
    let (site, _) = accepted_twice(&pool).await;
    signed(&pool, &site).await;
    sqlx::raw_sql(attack).execute(&pool).await.unwrap();
    let report = verify(&pool, None).await.unwrap();
    let found = |finding: &store::trail::Finding| format!("{finding:?}").contains("table: \"signature\"");
    assert!(report.findings.iter().any(found), "{report:?}");
}
