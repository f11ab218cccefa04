//! One happening, one question: what signals are gathered into, answer and review, two people who act at once.

use chrono::Duration;
use quality::episode::{Answer, Aspect, Decision, EpisodeRefusal, NotTheirs};
use quality::object::ObjectKind;
use quality::role::Role;
use quality::sample::Content;
use quality::shift::Shift;
use quality::signal::{Broken, SignalState};
use spc::rules::{Rule, Side};
use sqlx::PgPool;
use store::StoreError;
use store::answers::{By, answer, review, review_many};
use store::charts::SmallAsked;
use store::episodes::{EpisodeFilter, EpisodeRow, list};
use store::limits::LimitsChange;
use uuid::Uuid;

use crate::common::{self, Kept, Site, accepted, act, decided, episode, kept_signals, person, save_wall, site};

fn said(text: &str) -> Answer {
    Answer {
        cause: None,
        cause_text: Some(text.into()),
        nothing_found: false,
        action: "Changed it.".into(),
        ..Answer::default()
    }
}

async fn raised(pool: &PgPool) -> (Site, Uuid) {
    let site = site(pool, "").await;
    let saved = save_wall(pool, &site, 0, 5.9).await;
    (site, saved.asking[0])
}

/// Episodes of where the wall lies, in the order of their points.
async fn of_means(pool: &PgPool) -> Vec<EpisodeRow> {
    let mut all = list(pool, &EpisodeFilter::default(), 100).await.unwrap();
    all.retain(|episode| episode.aspect == Aspect::Location && !episode.gone);
    all.sort_by_key(|episode| episode.from_number);
    all
}

async fn means(pool: &PgPool, site: &Site) -> Vec<Kept> {
    let mut all = kept_signals(pool, site.wall).await;
    all.retain(|signal| signal.panel == "mean" && !signal.withdrawn);
    all
}

/// Samples from a minute on, one a minute; the questions they ask about where the wall lies.
async fn save_all(pool: &PgPool, site: &Site, from: i64, means: &[f64]) -> usize {
    let mut questions = 0;
    for (i, mean) in means.iter().enumerate() {
        for id in save_wall(pool, site, from + i as i64, *mean).await.asking {
            questions += usize::from(episode(pool, id).await.aspect == Aspect::Location);
        }
    }
    questions
}

/// Plans that are right for every value, as the server has them, and by indexes, as where a table is long; one connection,
/// so that all it reads is counted.
async fn as_served(pool: &PgPool) -> PgPool {
    let plans = [("plan_cache_mode", "force_generic_plan"), ("enable_seqscan", "off")];
    let options = pool.connect_options().as_ref().clone().options(plans);
    sqlx::postgres::PgPoolOptions::new().max_connections(1).connect_with(options).await.unwrap()
}

/// Episodes that were read so far on this connection.
async fn episodes_read(pool: &PgPool) -> i64 {
    sqlx::query("select pg_stat_force_next_flush()").execute(pool).await.unwrap();
    let read = "select idx_tup_fetch + seq_tup_read from pg_stat_user_tables where relname = 'episode'";
    sqlx::query_scalar(read).fetch_one(pool).await.unwrap()
}

/// So many episodes of the wall, an hour apart, before everything else.
async fn were_there(pool: &PgPool, site: &Site, many: i32, state: &str) {
    sqlx::query(
        "insert into episode (id, characteristic_id, aspect, side, from_taken_at, from_number, to_taken_at, to_number,
             raised_at, state, trial)
         select gen_random_uuid(), $1, 'location', 'above', at, n, at, n, at, $4, false
         from generate_series(1, $3) n, lateral (select $2 - (n || ' hours')::interval as at) t",
    )
    .bind(site.wall)
    .bind(site.since)
    .bind(many)
    .bind(state)
    .execute(pool)
    .await
    .unwrap();
    sqlx::query("analyze episode").execute(pool).await.unwrap();
}

#[sqlx::test]
async fn what_waits_is_looked_through_once_for_all_characteristics(pool: PgPool) {
    const WAITING: i32 = 100;
    let site = site(&pool, "").await;
    were_there(&pool, &site, WAITING, "open").await;
    // Where few wait the database takes the index by time instead of it, if it thinks so.
    sqlx::query("drop index episode_waiting").execute(&pool).await.unwrap();
    let served = as_served(&pool).await;
    let before = episodes_read(&served).await;
    let stations = store::rounds::list(&served, None, site.since).await.unwrap();
    let rounds = episodes_read(&served).await - before;
    let small = store::charts::small(&served, None, None, &SmallAsked { since: None, last: 10 }).await.unwrap();
    let charts = episodes_read(&served).await - before - rounds;
    let stops = &stations[0].characteristics;
    assert_eq!((stops.len(), small.len()), (3, 3));
    let open = |of: Uuid| if of == site.wall { i64::from(WAITING) } else { 0 };
    assert!(stops.iter().all(|stop| i64::from(stop.open_episodes) == open(stop.id)), "{stops:?}");
    assert!(small.iter().all(|chart| chart.open_episodes == open(chart.id)), "{small:?}");
    let once = 1..i64::from(2 * WAITING);
    assert!(once.contains(&rounds) && once.contains(&charts), "{rounds} and {charts} read");
}

#[sqlx::test]
async fn a_signal_costs_the_same_however_many_came_before(pool: PgPool) {
    const BEFORE: i32 = 3000;
    let site = site(&pool, "").await;
    for before in [5.0, 5.01] {
        save_wall(&pool, &site, 0, before).await;
    }
    were_there(&pool, &site, BEFORE, "reviewed").await;
    let served = as_served(&pool).await;
    let before = episodes_read(&served).await;
    assert_eq!(save_wall(&served, &site, 2, 5.9).await.asking.len(), 1);
    let read = episodes_read(&served).await - before;
    assert!((1..100).contains(&read), "{read} of {BEFORE} read");
}

#[sqlx::test]
async fn one_shift_of_the_mean_is_one_question_however_many_rules_it_breaks(pool: PgPool) {
    let site = site(&pool, "").await;
    // Two of three, four of five, eight in a row, beyond.
    let shifted = [5.0, 5.13, 5.13, 5.08, 5.13, 5.13, 5.2, 5.08, 5.13, 5.2];
    assert_eq!(save_all(&pool, &site, 0, &shifted).await, 1);
    let signals = means(&pool, &site).await;
    assert!(signals.len() >= 5, "{signals:?}");
    let [one] = &of_means(&pool).await[..] else { panic!("one episode") };
    assert_eq!((one.side, one.from_number, one.to_number, one.state), (Some(Side::Above), 1, 10, SignalState::Open));
    let first = one.patterns[0];
    assert_eq!((first.rule, first.points), (Broken::Chart(Rule::OneSide { n: 8 }), 9), "the most telling first");
    let beyond = one.patterns.iter().find(|p| matches!(p.rule, Broken::Chart(Rule::Beyond { .. }))).unwrap();
    assert_eq!(beyond.signals, 2);
    answer(&pool, one.id, 1, By::at(site.technician, site.since), said("new lot")).await.unwrap();
    assert!(means(&pool, &site).await.iter().all(|signal| signal.state == "answered"));
    review(&pool, one.id, 2, &decided(site.supervisor, site.since, Decision::Accepted, None)).await.unwrap();
    assert!(means(&pool, &site).await.iter().all(|signal| signal.state == "reviewed"));
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
}

#[sqlx::test]
async fn what_joins_an_answered_episode_asks_again_and_only_for_what_has_no_answer(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    answer(&pool, id, 1, By::at(site.technician, site.since), said("worn die")).await.unwrap();
    let next = save_wall(&pool, &site, 1, 5.9).await;
    assert!(next.asking.contains(&id), "{next:?}");
    let view = episode(&pool, id).await;
    assert_eq!((view.state, view.version), (SignalState::Open, 3));
    assert_eq!(view.answers[0].cause.as_deref(), Some("worn die"), "the answer given is there to be given again");
    answer(&pool, id, 3, By::at(site.technician, site.since + Duration::minutes(2)), said("worn die")).await.unwrap();
    let view = episode(&pool, id).await;
    let covered: Vec<usize> = view.answers.iter().map(|answer| answer.signals.len()).collect();
    assert_eq!((view.state, covered.iter().sum::<usize>()), (SignalState::Answered, view.signals.len()));
    assert_eq!(view.answers[0].signals.len(), 1, "the first one stays with what it was given for");
}

#[sqlx::test]
async fn what_joins_an_open_episode_asks_nothing_new_and_keeps_what_is_being_typed(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    let next = save_wall(&pool, &site, 1, 5.9).await;
    assert!(!next.asking.contains(&id));
    answer(&pool, id, 1, By::at(site.technician, site.since), said("worn die")).await.unwrap();
    assert_eq!(episode(&pool, id).await.state, SignalState::Answered);
}

#[sqlx::test]
async fn after_its_review_a_pattern_that_goes_on_is_a_new_episode_that_names_the_one_before(pool: PgPool) {
    let site = site(&pool, "").await;
    save_all(&pool, &site, 0, &[5.02; 8]).await;
    let [before] = &of_means(&pool).await[..] else { panic!("one episode") };
    answer(&pool, before.id, 1, By::at(site.technician, site.since), said("new lot")).await.unwrap();
    review(&pool, before.id, 2, &decided(site.supervisor, site.since, Decision::Accepted, None)).await.unwrap();
    assert_eq!(save_all(&pool, &site, 8, &[5.02; 3]).await, 1);
    let after = of_means(&pool).await.pop().unwrap();
    assert_eq!((after.from_number, after.to_number), (2, 11));
    let follows = episode(&pool, after.id).await.follows.unwrap();
    assert_eq!((follows.id, follows.answer.unwrap().cause.as_deref()), (before.id, Some("new lot")));
}

#[sqlx::test]
async fn a_late_sample_splits_an_answered_episode_and_each_part_shows_the_answer(pool: PgPool) {
    let site = site(&pool, "").await;
    save_all(&pool, &site, 0, &[5.0]).await;
    save_wall(&pool, &site, 10, 5.9).await;
    save_wall(&pool, &site, 20, 5.9).await;
    let [one] = &of_means(&pool).await[..] else { panic!("one episode") };
    answer(&pool, one.id, one_version(&pool, one.id).await, By::at(site.technician, site.since), said("worn die"))
        .await
        .unwrap();
    // Two, or else two of three would still be near the limit.
    save_wall(&pool, &site, 13, 5.0).await;
    save_wall(&pool, &site, 16, 5.0).await;
    let parts = of_means(&pool).await;
    let lie: Vec<_> = parts.iter().map(|part| (part.from_number, part.to_number, part.state)).collect();
    assert_eq!(lie, [(2, 2, SignalState::Answered), (3, 3, SignalState::Answered)]);
    for part in &parts {
        let view = episode(&pool, part.id).await;
        assert_eq!(view.answers.len(), 1, "{view:?}");
        assert!(view.answers[0].signals.iter().any(|id| view.signals.iter().any(|s| s.id == *id)));
    }
    assert_eq!(parts[0].id, one.id, "the first part is the episode that it was");
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
    // What came between is withdrawn: they are one again, and nothing is asked.
    let engineer = person(site.engineer, Role::Engineer);
    let late: Vec<Uuid> = sqlx::query_scalar("select id from sample where number > 3").fetch_all(&pool).await.unwrap();
    let at = site.since + Duration::hours(1);
    for sample in late {
        store::samples::withdraw(&pool, sample, 1, &engineer, at, "wrong part").await.unwrap();
    }
    let [again] = &of_means(&pool).await[..] else { panic!("one episode") };
    assert_eq!((again.id, again.state), (one.id, SignalState::Answered));
    assert_eq!(episode(&pool, parts[1].id).await.id, one.id, "a link to the other part leads there");
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
}

async fn one_version(pool: &PgPool, id: Uuid) -> i32 {
    episode(pool, id).await.version
}

#[sqlx::test]
async fn nothing_reaches_across_a_restart(pool: PgPool) {
    let site = site(&pool, "").await;
    save_all(&pool, &site, 0, &[5.0, 5.9, 5.9, 5.9]).await;
    let third: Uuid = sqlx::query_scalar("select id from sample where number = 3").fetch_one(&pool).await.unwrap();
    let restart = LimitsChange::Restart { sample: third, reason: "Die changed.".into() };
    act(&pool, site.wall, &restart, site.supervisor, site.since).await.unwrap();
    let lie: Vec<_> = of_means(&pool).await.iter().map(|e| (e.from_number, e.to_number)).collect();
    assert_eq!(lie, [(2, 2), (3, 4)]);
    let undo = LimitsChange::UndoRestart { sample: third };
    act(&pool, site.wall, &undo, site.supervisor, site.since).await.unwrap();
    assert_eq!(of_means(&pool).await.len(), 1);
}

/// Shifts of eight hours, by the clock of the site.
async fn in_shifts(pool: &PgPool) {
    let mut conn = pool.acquire().await.unwrap();
    let begins = |hour| chrono::NaiveTime::from_hms_opt(hour, 0, 0).unwrap();
    let shifts = [("Early", 6), ("Late", 14), ("Night", 22)]
        .map(|(name, hour)| Shift { name: name.into(), begins: begins(hour) });
    let site = store::sites::Site { name: "Nine".into(), time_zone: "UTC".into(), shifts: shifts.to_vec() };
    store::sites::set_site(&mut conn, &site).await.unwrap();
}

#[sqlx::test]
async fn what_ended_before_the_running_shift_asks_no_technician_and_is_seen_in_review(pool: PgPool) {
    let site = site(&pool, "").await;
    in_shifts(&pool).await;
    save_all(&pool, &site, 0, &[5.0]).await;
    let mut late = common::sample(&site, site.wall, 5, &[5.9, 5.9, 5.91]);
    late.arrived_at = site.since + Duration::hours(9);
    let saved = store::samples::save(&pool, &late).await.unwrap();
    assert!(saved.asking.is_empty());
    assert!(store::episodes::waiting(&pool).await.unwrap().is_empty());
    let found = of_means(&pool).await;
    assert_eq!(found[0].state, SignalState::FoundLate);
    let at = late.arrived_at;
    review(&pool, found[0].id, 1, &decided(site.supervisor, at, Decision::Seen, None)).await.unwrap();
    assert_eq!(episode(&pool, found[0].id).await.state, SignalState::Reviewed);
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
}

#[sqlx::test]
async fn an_answer_beside_what_was_found_late_still_waits_for_its_review(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    answer(&pool, id, 1, By::at(site.technician, site.since), said("worn die")).await.unwrap();
    in_shifts(&pool).await;
    let mut late = common::sample(&site, site.wall, 1, &[5.9, 5.9, 5.91]);
    late.arrived_at = site.since + Duration::hours(9);
    store::samples::save(&pool, &late).await.unwrap();
    let view = episode(&pool, id).await;
    assert_eq!(view.state, SignalState::FoundLate);
    let seen = decided(site.supervisor, late.arrived_at, Decision::Seen, None);
    review(&pool, id, view.version, &seen).await.unwrap();
    let view = episode(&pool, id).await;
    assert_eq!((view.state, view.answers[0].review.is_none()), (SignalState::Answered, true));
    review(&pool, id, view.version, &decided(site.supervisor, late.arrived_at, Decision::Accepted, None))
        .await
        .unwrap();
    assert_eq!(episode(&pool, id).await.state, SignalState::Reviewed);
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
}

#[sqlx::test]
async fn what_was_found_late_and_goes_on_in_the_running_shift_asks_after_all(pool: PgPool) {
    let site = site(&pool, "").await;
    in_shifts(&pool).await;
    for minutes in 0..8 {
        let mut late = common::sample(&site, site.wall, minutes, &[5.01, 5.02, 5.03]);
        late.arrived_at = site.since + Duration::hours(9);
        assert!(store::samples::save(&pool, &late).await.unwrap().asking.is_empty());
    }
    assert_eq!(of_means(&pool).await[0].state, SignalState::FoundLate);
    let next = save_wall(&pool, &site, 9 * 60, 5.02).await;
    let [now] = &of_means(&pool).await[..] else { panic!("one episode") };
    assert_eq!(now.state, SignalState::Open);
    assert!(next.asking.contains(&now.id));
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
}

#[sqlx::test]
async fn open_answered_sent_back_answered_accepted(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    let at = site.since;
    answer(&pool, id, 1, By::at(site.technician, at), said("worn die")).await.unwrap();
    review(&pool, id, 2, &decided(site.supervisor, at, Decision::SentBack, Some("which die?"))).await.unwrap();
    assert_eq!(episode(&pool, id).await.state, SignalState::SentBack);
    answer(&pool, id, 3, By::at(site.other_technician, at + Duration::minutes(1)), said("die 4")).await.unwrap();
    review(&pool, id, 4, &decided(site.supervisor, at, Decision::Accepted, None)).await.unwrap();
    let view = episode(&pool, id).await;
    assert_eq!((view.state, view.version), (SignalState::Reviewed, 5));
    let told: Vec<_> =
        view.answers.iter().map(|a| (a.cause.as_deref(), a.review.as_ref().map(|r| r.decision))).collect();
    assert_eq!(told, [(Some("worn die"), Some(Decision::SentBack)), (Some("die 4"), Some(Decision::Accepted))]);
}

#[sqlx::test]
async fn of_two_who_answer_at_once_the_second_is_told_and_overwrites_nothing(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    let (one, two) = futures::join!(
        answer(&pool, id, 1, By::at(site.technician, site.since), said("first")),
        answer(&pool, id, 1, By::at(site.other_technician, site.since), said("second")),
    );
    let refused = if one.is_err() { one } else { two };
    assert!(matches!(refused, Err(StoreError::Episode(EpisodeRefusal::Changed(_)))), "{refused:?}");
    assert_eq!(episode(&pool, id).await.answers.len(), 1);
}

#[sqlx::test]
async fn nobody_reviews_their_own_answer_not_even_around_the_code(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    answer(&pool, id, 1, By::at(site.supervisor, site.since), said("worn die")).await.unwrap();
    let refused = review(&pool, id, 2, &decided(site.supervisor, site.since, Decision::Accepted, None)).await;
    let own = NotTheirs::OwnAnswer;
    assert!(matches!(refused, Err(StoreError::Episode(EpisodeRefusal::NotTheirs(why))) if why == own), "{refused:?}");
    let forced = sqlx::query(
        "with kept as (insert into review (id, person_id, at, decision)
                       select gen_random_uuid(), person_id, now(), 'accepted' from answer returning id, person_id)
         insert into review_of (review_id, reviewer, signal_id, answer_id, answered_by)
         select kept.id, kept.person_id, o.signal_id, a.id, a.person_id
         from kept, answer a join answer_of o on o.answer_id = a.id",
    )
    .execute(&pool)
    .await
    .unwrap_err();
    assert_eq!(forced.as_database_error().unwrap().constraint(), Some("review_not_own"));
}

#[sqlx::test]
async fn nobody_reviews_an_episode_of_their_own_samples(pool: PgPool) {
    let site = site(&pool, "").await;
    let mut own = common::sample(&site, site.wall, 0, &[5.9, 5.9, 5.91]);
    own.person = site.supervisor;
    let id = store::samples::save(&pool, &own).await.unwrap().asking[0];
    answer(&pool, id, 1, By::at(site.technician, site.since), said("worn die")).await.unwrap();
    let refused = review(&pool, id, 2, &decided(site.supervisor, site.since, Decision::Accepted, None)).await;
    let own = NotTheirs::OwnSample;
    assert!(matches!(refused, Err(StoreError::Episode(EpisodeRefusal::NotTheirs(why))) if why == own), "{refused:?}");
}

#[sqlx::test]
async fn nor_one_of_which_they_corrected_a_flagged_point(pool: PgPool) {
    let site = site(&pool, "").await;
    let other = save_wall(&pool, &site, 0, 5.9).await;
    let id = other.asking[0];
    answer(&pool, id, 1, By::at(site.technician, site.since), said("worn die")).await.unwrap();
    let may_review = async || store::episodes::find(&pool, site.supervisor, id).await.unwrap().steps.review;
    assert!(may_review().await);
    let sue = person(site.supervisor, Role::Supervisor);
    let content = &accepted(Content::readings([5.96, 5.97, 5.98]));
    store::samples::correct(&pool, other.sample, 1, &sue, site.since, content, "slip").await.unwrap();
    assert!(!may_review().await);
}

#[sqlx::test]
async fn many_are_decided_on_at_once_and_those_that_refuse_it_are_named(pool: PgPool) {
    let site = site(&pool, "").await;
    let mut seen = Vec::new();
    for i in 0..5 {
        let mean = if i % 2 == 0 { 5.9 } else { 4.1 };
        let id = save_wall(&pool, &site, i * 10, mean).await.asking[0];
        let person = if i == 1 { site.supervisor } else { site.technician };
        answer(&pool, id, 1, By::at(person, site.since), said("worn die")).await.unwrap();
        seen.push((id, if i == 2 { 1 } else { 2 }));
        // Clean points between them, whose ranges lie on the other side.
        for minutes in [3, 6] {
            let clean = common::sample(&site, site.wall, i * 10 + minutes, &[4.88, 5.0, 5.12]);
            store::samples::save(&pool, &clean).await.unwrap();
        }
    }
    seen.push((Uuid::nil(), 1));
    // Of another characteristic all are refused.
    let new = store::samples::NewSample { visit: common::leaked(40, 50), ..common::sample(&site, site.leaks, 0, &[]) };
    let leaks = store::samples::save(&pool, &new).await.unwrap().asking[0];
    seen.push((leaks, 1));
    let accepted = decided(site.supervisor, site.since, Decision::Accepted, None);
    let refused = review_many(&pool, &seen, &accepted).await.unwrap();
    let why = |id: Uuid| refused.iter().find(|(of, _)| *of == id).map(|(_, why)| why);
    assert_eq!(refused.len(), 4, "{refused:?}");
    assert!(matches!(why(seen[1].0), Some(StoreError::Episode(EpisodeRefusal::NotTheirs(NotTheirs::OwnAnswer)))));
    assert!(matches!(why(seen[2].0), Some(StoreError::Episode(EpisodeRefusal::Changed(_)))));
    assert!(matches!(why(Uuid::nil()), Some(StoreError::Missing(ObjectKind::Episode))));
    for (i, state) in [(0, SignalState::Reviewed), (1, SignalState::Answered), (3, SignalState::Reviewed)] {
        assert_eq!(episode(&pool, seen[i].0).await.state, state, "{i}");
    }
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
}

#[sqlx::test]
async fn an_unknown_cause_is_refused_and_nothing_is_stored(pool: PgPool) {
    let (site, id) = raised(&pool).await;
    let unknown = Answer { cause: Some(Uuid::new_v4()), cause_text: None, ..said("") };
    let refused = answer(&pool, id, 1, By::at(site.technician, site.since), unknown).await;
    assert!(matches!(refused, Err(StoreError::Missing(ObjectKind::Cause))), "{refused:?}");
    assert_eq!(episode(&pool, id).await.version, 1);
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
    let id = save_wall(&pool, &site, 0, 5.9).await.asking[0];
    let mould = store::causes::list(&pool, Some(site.wall)).await.unwrap()[1].id;
    let given = Answer {
        cause: Some(mould),
        cause_text: None,
        nothing_found: false,
        action: "Changed back.".into(),
        ..Answer::default()
    };
    answer(&pool, id, 1, By::at(site.technician, chrono::Utc::now()), given).await.unwrap();
    assert_eq!(names().await, ["Mould changed", "Tool worn"]);
}

#[sqlx::test]
async fn where_else_a_cause_was_named_is_told(pool: PgPool) {
    let site = site(&pool, "").await;
    let mut ids = Vec::new();
    for (i, cause) in ["Worn die", "worn DIE", "new lot", "worn die"].into_iter().enumerate() {
        let i = i as i64;
        ids.push(save_wall(&pool, &site, i * 10, if i % 2 == 0 { 5.9 } else { 4.1 }).await.asking[0]);
        answer(&pool, ids[i as usize], 1, By::at(site.technician, site.since), said(cause)).await.unwrap();
        // Clean points between them, whose ranges lie on the other side.
        for minutes in [3, 6] {
            let clean = common::sample(&site, site.wall, i * 10 + minutes, &[4.88, 5.0, 5.12]);
            store::samples::save(&pool, &clean).await.unwrap();
        }
    }
    let told = store::episodes::explain(&pool, ids[3]).await.unwrap().same_cause.unwrap();
    assert_eq!((told.cause.as_str(), told.episodes), ("worn die", 2));
    assert_eq!(told.latest.iter().map(|before| before.id).collect::<Vec<_>>(), [ids[1], ids[0]]);
    let alone = store::episodes::explain(&pool, ids[2]).await.unwrap().same_cause.unwrap();
    assert_eq!((alone.episodes, alone.latest.len()), (0, 0));
    let none = save_wall(&pool, &site, 50, 5.9).await.asking[0];
    assert!(store::episodes::explain(&pool, none).await.unwrap().same_cause.is_none());
}
