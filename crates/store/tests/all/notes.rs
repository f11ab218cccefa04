//! Notes on points: answered, changed by who wrote them, and meant for somebody.

use chrono::{Duration, Utc};
use quality::account::Account;
use quality::notice::NoticeKind;
use quality::role::Role;
use rstest::rstest;
use sqlx::PgPool;
use store::StoreError;
use store::charts::{Asked, ChartNote, view};
use store::notes::{NewNote, change, write};
use store::notices::{Wishes, bell, choose, due};
use store::people::{NewPerson, add, find};
use store::trail::{Finding, verify};
use uuid::Uuid;

use crate::common::{self, Site, save_wall, site};

async fn notes(pool: &PgPool, site: &Site) -> Vec<ChartNote> {
    view(pool, site.wall, &Asked::last(10)).await.unwrap().notes
}

fn said(text: &str) -> NewNote<'_> {
    NewNote::new(Uuid::new_v4(), text)
}

#[sqlx::test]
async fn an_answer_follows_what_it_answers_and_hangs_on_the_first(pool: PgPool) {
    let site = site(&pool, "").await;
    let sample = save_wall(&pool, &site, 0, 5.0).await.sample;
    let other = save_wall(&pool, &site, 10, 5.0).await.sample;
    let at = |minutes: i64| site.since + Duration::minutes(minutes);
    let first = write(&pool, sample, (site.technician, at(20)), said("The slip looked thin")).await.unwrap();
    write(&pool, sample, (site.technician, at(21)), said("The mould was cold")).await.unwrap();
    let answer = NewNote { answers_to: Some(first), ..said("Measured again: it is") };
    let answer = write(&pool, sample, (site.supervisor, at(22)), answer).await.unwrap();
    let again = NewNote { answers_to: Some(answer), ..said("Thank you") };
    write(&pool, sample, (site.technician, at(23)), again).await.unwrap();
    let kept = notes(&pool, &site).await;
    let told: Vec<(&str, Option<Uuid>)> = kept.iter().map(|note| (note.text.as_str(), note.answers_to)).collect();
    let expected = [
        ("The slip looked thin", None),
        ("Measured again: it is", Some(first)),
        ("Thank you", Some(first)),
        ("The mould was cold", None),
    ];
    assert_eq!(told, expected);
    // It stays with the point it is about.
    let elsewhere = NewNote { answers_to: Some(first), ..said("Not here") };
    let refused = write(&pool, other, (site.technician, at(24)), elsewhere).await.unwrap_err();
    assert!(matches!(refused, StoreError::Missing(_)), "{refused}");
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn a_note_is_changed_by_who_wrote_it_and_over_nobody_s_head(pool: PgPool) {
    let site = site(&pool, "").await;
    let sample = save_wall(&pool, &site, 0, 5.0).await.sample;
    let at = Utc::now();
    let new = said("Tool wron");
    let id = write(&pool, sample, (site.technician, at), new).await.unwrap();
    let refused = change(&pool, id, 1, ("Tool worn", &[]), (site.supervisor, at)).await.unwrap_err();
    assert!(matches!(refused, StoreError::Note(_)), "{refused}");
    change(&pool, id, 1, (" Tool worn ", &[]), (site.technician, at)).await.unwrap();
    let refused = change(&pool, id, 1, ("Tool broken", &[]), (site.technician, at)).await.unwrap_err();
    assert!(matches!(refused, StoreError::Changed(_)), "{refused}");
    let [note] = &notes(&pool, &site).await[..] else { panic!("one note") };
    assert_eq!((note.text.as_str(), note.version, note.changed_at.is_some()), ("Tool worn", 2, true));
    // Sent again after a lost answer it is still the same note.
    assert_eq!(write(&pool, sample, (site.technician, at), new).await.unwrap(), id);
    // What it said before stands in the trail; what changes nothing does not.
    change(&pool, id, 2, ("Tool worn", &[]), (site.technician, at)).await.unwrap();
    let trail = common::trail_of(&pool, site.wall, 2).await;
    assert_eq!(trail[0].detail["old"]["text"], "Tool wron");
    assert_eq!(trail[1].detail["text"], "Tool wron");
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

async fn bells(pool: &PgPool, people: &[Uuid]) -> Vec<usize> {
    let mut rung = Vec::new();
    for id in people {
        let person = find(pool, *id).await.unwrap().unwrap();
        let notices = bell(pool, &person, Utc::now()).await.unwrap().notices;
        rung.push(notices.iter().filter(|notice| notice.kind == NoticeKind::Mentioned).count());
    }
    rung
}

#[sqlx::test]
async fn a_mention_rings_one_bell_once_and_is_sent_wherever_they_belong(pool: PgPool) {
    let site = site(&pool, "").await;
    let sample = save_wall(&pool, &site, 0, 5.0).await.sample;
    let firing: Uuid = sqlx::query_scalar("select id from area where name = 'Firing'").fetch_one(&pool).await.unwrap();
    let account = Account { areas: vec![firing], ..Account::everywhere("kit", Role::Technician) };
    let new = NewPerson { login: "kit", account, password_hash: "", password_is_first: false };
    let kit = add(&pool, new, None, Utc::now()).await.unwrap();
    let person = find(&pool, kit).await.unwrap().unwrap();
    let wishes = Wishes { email: Some("kit@tarn-valley.example".into()), kinds: vec![NoticeKind::Mentioned] };
    choose(&pool, &person, wishes, Utc::now()).await.unwrap();
    let by = (site.technician, Utc::now());
    let people = [site.supervisor, kit, site.technician, site.engineer];
    let meant = NewNote { mentions: &people[..3], ..said("Look at this") };
    let id = write(&pool, sample, by, meant).await.unwrap();
    assert_eq!(bells(&pool, &people).await, [1, 1, 0, 0], "nobody rings their own");
    let letters = due(&pool, Utc::now(), 10).await.unwrap();
    let [letter] = &letters[..] else { panic!("{letters:?}") };
    assert_eq!(
        (letter.letter.kind, letter.letter.noted, letter.letter.noted_number),
        (NoticeKind::Mentioned, Some(site.wall), Some(1))
    );
    // Who is added is told, who was told is not told again.
    change(&pool, id, 1, ("Look at this, please", &people), by).await.unwrap();
    assert_eq!(bells(&pool, &people).await, [1, 1, 0, 1]);
    let [note] = &notes(&pool, &site).await[..] else { panic!("one note") };
    assert_eq!(note.mentions.len(), 4);
    let shown = find(&pool, site.supervisor).await.unwrap().unwrap();
    let point = bell(&pool, &shown, Utc::now()).await.unwrap().notices[0].point.clone().unwrap();
    assert_eq!((point.characteristic, point.number, point.person.as_str()), (site.wall, 1, "tess"));
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn only_who_is_there_and_has_a_bell_is_mentioned(pool: PgPool) {
    let site = site(&pool, "").await;
    let sample = save_wall(&pool, &site, 0, 5.0).await.sample;
    sqlx::query("update person set active = false where id = $1").bind(site.engineer).execute(&pool).await.unwrap();
    let areas = sqlx::query_scalar("select id from area").fetch_all(&pool).await.unwrap();
    let account = Account { areas, ..Account::everywhere("ray", Role::Reader) };
    let new = NewPerson { login: "ray", account, password_hash: "", password_is_first: false };
    let reader = add(&pool, new, None, Utc::now()).await.unwrap();
    for nobody in [site.engineer, reader, Uuid::nil()] {
        let people = [site.supervisor, nobody];
        let meant = NewNote { mentions: &people, ..said("Look at this") };
        let refused = write(&pool, sample, (site.technician, Utc::now()), meant).await.unwrap_err();
        assert!(matches!(refused, StoreError::Field(wrong) if wrong.field == "mentions"), "{refused}");
    }
    assert!(notes(&pool, &site).await.is_empty(), "nothing is half done");
    assert_eq!(bells(&pool, &[site.supervisor]).await, [0]);
}

/// Each is a change of a note behind the trail's back.
#[rstest]
#[case::text("update note set text = 'All is well'", "text")]
#[case::who("update note set person_id = (select id from person where login = 'tom')", "person")]
#[case::answer_of_nothing("update note set answers_to = null", "answers_to")]
#[case::meant_for_nobody("delete from note_mention", "mentions")]
#[case::deleted("delete from notice; delete from note_mention; delete from note where answers_to is not null", "row")]
#[sqlx::test]
async fn a_note_that_is_not_as_the_trail_tells_it_is_named(
    #[ignore] pool: PgPool,
    #[case] attack: &'static str,
    #[case] field: &str,
) {
    let site = site(&pool, "").await;
    let sample = save_wall(&pool, &site, 0, 5.0).await.sample;
    let by = (site.technician, Utc::now());
    let first = write(&pool, sample, by, said("The slip looked thin")).await.unwrap();
    let people = [site.supervisor];
    let answer = NewNote { answers_to: Some(first), mentions: &people, ..said("It is") };
    let id = write(&pool, sample, by, answer).await.unwrap();
    change(&pool, id, 1, ("It is, by 3 %", &people), by).await.unwrap();
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
    sqlx::raw_sql(attack).execute(&pool).await.unwrap();
    let report = verify(&pool, None).await.unwrap();
    let named = |finding: &Finding| matches!(finding, Finding::Row(d) if d.table == "note" && d.field == field);
    assert!(report.findings.iter().any(named), "{report:?}");
}
