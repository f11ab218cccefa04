//! What goes with an answer: a restart of the rules, a proposed cause, files, what is added later; sent twice, kept once.

use chrono::{DateTime, Duration, Utc};
use quality::cause::{CauseGroup, CausePlace, CauseState};
use quality::episode::{Addition, Answer, Decision, EpisodeRefusal, NotTheirs};
use quality::field::{Allowed, WrongField};
use quality::object::ObjectKind;
use rstest::rstest;
use sqlx::PgPool;
use store::StoreError;
use store::answers::{By, add_to, answer, review};
use store::limits::LimitsChange;
use store::trail::verify;
use uuid::Uuid;

use crate::common::{Site, act, decided, episode, save_wall, site};

const PNG: &[u8] = b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\0\x01\0\0\0\x01\x08\x06\0\0\0";

fn corrected() -> Answer {
    Answer {
        cause_text: Some("worn die".into()),
        action: "Changed the die.".into(),
        corrected: true,
        ..Answer::default()
    }
}

fn minute(site: &Site, minutes: i64) -> DateTime<Utc> {
    site.since + Duration::minutes(minutes)
}

/// Numbers of the samples that rules start afresh with.
async fn restarts(pool: &PgPool, site: &Site) -> Vec<i64> {
    sqlx::query_scalar("select number from sample where characteristic_id = $1 and restart order by taken_at")
        .bind(site.wall)
        .fetch_all(pool)
        .await
        .unwrap()
}

/// A site whose wall ran beyond the limit at minute 0; the episode, answered at minute 10 with "process corrected".
async fn corrected_at_ten(pool: &PgPool) -> (Site, Uuid) {
    store::migrate(pool).await.unwrap();
    let site = site(pool, "").await;
    let id = save_wall(pool, &site, 0, 5.9).await.asking[0];
    answer(pool, id, 1, By::at(site.technician, minute(&site, 10)), corrected()).await.unwrap();
    (site, id)
}

async fn whole(pool: &PgPool) {
    let report = verify(pool, None).await.unwrap();
    assert!(report.is_whole(), "{report:?}");
}

#[sqlx::test]
async fn rules_start_afresh_with_the_next_sample_after_a_correction(pool: PgPool) {
    let (site, id) = corrected_at_ten(&pool).await;
    let told = episode(&pool, id).await.answers[0].corrected.clone().unwrap();
    assert_eq!((told.sample, told.dropped), (None, false));
    // One that was taken before it comes late, and is not after it.
    save_wall(&pool, &site, 5, 5.0).await;
    assert!(restarts(&pool, &site).await.is_empty());
    save_wall(&pool, &site, 20, 5.0).await;
    save_wall(&pool, &site, 30, 5.0).await;
    assert_eq!(restarts(&pool, &site).await, [3]);
    assert_eq!(episode(&pool, id).await.answers[0].corrected.clone().unwrap().sample, Some(3));
    whole(&pool).await;
}

#[sqlx::test]
async fn a_pattern_does_not_reach_over_the_correction(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let site = site(&pool, "").await;
    for minutes in 0..7 {
        save_wall(&pool, &site, minutes, 5.04).await;
    }
    let id = save_wall(&pool, &site, 7, 5.9).await.asking[0];
    answer(&pool, id, 1, By::at(site.technician, minute(&site, 10)), corrected()).await.unwrap();
    // Without the restart this would be the ninth above the centre.
    assert!(save_wall(&pool, &site, 20, 5.04).await.asking.is_empty());
    assert_eq!(restarts(&pool, &site).await, [9]);
}

#[sqlx::test]
async fn an_answer_that_had_to_wait_restarts_at_the_sample_taken_since(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let site = site(&pool, "").await;
    let id = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    save_wall(&pool, &site, 20, 5.0).await;
    save_wall(&pool, &site, 30, 5.0).await;
    let by =
        By { arrived_at: minute(&site, 40), entry: Some(Uuid::new_v4()), ..By::at(site.technician, minute(&site, 10)) };
    answer(&pool, id, 1, by, corrected()).await.unwrap();
    assert_eq!(restarts(&pool, &site).await, [2]);
    let view = episode(&pool, id).await;
    assert_eq!((view.answers[0].at, view.answers.len()), (minute(&site, 10), 1));
    // Sent again, since the first answer to it got lost, it is kept once.
    assert_eq!(answer(&pool, id, 1, by, corrected()).await.unwrap(), id);
    assert_eq!(episode(&pool, id).await.answers.len(), 1);
    let other = By { person: site.other_technician, ..by };
    assert!(matches!(answer(&pool, id, 1, other, corrected()).await, Err(StoreError::EntryReused)));
    whole(&pool).await;
}

#[sqlx::test]
async fn a_device_whose_clock_is_behind_does_not_undo_what_it_answers(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let site = site(&pool, "").await;
    for minutes in 0..7 {
        save_wall(&pool, &site, minutes, 5.04).await;
    }
    let id = save_wall(&pool, &site, 7, 5.04).await.asking[0];
    let by = By { arrived_at: minute(&site, 8), ..By::at(site.technician, minute(&site, 3)) };
    answer(&pool, id, 1, by, corrected()).await.unwrap();
    assert!(restarts(&pool, &site).await.is_empty());
    assert!(!episode(&pool, id).await.gone);
    save_wall(&pool, &site, 9, 5.04).await;
    assert_eq!(restarts(&pool, &site).await, [9]);
    whole(&pool).await;
}

#[sqlx::test]
async fn a_sample_that_comes_late_takes_the_restart_if_it_is_the_first_after_the_correction(pool: PgPool) {
    let (site, id) = corrected_at_ten(&pool).await;
    save_wall(&pool, &site, 30, 5.0).await;
    save_wall(&pool, &site, 20, 5.0).await;
    assert_eq!(restarts(&pool, &site).await, [3]);
    assert_eq!(episode(&pool, id).await.answers[0].corrected.clone().unwrap().sample, Some(3));
    save_wall(&pool, &site, 25, 5.0).await;
    assert_eq!(restarts(&pool, &site).await, [3]);
    whole(&pool).await;
}

#[rstest]
#[case::before_a_sample_came(false)]
#[case::after_one_came(true)]
#[sqlx::test]
async fn an_answer_that_is_overruled_takes_its_restart_with_it(#[ignore] pool: PgPool, #[case] came: bool) {
    let (site, id) = corrected_at_ten(&pool).await;
    if came {
        save_wall(&pool, &site, 20, 5.0).await;
        assert_eq!(restarts(&pool, &site).await, [2]);
    }
    let no = decided(site.supervisor, minute(&site, 40), Decision::Overruled, Some("the die was not worn"));
    review(&pool, id, 2, &no).await.unwrap();
    save_wall(&pool, &site, 50, 5.0).await;
    assert!(restarts(&pool, &site).await.is_empty());
    assert!(episode(&pool, id).await.answers[0].corrected.clone().unwrap().dropped);
    whole(&pool).await;
}

#[sqlx::test]
async fn a_restart_that_two_answers_ask_for_stays_until_both_are_overruled(pool: PgPool) {
    let (site, one) = corrected_at_ten(&pool).await;
    // Below the limit, taken before the correction: an episode of its own.
    let two = save_wall(&pool, &site, 5, 4.1).await.asking[0];
    answer(&pool, two, 1, By::at(site.technician, minute(&site, 12)), corrected()).await.unwrap();
    save_wall(&pool, &site, 20, 5.0).await;
    assert_eq!(restarts(&pool, &site).await, [3]);
    let no = decided(site.supervisor, minute(&site, 40), Decision::Overruled, Some("no"));
    review(&pool, one, episode(&pool, one).await.version, &no).await.unwrap();
    assert_eq!(restarts(&pool, &site).await, [3]);
    review(&pool, two, episode(&pool, two).await.version, &no).await.unwrap();
    assert!(restarts(&pool, &site).await.is_empty());
    whole(&pool).await;
}

#[sqlx::test]
async fn a_restart_that_somebody_undid_is_not_brought_back_and_one_they_marked_is_not_taken(pool: PgPool) {
    let (site, _) = corrected_at_ten(&pool).await;
    let first = save_wall(&pool, &site, 30, 5.0).await.sample;
    act(&pool, site.wall, &LimitsChange::UndoRestart { sample: first }, site.engineer, minute(&site, 31))
        .await
        .unwrap();
    save_wall(&pool, &site, 20, 5.0).await;
    assert!(restarts(&pool, &site).await.is_empty());
    // A restart that was marked by hand serves an answer that had to wait, and outlives it.
    let id = save_wall(&pool, &site, 40, 4.1).await.asking[0];
    let next = save_wall(&pool, &site, 60, 5.0).await.sample;
    let by_hand = LimitsChange::Restart { sample: next, reason: "new die".into() };
    act(&pool, site.wall, &by_hand, site.engineer, minute(&site, 61)).await.unwrap();
    let version = episode(&pool, id).await.version;
    answer(&pool, id, version, By::at(site.technician, minute(&site, 50)), corrected()).await.unwrap();
    let no = decided(site.supervisor, minute(&site, 70), Decision::Overruled, Some("no"));
    review(&pool, id, version + 1, &no).await.unwrap();
    assert_eq!(restarts(&pool, &site).await, [5]);
    whole(&pool).await;
}

#[sqlx::test]
async fn what_is_proposed_waits_in_the_catalogue_until_an_engineer_places_it(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let site = site(&pool, "").await;
    let proposes = |text: &str| Answer { cause_text: Some(text.into()), propose: true, ..corrected() };
    let id = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    answer(&pool, id, 1, By::at(site.technician, site.since), proposes("Die not heated")).await.unwrap();
    let at = Utc::now();
    let proposed = store::causes::catalogue(&pool).await.unwrap().remove(0);
    assert_eq!(
        (proposed.cause.name.as_str(), proposed.state, proposed.answers),
        ("Die not heated", CauseState::Proposed, 1)
    );
    assert_eq!(proposed.proposed_by.as_deref(), Some("tess"));
    let offered = async || store::causes::list(&pool, Some(site.wall)).await.unwrap().into_iter().map(|c| c.name);
    assert!(!offered().await.any(|name| name == "Die not heated"));
    // The same again, in other letters, is the same entry; so is what is in the catalogue already.
    let two = save_wall(&pool, &site, 10, 4.1).await.asking[0];
    answer(&pool, two, 1, By::at(site.technician, site.since), proposes("die NOT heated")).await.unwrap();
    let three = save_wall(&pool, &site, 20, 5.9).await.asking[0];
    answer(&pool, three, 1, By::at(site.technician, site.since), proposes("tool worn")).await.unwrap();
    assert_eq!(store::causes::catalogue(&pool).await.unwrap().len(), 4);
    assert_eq!(episode(&pool, three).await.answers[0].cause.as_deref(), Some("Tool worn"));

    let id = proposed.cause.id;
    let place = |group, state| CausePlace { group, area: proposed.area, state, same_as: None };
    let by = (site.engineer, at);
    let nowhere = store::causes::change(&pool, id, 1, place(None, CauseState::InUse), by).await;
    let in_use = WrongField::new("group", Allowed::GroupInUse);
    assert!(matches!(nowhere, Err(StoreError::Field(wrong)) if wrong == in_use), "{nowhere:?}");
    let machine = Some(CauseGroup::Machine);
    store::causes::change(&pool, id, 1, place(machine, CauseState::InUse), by).await.unwrap();
    assert!(offered().await.any(|name| name == "Die not heated"));
    let late = store::causes::change(&pool, id, 1, place(machine, CauseState::Retired), by).await;
    assert!(matches!(late, Err(StoreError::Changed(_))), "{late:?}");
    store::causes::change(&pool, id, 2, place(machine, CauseState::Retired), by).await.unwrap();
    assert!(!offered().await.any(|name| name == "Die not heated"));
    assert_eq!(episode(&pool, two).await.answers[0].cause.as_deref(), Some("Die not heated"));
    let twice = store::causes::add(&pool, "TOOL worn", CauseGroup::Machine, None, (Some(site.engineer), at)).await;
    assert!(matches!(twice, Err(StoreError::SetUp(_))), "{twice:?}");
    whole(&pool).await;
}

#[sqlx::test]
async fn a_file_goes_with_one_answer_of_who_sent_it(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let site = site(&pool, "").await;
    let (file, by) = (Uuid::new_v4(), (site.technician, Utc::now()));
    for _ in 0..2 {
        store::files::keep(&pool, file, "die.png", PNG, by).await.unwrap();
    }
    let other = store::files::keep(&pool, file, "die.png", &[PNG, b"x"].concat(), by).await;
    assert!(matches!(other, Err(StoreError::EntryReused)), "{other:?}");
    let read = async |viewer| store::files::read(&pool, file, viewer).await.map(|(_, content)| content);
    assert_eq!(read(site.technician).await.unwrap(), PNG);
    assert!(matches!(read(site.supervisor).await, Err(StoreError::Missing(ObjectKind::File))));

    let id = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    let with = Answer { files: vec![file], ..corrected() };
    let not_theirs = answer(&pool, id, 1, By::at(site.other_technician, site.since), with.clone()).await;
    assert!(matches!(not_theirs, Err(StoreError::Missing(ObjectKind::File))), "{not_theirs:?}");
    answer(&pool, id, 1, By::at(site.technician, site.since), with.clone()).await.unwrap();
    let files = episode(&pool, id).await.answers[0].files.clone();
    assert_eq!((files[0].name.as_str(), files[0].bytes), ("die.png", PNG.len() as i64));
    assert_eq!(read(site.supervisor).await.unwrap(), PNG);
    let two = save_wall(&pool, &site, 10, 4.1).await.asking[0];
    assert!(answer(&pool, two, 1, By::at(site.technician, site.since), with).await.is_err());
    whole(&pool).await;
}

#[sqlx::test]
async fn an_answer_is_added_to_and_who_adds_does_not_review(pool: PgPool) {
    let (site, id) = corrected_at_ten(&pool).await;
    let before = episode(&pool, id).await;
    let file = Uuid::new_v4();
    store::files::keep(&pool, file, "die.png", PNG, (site.supervisor, Utc::now())).await.unwrap();
    let by = By { entry: Some(Uuid::new_v4()), ..By::at(site.supervisor, minute(&site, 15)) };
    let given = Addition { comment: " Seen on the bench. ".into(), files: vec![file] };
    for _ in 0..2 {
        add_to(&pool, id, before.answers[0].id, by, given.clone()).await.unwrap();
    }
    let view = episode(&pool, id).await;
    let added = &view.answers[0].additions;
    assert_eq!((added.len(), added[0].comment.as_str(), added[0].files.len()), (1, "Seen on the bench.", 1));
    assert_eq!((view.answers[0].action.as_str(), view.version), ("Changed the die.", before.version + 1));
    let own =
        review(&pool, id, view.version, &decided(site.supervisor, minute(&site, 20), Decision::Accepted, None)).await;
    let why = NotTheirs::OwnAnswer;
    assert!(matches!(own, Err(StoreError::Episode(EpisodeRefusal::NotTheirs(not))) if not == why), "{own:?}");
    let elsewhere = add_to(&pool, id, Uuid::nil(), By::at(site.technician, site.since), given.clone()).await;
    assert!(matches!(elsewhere, Err(StoreError::Missing(ObjectKind::Answer))), "{elsewhere:?}");
    let nothing = Addition { comment: "  ".into(), files: vec![] };
    let blank = add_to(&pool, id, before.answers[0].id, By::at(site.technician, site.since), nothing).await;
    assert!(matches!(blank, Err(StoreError::Episode(EpisodeRefusal::Field(_)))), "{blank:?}");
    whole(&pool).await;
}

#[rstest]
#[case::a_cause_moved("update cause set cause_group = 'method' where state = 'proposed'", "cause")]
#[case::an_addition_reworded("update addition set comment = 'Nothing.'", "addition")]
#[case::an_addition_gone("update file set addition_id = null; delete from addition", "addition")]
#[case::a_file_exchanged("update file set content = content || '\\x00'", "file")]
#[case::a_restart_dropped("update planned_restart set dropped = true", "planned_restart")]
#[case::a_correction_denied("update answer set corrected = false", "answer")]
#[sqlx::test]
async fn what_goes_with_an_answer_is_held_against_the_trail(
    #[ignore] pool: PgPool,
    #[case] attack: &'static str,
    #[case] table: &'static str,
) {
    store::migrate(&pool).await.unwrap();
    let site = site(&pool, "").await;
    let id = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    let proposes = Answer { propose: true, ..corrected() };
    answer(&pool, id, 1, By::at(site.technician, site.since), proposes).await.unwrap();
    let file = Uuid::new_v4();
    store::files::keep(&pool, file, "die.png", PNG, (site.technician, Utc::now())).await.unwrap();
    let given = Addition { comment: "Seen.".into(), files: vec![file] };
    let of = episode(&pool, id).await.answers[0].id;
    add_to(&pool, id, of, By::at(site.technician, site.since), given).await.unwrap();
    whole(&pool).await;
    sqlx::raw_sql(attack).execute(&pool).await.unwrap();
    let report = verify(&pool, None).await.unwrap();
    let found = |finding: &store::trail::Finding| format!("{finding:?}").contains(&format!("table: \"{table}\""));
    assert!(report.findings.iter().any(found), "{report:?}");
}
