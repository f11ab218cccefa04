//! Reports are whole, narrow to what is asked for, and name the trail's seal.

use chrono::{DateTime, Duration, Utc};
use quality::episode::{Answer, Decision};
use quality::role::Role;
use sqlx::PgPool;
use store::StoreError;
use store::answers::{By, answer, review};
use store::notes::NewNote;
use store::people::Person;
use store::reports::{Asked, EpisodeLine, PointLine, Report, ReportKind, ReportLines, ReviewLine, make};
use uuid::Uuid;

use crate::common::{self, Site, decided, save_wall, site};

/// An episode that was answered, sent back, answered again and accepted, and a note on a point that broke no rule.
async fn told(pool: &PgPool) -> (Site, Uuid) {
    store::migrate(pool).await.unwrap();
    let site = site(pool, "").await;
    let quiet = save_wall(pool, &site, 0, 5.0).await;
    let raised = save_wall(pool, &site, 60, 5.9).await.asking[0];
    let at = |minutes: i64| site.since + Duration::minutes(minutes);
    let looked = Answer { nothing_found: true, action: "Measured again.".into(), ..Answer::default() };
    answer(pool, raised, 1, By::at(site.technician, at(70)), looked).await.unwrap();
    review(pool, raised, 2, &decided(site.supervisor, at(80), Decision::SentBack, Some("Which die?"))).await.unwrap();
    let worn = Answer { cause_text: Some("Die worn".into()), action: "Die changed.".into(), ..Answer::default() };
    answer(pool, raised, 3, By::at(site.technician, at(90)), worn).await.unwrap();
    review(pool, raised, 4, &decided(site.supervisor, at(100), Decision::Accepted, None)).await.unwrap();
    let note = NewNote::new(Uuid::new_v4(), "New lot of slip.");
    store::notes::write(pool, quiet.sample, (site.technician, at(5)), note).await.unwrap();
    (site, raised)
}

fn asked(kind: ReportKind, site: &Site) -> Asked {
    Asked {
        kind,
        from: site.since - Duration::hours(1),
        until: site.since + Duration::days(1),
        area: None,
        station: None,
        characteristic: None,
        analyte: None,
        within: None,
    }
}

fn sue(site: &Site) -> Person {
    Person { name: "Sue".into(), ..common::person(site.supervisor, Role::Supervisor) }
}

async fn report(pool: &PgPool, site: &Site, asked: &Asked) -> Report {
    make(pool, asked, &sue(site), Utc::now()).await.unwrap()
}

fn episodes(report: Report) -> Vec<EpisodeLine> {
    let ReportLines::Episodes(lines) = report.lines else { panic!("{:?}", report.lines) };
    lines
}

fn points(report: Report) -> Vec<PointLine> {
    let ReportLines::Points(lines) = report.lines else { panic!("{:?}", report.lines) };
    lines
}

fn reviews(report: Report) -> Vec<ReviewLine> {
    let ReportLines::Reviews(lines) = report.lines else { panic!("{:?}", report.lines) };
    lines
}

#[sqlx::test]
async fn an_episode_stands_with_all_that_was_said_of_it(pool: PgPool) {
    let (site, raised) = told(&pool).await;
    let lines = episodes(report(&pool, &site, &asked(ReportKind::Episodes, &site)).await);
    assert_eq!(lines.iter().map(|line| line.episode.id).collect::<Vec<_>>(), [raised]);
    let causes: Vec<Option<&str>> = lines[0].answers.iter().map(|answer| answer.cause.as_deref()).collect();
    assert_eq!(causes, [None, Some("Die worn")]);
    let decisions: Vec<(Decision, Option<&str>)> =
        lines[0].reviews.iter().map(|review| (review.decision, review.remark.as_deref())).collect();
    assert_eq!(decisions, [(Decision::SentBack, Some("Which die?")), (Decision::Accepted, None)]);
    assert!(lines[0].reviews.iter().all(|review| review.signed_by.is_none()));
}

#[sqlx::test]
async fn a_point_stands_with_rules_actions_and_remarks(pool: PgPool) {
    let (site, _) = told(&pool).await;
    save_wall(&pool, &site, 120, 5.0).await;
    let lines = points(report(&pool, &site, &asked(ReportKind::Points, &site)).await);
    assert_eq!(lines.iter().map(|line| line.number).collect::<Vec<_>>(), [1, 2], "the third says nothing");
    assert_eq!((lines[0].patterns.len(), lines[0].remarks[0].text.as_str()), (0, "New lot of slip."));
    assert!(!lines[1].patterns.is_empty());
    let actions: Vec<&str> = lines[1].actions.iter().map(|note| note.text.as_str()).collect();
    assert_eq!(actions, ["Measured again.", "Die changed."]);
    assert_eq!(lines[1].readings, [5.9 - 0.01, 5.9, 5.9 + 0.01].map(Some));
}

#[sqlx::test]
async fn the_review_record_stands_by_decision(pool: PgPool) {
    let (site, raised) = told(&pool).await;
    let lines = reviews(report(&pool, &site, &asked(ReportKind::Reviews, &site)).await);
    assert_eq!(
        lines.iter().map(|line| line.review.decision).collect::<Vec<_>>(),
        [Decision::SentBack, Decision::Accepted]
    );
    assert!(lines.iter().all(|line| line.episode.id == raised && line.answered_by == ["tess"]));
    // A decision belongs to the period in which it was made.
    let until = site.since + Duration::minutes(90);
    let first = reviews(report(&pool, &site, &Asked { until, ..asked(ReportKind::Reviews, &site) }).await);
    assert_eq!(first.len(), 1);
}

#[sqlx::test]
async fn it_narrows_to_what_is_asked_for(pool: PgPool) {
    let (site, _) = told(&pool).await;
    let area = async |name: &str| -> Uuid {
        sqlx::query_scalar("select id from area where name = $1").bind(name).fetch_one(&pool).await.unwrap()
    };
    let (forming, firing) = (area("Forming").await, area("Firing").await);
    for kind in [ReportKind::Episodes, ReportKind::Points, ReportKind::Reviews] {
        let whole = || asked(kind, &site);
        let early = site.since - Duration::minutes(1);
        for (narrowed, there) in [
            (Asked { area: Some(forming), ..whole() }, true),
            (Asked { area: Some(firing), ..whole() }, false),
            (Asked { station: Some(site.station), ..whole() }, true),
            (Asked { characteristic: Some(site.wall), ..whole() }, true),
            (Asked { characteristic: Some(site.viscosity), ..whole() }, false),
            (Asked { analyte: Some(Uuid::from_u128(5)), ..whole() }, false),
            (Asked { within: Some(vec![]), ..whole() }, false),
            (Asked { until: early, ..whole() }, false),
        ] {
            let made = report(&pool, &site, &narrowed).await;
            let lines = match made.lines {
                ReportLines::Episodes(lines) => lines.len(),
                ReportLines::Points(lines) => lines.len(),
                ReportLines::Reviews(lines) => lines.len(),
            };
            assert_eq!(lines > 0, there, "{narrowed:?}");
        }
    }
}

#[sqlx::test]
async fn its_head_says_what_was_asked_for_and_seals_the_trail(pool: PgPool) {
    let (site, _) = told(&pool).await;
    let now: DateTime<Utc> = Utc::now();
    let asked = Asked { characteristic: Some(site.wall), ..asked(ReportKind::Episodes, &site) };
    let head = make(&pool, &asked, &sue(&site), now).await.unwrap().head;
    assert_eq!((head.by.as_str(), head.at), ("Sue", now));
    assert_eq!(head.characteristic.as_deref(), Some("Wall thickness, Cartridge C-1, Casting line 9"));
    let entries: i64 = sqlx::query_scalar("select count(*) from trail").fetch_one(&pool).await.unwrap();
    assert_eq!(head.entries, entries);
    // The seal is one that the trail can be held against, also once it has gone on.
    save_wall(&pool, &site, 200, 5.0).await;
    let seal = serde_json::from_str(&head.seal).unwrap();
    assert!(store::trail::verify(&pool, Some(&seal)).await.unwrap().is_whole());
    sqlx::raw_sql(
        "alter table trail disable trigger all; delete from trail where position > 3; alter table trail enable trigger all",
    )
    .execute(&pool)
    .await
    .unwrap();
    assert!(!store::trail::verify(&pool, Some(&seal)).await.unwrap().is_whole());
}

#[sqlx::test]
async fn one_that_is_too_long_or_ends_before_it_begins_is_refused(pool: PgPool) {
    let (site, raised) = told(&pool).await;
    let backwards = Asked { until: site.since - Duration::days(1), ..asked(ReportKind::Episodes, &site) };
    assert!(matches!(make(&pool, &backwards, &sue(&site), Utc::now()).await, Err(StoreError::Field(_))));
    sqlx::query(
        "insert into review (id, person_id, at, decision)
         select gen_random_uuid(), $1, $2, 'accepted' from generate_series(1, 5000)",
    )
    .bind(site.supervisor)
    .bind(site.since)
    .execute(&pool)
    .await
    .unwrap();
    sqlx::query(
        "insert into review_of (review_id, reviewer, signal_id)
         select r.id, r.person_id, (select id from signal where episode_id = $1 limit 1) from review r
         on conflict do nothing",
    )
    .bind(raised)
    .execute(&pool)
    .await
    .unwrap();
    let refused = make(&pool, &asked(ReportKind::Reviews, &site), &sue(&site), Utc::now()).await;
    assert!(matches!(refused, Err(StoreError::Field(wrong)) if wrong.field == "lines"));
}
