//! Notices are raised with what they tell of, and are sent to whoever wishes, once.

use chrono::{DateTime, Duration, Utc};
use quality::account::Account;
use quality::episode::{Answer, Decision};
use quality::notice::NoticeKind;
use quality::role::Role;
use rstest::rstest;
use sqlx::PgPool;
use store::answers::{By, answer, review};
use store::episodes::escalate;
use store::notices::{
    To, Webhook, Wishes, bell, change_webhook, choose, due, failed, seen, sent, set_up_webhook, webhooks,
};
use store::people::{NewPerson, Person, add, find};
use uuid::Uuid;

use crate::common::{Site, decided, episode, save_wall, site};

const SECRET: &str = "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw";

async fn made(pool: &PgPool) -> Site {
    store::migrate(pool).await.unwrap();
    site(pool, "").await
}

async fn person(pool: &PgPool, id: Uuid) -> Person {
    find(pool, id).await.unwrap().unwrap()
}

async fn area(pool: &PgPool, name: &str) -> Uuid {
    sqlx::query_scalar("select id from area where name = $1").bind(name).fetch_one(pool).await.unwrap()
}

/// Somebody of an area who wishes to be sent these.
async fn wisher(pool: &PgPool, login: &str, role: Role, areas: &[Uuid], kinds: &[NoticeKind]) -> Person {
    let account = Account { areas: areas.to_vec(), ..Account::everywhere(login, role) };
    let new = NewPerson { login, account, password_hash: "", password_is_first: false };
    let made = person(pool, add(pool, new, None, Utc::now()).await.unwrap()).await;
    let wishes = Wishes { email: Some(format!("{login}@tarn-valley.example")), kinds: kinds.to_vec() };
    choose(pool, &made, wishes, Utc::now()).await.unwrap();
    made
}

fn told(kinds: &[NoticeKind], areas: &[Uuid]) -> Webhook {
    let (kinds, areas) = (kinds.to_vec(), areas.to_vec());
    Webhook { name: format!("Board {}", Uuid::new_v4()), url: "http://127.0.0.1:9/".into(), kinds, areas, active: true }
}

/// Whom what is due now goes to, in order.
async fn goes_to(pool: &PgPool, now: DateTime<Utc>) -> Vec<String> {
    let mut to: Vec<String> = due(pool, now, 100)
        .await
        .unwrap()
        .into_iter()
        .map(|due| match due.to {
            To::Mail { email, .. } => email.split('@').next().unwrap().to_owned(),
            To::Webhook { url, .. } => url,
        })
        .collect();
    to.sort();
    to
}

/// An episode that was open too long, and when that was.
async fn open_too_long(pool: &PgPool, site: &Site) -> (Uuid, DateTime<Utc>) {
    let id = save_wall(pool, site, 0, 5.9).await.asking[0];
    let over = episode(pool, id).await.raised_at + Duration::minutes(31);
    assert_eq!(escalate(pool, over).await.unwrap(), 1);
    (id, over)
}

#[sqlx::test]
async fn it_goes_to_those_who_wish_for_it_in_their_areas(pool: PgPool) {
    use NoticeKind::{EpisodeRaised, OpenTooLong};
    let site = made(&pool).await;
    let (forming, firing) = (area(&pool, "Forming").await, area(&pool, "Firing").await);
    wisher(&pool, "all", Role::Supervisor, &[], &[OpenTooLong]).await;
    wisher(&pool, "here", Role::Supervisor, &[forming], &[OpenTooLong, EpisodeRaised]).await;
    wisher(&pool, "elsewhere", Role::Supervisor, &[firing], &[OpenTooLong]).await;
    wisher(&pool, "otherwise", Role::Supervisor, &[], &[EpisodeRaised]).await;
    let by = (site.engineer, Utc::now());
    for (kinds, areas) in [([OpenTooLong], vec![forming]), ([OpenTooLong], vec![firing])] {
        set_up_webhook(&pool, told(&kinds, &areas), SECRET, by).await.unwrap();
    }
    let id = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    let raised_at = episode(&pool, id).await.raised_at;
    assert_eq!(goes_to(&pool, raised_at).await, ["here", "otherwise"]);
    escalate(&pool, raised_at + Duration::minutes(31)).await.unwrap();
    // What is under way is not claimed again meanwhile; these are.
    let to = due(&pool, raised_at + Duration::minutes(31), 100).await.unwrap();
    let fresh = to.iter().filter(|due| due.letter.kind == OpenTooLong);
    let mut fresh: Vec<String> = fresh
        .map(|due| match &due.to {
            To::Mail { email, .. } => email.clone(),
            To::Webhook { .. } => "board".into(),
        })
        .collect();
    fresh.sort();
    assert_eq!(fresh, ["all@tarn-valley.example", "board", "here@tarn-valley.example"]);
    let letter = &to.iter().find(|due| due.letter.kind == OpenTooLong).unwrap().letter;
    assert_eq!((letter.characteristic.as_deref(), letter.episode), (Some("Wall thickness"), Some(id)));
}

#[sqlx::test]
async fn what_nobody_wishes_for_and_rings_no_bell_is_not_kept(pool: PgPool) {
    let site = made(&pool).await;
    save_wall(&pool, &site, 0, 5.9).await;
    let kept: i64 = sqlx::query_scalar("select count(*) from notice").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 0);
}

#[rstest]
#[case::sent_back(Decision::SentBack, NoticeKind::SentBack)]
#[case::overruled(Decision::Overruled, NoticeKind::Overruled)]
#[sqlx::test]
async fn who_answered_hears_that_it(#[ignore] pool: PgPool, #[case] decision: Decision, #[case] kind: NoticeKind) {
    let site = made(&pool).await;
    let id = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    let now = Utc::now();
    let looked = Answer { nothing_found: true, action: "Measured again.".into(), ..Answer::default() };
    answer(&pool, id, 1, By::at(site.technician, now), looked).await.unwrap();
    review(&pool, id, 2, &decided(site.supervisor, now, decision, Some("Which die?"))).await.unwrap();
    let of = async |who| bell(&pool, &person(&pool, who).await, now).await.unwrap().notices;
    let mine = of(site.technician).await;
    assert_eq!(mine.iter().map(|n| (n.kind, n.episode, n.new)).collect::<Vec<_>>(), [(kind, Some(id), true)]);
    for other in [site.other_technician, site.supervisor] {
        assert_eq!(of(other).await, []);
    }
}

#[sqlx::test]
async fn a_bell_counts_what_was_not_seen(pool: PgPool) {
    let site = made(&pool).await;
    let (id, over) = open_too_long(&pool, &site).await;
    let now = over + Duration::days(1);
    let supervisor = person(&pool, site.supervisor).await;
    let rung = bell(&pool, &supervisor, now).await.unwrap();
    assert_eq!((rung.new, rung.notices[0].episode, rung.notices[0].at), (1, Some(id), over));
    assert_eq!(bell(&pool, &person(&pool, site.technician).await, now).await.unwrap().notices, []);
    seen(&pool, supervisor.id, rung.notices[0].at).await.unwrap();
    // A page that was open before cannot undo what was seen since.
    seen(&pool, supervisor.id, over - Duration::hours(1)).await.unwrap();
    let rung = bell(&pool, &supervisor, now).await.unwrap();
    assert_eq!((rung.new, rung.notices.len()), (0, 1));
    let month = bell(&pool, &supervisor, over + Duration::days(31)).await.unwrap();
    assert_eq!(month.notices, []);
    // Of somebody who belongs elsewhere it is none of their business.
    let firing = area(&pool, "Firing").await;
    let kiln = store::plan::add_station(&pool, "Firing", "Kiln 9", site.engineer, now).await.unwrap();
    let other = wisher(&pool, "sven", Role::Supervisor, &[firing], &[]).await;
    assert_eq!(other.stations, [kiln]);
    assert_eq!(bell(&pool, &other, now).await.unwrap().notices, []);
}

#[sqlx::test]
async fn two_instances_never_claim_one_delivery(pool: PgPool) {
    let site = made(&pool).await;
    for n in 0..20 {
        wisher(&pool, &format!("w{n}"), Role::Supervisor, &[], &[NoticeKind::OpenTooLong]).await;
    }
    let (_, over) = open_too_long(&pool, &site).await;
    let claims = futures::future::join_all((0..6).map(|_| due(&pool, over, 8))).await;
    let mut claimed: Vec<Uuid> = claims.into_iter().flat_map(|claim| claim.unwrap()).map(|due| due.id).collect();
    let all = claimed.len();
    claimed.sort();
    claimed.dedup();
    assert_eq!((all, claimed.len()), (20, 20));
}

#[sqlx::test]
async fn what_failed_is_tried_again_later_and_what_was_sent_never(pool: PgPool) {
    let site = made(&pool).await;
    wisher(&pool, "sanna", Role::Supervisor, &[], &[NoticeKind::OpenTooLong]).await;
    let (_, over) = open_too_long(&pool, &site).await;
    let first = due(&pool, over, 10).await.unwrap().remove(0);
    failed(&pool, &first, "nobody there", over).await.unwrap();
    assert_eq!(due(&pool, over + Duration::seconds(4), 10).await.unwrap(), []);
    let again = due(&pool, over + Duration::seconds(5), 10).await.unwrap().remove(0);
    assert_eq!((again.id, again.tries), (first.id, 2));
    // Whoever claimed it has ended: after a while somebody else does it.
    assert_eq!(due(&pool, over + Duration::seconds(60), 10).await.unwrap(), []);
    let taken_over = due(&pool, over + Duration::seconds(130), 10).await.unwrap().remove(0);
    assert_eq!(taken_over.id, first.id);
    sent(&pool, first.id, over).await.unwrap();
    assert_eq!(due(&pool, over + Duration::days(9), 10).await.unwrap(), []);
}

#[sqlx::test]
async fn what_is_never_taken_is_given_up_and_said_so(pool: PgPool) {
    let site = made(&pool).await;
    let by = (site.engineer, Utc::now());
    set_up_webhook(&pool, told(&[NoticeKind::OpenTooLong], &[]), SECRET, by).await.unwrap();
    let (_, over) = open_too_long(&pool, &site).await;
    sqlx::query("update delivery set tries = 79").execute(&pool).await.unwrap();
    let last = due(&pool, over, 10).await.unwrap().remove(0);
    failed(&pool, &last, "answered 500", over).await.unwrap();
    assert_eq!(due(&pool, over + Duration::days(9), 10).await.unwrap(), []);
    let fares = webhooks(&pool).await.unwrap().remove(0);
    assert_eq!((fares.sent, fares.waiting, fares.given_up, fares.failed.as_deref()), (0, 0, 1, Some("answered 500")));
}

#[sqlx::test]
async fn a_webhook_that_is_told_no_more_waits_and_the_trail_knows_each_change(pool: PgPool) {
    let site = made(&pool).await;
    let by = (site.engineer, Utc::now());
    let board = told(&[NoticeKind::OpenTooLong], &[]);
    let id = set_up_webhook(&pool, board.clone(), SECRET, by).await.unwrap();
    let (_, over) = open_too_long(&pool, &site).await;
    change_webhook(&pool, id, 1, Webhook { active: false, ..board.clone() }, by).await.unwrap();
    assert_eq!(goes_to(&pool, over).await, Vec::<String>::new());
    change_webhook(&pool, id, 2, board.clone(), by).await.unwrap();
    assert_eq!(goes_to(&pool, over).await, ["http://127.0.0.1:9/"]);
    assert!(change_webhook(&pool, id, 2, board.clone(), by).await.is_err());
    for wrong in [
        Webhook { url: "file:///etc/passwd".into(), ..board.clone() },
        Webhook { kinds: vec![], ..board.clone() },
        Webhook { kinds: vec![NoticeKind::SentBack; 2], ..board.clone() },
        Webhook { name: " ".into(), ..board.clone() },
    ] {
        assert!(set_up_webhook(&pool, wrong.clone(), SECRET, by).await.is_err(), "{wrong:?}");
    }
    let twice = set_up_webhook(&pool, board, SECRET, by).await;
    assert!(matches!(twice, Err(store::StoreError::SetUp(_))));
    wisher(&pool, "sanna", Role::Supervisor, &[], &[NoticeKind::OpenTooLong]).await;
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
    // The secret is not in the trail, and that it was exchanged is found all the same.
    let told: i64 = sqlx::query_scalar("select count(*) from trail where detail like '%' || $1 || '%'")
        .bind(SECRET)
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(told, 0);
    for tamper in ["update webhook set secret = 'whsec_x'", "update person set email = 'x@y.z' where login = 'sanna'"] {
        sqlx::query(sqlx::AssertSqlSafe(tamper)).execute(&pool).await.unwrap();
    }
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().findings.len(), 2);
}
