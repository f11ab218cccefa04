//! A run of the laboratory that is out of control: one episode an analyte, answered and reviewed once.

use chrono::{Duration, Utc};
use quality::analyte::{Assigned, NewAnalyte, NewLevel};
use quality::episode::{Addition, Answer, Decision, EpisodeRefusal, NotTheirs};
use quality::role::Role;
use quality::sample::{Content, Readings};
use quality::signal::{Broken, SignalState};
use quality::trail::Action;
use rstest::rstest;
use spc::multirule::{LabRule, Verdict};
use spc::rules::{Rule, Side};
use sqlx::PgPool;
use store::StoreError;
use store::answers::{By, add_to, answer, review, review_many};
use store::episodes::{EpisodeFilter, EpisodeRow, escalate, list};
use store::lab::{self, NewResult, NewRun, RunView};
use store::signatures::{sign, unsigned};
use store::trail::Finding;
use uuid::Uuid;

use crate::common::{self, accepted, decided, episode, person, trail_of};
use crate::laboratory::{self, Laboratory, laboratory};

/// Those that hold, in the order of their runs.
async fn episodes(pool: &PgPool) -> Vec<EpisodeRow> {
    let mut all = list(pool, &EpisodeFilter::default(), 100).await.unwrap();
    all.retain(|episode| !episode.gone);
    all.sort_by_key(|episode| (episode.run.map(|run| run.number), episode.name.clone()));
    all
}

fn said() -> Answer {
    Answer { cause_text: Some("Air bubble".into()), action: "Primed the pump.".into(), ..Answer::default() }
}

/// Another reading for the result of a level in a run.
async fn correct(laboratory: &Laboratory, (run, level): (&RunView, Uuid), version: i32, value: f64) {
    let sample: Uuid = sqlx::query_scalar("select id from sample where run_id = $1 and characteristic_id = $2")
        .bind(run.id)
        .bind(level)
        .fetch_one(&laboratory.pool)
        .await
        .unwrap();
    let content = Content::Readings(Readings { values: vec![Some(value)], components: vec![] });
    let supervisor = person(laboratory.site.supervisor, Role::Supervisor);
    let (given, at) = (accepted(content), run.taken_at + Duration::minutes(5));
    store::samples::correct(&laboratory.pool, sample, version, &supervisor, at, &given, "Mistyped").await.unwrap();
}

async fn is_whole(pool: &PgPool) {
    let report = store::trail::verify(pool, None).await.unwrap();
    assert!(report.is_whole(), "{report:?}");
}

#[sqlx::test]
async fn what_the_multirule_finds_and_what_the_chart_does_ask_once(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let run = laboratory.run(0, [3.4, 2.3]).await;
    assert_eq!(run.verdict, Verdict::Rejected);
    let [one] = &episodes(&pool).await[..] else { panic!("one episode") };
    assert_eq!((one.name.as_str(), one.run.map(|r| (r.id, r.number))), ("Assay", Some((run.id, 1))));
    assert_eq!((one.state, one.side), (SignalState::Open, Some(Side::Above)));
    let view = episode(&pool, one.id).await;
    let mut found: Vec<(String, Broken)> =
        view.signals.iter().map(|signal| (signal.level.clone().unwrap(), signal.rule)).collect();
    found.sort_by_key(|(level, rule)| (level.clone(), format!("{rule:?}")));
    let (low, high) = (|rule| ("low".to_owned(), rule), ("high".to_owned(), LabRule::TwoTwoS.into()));
    let beyond = Broken::Chart(Rule::Beyond { k: 3.0 });
    assert_eq!(found, [high, low(beyond), low(LabRule::OneThreeS.into()), low(LabRule::TwoTwoS.into())]);
    assert!(matches!(view.patterns[0].rule, Broken::Laboratory(_)), "the rules of the run are said first");
    let called: Vec<String> = sqlx::query_scalar("select kind from notice").fetch_all(&pool).await.unwrap();
    assert_eq!(called, ["run_rejected"], "one call");
    for level in laboratory.levels {
        let filter = EpisodeFilter { characteristic: Some(level), ..EpisodeFilter::default() };
        assert_eq!(list(&pool, &filter, 9).await.unwrap().len(), 1, "found from each of its levels");
        let chart = store::charts::view(&pool, level, &store::charts::Asked::last(30)).await.unwrap();
        assert_eq!(chart.episodes.iter().map(|e| e.id).collect::<Vec<_>>(), [one.id]);
    }
    is_whole(&pool).await;
}

#[sqlx::test]
async fn a_run_asks_where_it_is_rejected_and_each_such_run_asks_for_itself(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    for (hour, z, so_far) in [
        (0, [0.3, -0.4], 0),
        // A warning asks nobody.
        (1, [2.3, 0.1], 0),
        (2, [0.1, 0.1], 0),
        // No point lies beyond the limits of its chart.
        (3, [2.3, -2.4], 1),
        // No clean result between, and yet another run.
        (4, [3.5, 0.0], 2),
    ] {
        laboratory.run(hour, z).await;
        assert_eq!(episodes(&pool).await.len(), so_far, "run of hour {hour}");
    }
    let all = episodes(&pool).await;
    assert_eq!(all.iter().filter_map(|e| e.run).map(|run| run.number).collect::<Vec<_>>(), [4, 5]);
    assert_eq!(all[0].side, None, "one level high, the other low");
    is_whole(&pool).await;
}

#[sqlx::test]
async fn each_analyte_asks_for_itself(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let material = store::sites::add_product(&mut pool.acquire().await.unwrap(), "Control material K-2").await.unwrap();
    let level = NewLevel { name: "only".into(), material, assigned: Assigned { mean: 5.0, sd: 0.5 } };
    let new = NewAnalyte {
        station: laboratory.site.station,
        name: "Turbidity".into(),
        unit: "NTU".into(),
        decimals: 2,
        rules: None,
        levels: vec![level],
        reaction_plan: vec![],
    };
    lab::add_analyte(&pool, &new, laboratory.site.engineer, laboratory.site.since).await.unwrap();
    let bench = laboratory::bench(&pool).await;
    let turbidity = bench.analytes.iter().find(|a| a.name == "Turbidity").unwrap().levels[0].characteristic;
    let mut run = laboratory.new_run(0, [3.4, 0.0]);
    let mut third = run.results[0].clone();
    (third.characteristic, third.accepted) = (turbidity, accepted(Content::readings([7.0])));
    run.results.push(third);
    lab::save(&pool, &run).await.unwrap();
    let names: Vec<String> = episodes(&pool).await.into_iter().map(|episode| episode.name).collect();
    assert_eq!(names, ["Assay", "Turbidity"]);
    let results: Vec<NewResult> = run.results.into_iter().filter(|result| result.characteristic == turbidity).collect();
    lab::save(&pool, &NewRun { results, ..laboratory.new_run(1, [0.0, 0.0]) }).await.unwrap();
    assert_eq!(episodes(&pool).await.len(), 3, "two in a row of turbidity alone");
}

#[sqlx::test]
async fn one_answer_and_one_review_are_of_all_its_levels(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let run = laboratory.run(0, [2.4, 2.3]).await;
    let id = episodes(&pool).await[0].id;
    let at = run.taken_at + Duration::minutes(10);
    answer(&pool, id, 1, By::at(laboratory.site.technician, at), said()).await.unwrap();
    let view = episode(&pool, id).await;
    assert!(view.signals.iter().all(|signal| signal.state == SignalState::Answered), "{:?}", view.signals);
    for level in laboratory.levels {
        let told = trail_of(&pool, level, 50).await;
        assert!(told.iter().any(|entry| entry.action == Action::EpisodeAnswered), "the chain of each level tells it");
    }
    // Who ran it neither answers for it nor reviews it.
    let own = review(&pool, id, 2, &decided(laboratory.site.technician, at, Decision::Accepted, None)).await;
    assert!(matches!(own, Err(StoreError::Episode(EpisodeRefusal::NotTheirs(NotTheirs::OwnAnswer)))), "{own:?}");
    let accepting = decided(laboratory.site.supervisor, at, Decision::Accepted, None);
    assert!(review_many(&pool, &[(id, 2)], &accepting).await.unwrap().is_empty());
    assert_eq!(episode(&pool, id).await.state, SignalState::Reviewed);
    is_whole(&pool).await;
}

#[sqlx::test]
async fn what_a_correction_makes_go_away_comes_again_with_another(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let run = laboratory.run(0, [3.4, 0.0]).await;
    let id = episodes(&pool).await[0].id;
    correct(&laboratory, (&run, laboratory.levels[0]), 1, 10.2).await;
    assert!(episodes(&pool).await.is_empty(), "nothing of it holds");
    assert!(episode(&pool, id).await.gone);
    correct(&laboratory, (&run, laboratory.levels[0]), 2, 13.6).await;
    let [again] = &episodes(&pool).await[..] else { panic!("the same one") };
    assert_eq!((again.id, again.state), (id, SignalState::Open));
    is_whole(&pool).await;
}

#[sqlx::test]
async fn after_its_review_more_of_a_run_is_an_episode_that_goes_on_from_there(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let run = laboratory.run(0, [3.4, 0.0]).await;
    let first = episodes(&pool).await[0].id;
    let at = run.taken_at + Duration::minutes(10);
    answer(&pool, first, 1, By::at(laboratory.site.technician, at), said()).await.unwrap();
    review(&pool, first, 2, &decided(laboratory.site.supervisor, at, Decision::Accepted, None)).await.unwrap();
    correct(&laboratory, (&run, laboratory.levels[1]), 1, 145.0).await;
    let all = episodes(&pool).await;
    let more = all.iter().find(|episode| episode.id != first).unwrap();
    assert_eq!((all.len(), more.state, more.run), (2, SignalState::Open, all[0].run));
    assert_eq!(episode(&pool, more.id).await.follows.map(|before| before.id), Some(first));
    is_whole(&pool).await;
}

#[sqlx::test]
async fn a_run_that_comes_late_raises_what_the_later_one_breaks_now(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let later = laboratory.run(2, [2.3, 0.0]).await;
    assert!(episodes(&pool).await.is_empty());
    let before = laboratory.run(1, [2.2, 0.0]).await;
    let [one] = &episodes(&pool).await[..] else { panic!("one episode") };
    assert_eq!(one.run.map(|run| run.id), Some(later.id));
    let signal = &episode(&pool, one.id).await.signals[0];
    assert_eq!((signal.rule, signal.late), (LabRule::TwoTwoS.into(), true));
    // Its pattern begins with the run before, which has the higher number since it came late.
    assert_eq!((signal.from_number, signal.to_number, signal.points), (2, 1, 2));
    correct(&laboratory, (&before, laboratory.levels[0]), 1, 10.1).await;
    assert!(episodes(&pool).await.is_empty(), "one of the two is not there any more");
    is_whole(&pool).await;
}

#[sqlx::test]
async fn a_released_run_keeps_what_was_said_of_it(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let run = laboratory.run(0, [0.1, 0.0]).await;
    laboratory.release(&run).await.unwrap();
    correct(&laboratory, (&run, laboratory.levels[0]), 1, 12.4).await;
    correct(&laboratory, (&run, laboratory.levels[1]), 1, 124.0).await;
    assert_eq!(lab::find(&pool, Uuid::nil(), run.id).await.unwrap().verdict_since, Some(Verdict::Rejected));
    assert!(episodes(&pool).await.is_empty(), "its verdict stands, and nobody is asked about it");
}

/// Two who answer and correct at once, over levels in different orders, wait for each other and never in a circle.
#[sqlx::test]
async fn those_who_act_on_one_run_at_once_take_its_levels_in_one_order(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    for hour in 0..8 {
        laboratory.run(hour, [2.4, 2.3]).await;
    }
    let open: Vec<(Uuid, i32)> = episodes(&pool).await.iter().map(|e| (e.id, e.version)).collect();
    let supervisor = laboratory.site.supervisor;
    let acts = open.iter().map(|&(id, version)| answer(&pool, id, version, By::at(supervisor, Utc::now()), said()));
    let saves = (8..16).map(|hour| laboratory.run(hour, [0.0, 0.0]));
    let (answers, runs) = tokio::join!(futures::future::join_all(acts), futures::future::join_all(saves));
    assert_eq!(runs.len(), 8);
    assert!(answers.iter().all(Result::is_ok), "{answers:?}");
    is_whole(&pool).await;
}

/// Sent back, answered anew, added to, accepted and signed: the chain of each level tells all of it.
#[sqlx::test]
async fn what_is_said_and_signed_of_a_run_stands_in_the_chain_of_each_level(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let laboratory = laboratory(&pool).await;
    let (technician, supervisor) = (laboratory.site.technician, laboratory.site.supervisor);
    let run = laboratory.run(0, [2.4, 2.3]).await;
    let id = episodes(&pool).await[0].id;
    let at = |minutes| run.taken_at + Duration::minutes(minutes);
    answer(&pool, id, 1, By::at(technician, at(1)), said()).await.unwrap();
    let back = decided(supervisor, at(2), Decision::SentBack, Some("Which pump?"));
    review(&pool, id, 2, &back).await.unwrap();
    let corrected = Answer { corrected: true, ..said() };
    answer(&pool, id, 3, By::at(technician, at(3)), corrected).await.unwrap();
    let newest = episode(&pool, id).await.answers.pop().unwrap();
    let more = Addition { comment: "Pump P-2.".into(), files: vec![] };
    add_to(&pool, id, newest.id, By::at(technician, at(4)), more).await.unwrap();
    let version = episode(&pool, id).await.version;
    review(&pool, id, version, &decided(supervisor, at(5), Decision::Accepted, None)).await.unwrap();
    let open = unsigned(&pool, supervisor).await.unwrap();
    let reviews: Vec<(Uuid, String)> = open.into_iter().map(|decision| (decision.review, decision.digest)).collect();
    assert_eq!(reviews.len(), 2, "each decision once, however many levels it is of");
    sign(&pool, &person(supervisor, Role::Supervisor), at(6), &reviews).await.unwrap();
    let told = [Action::EpisodeAnswered, Action::EpisodeReviewed, Action::AnswerAddedTo];
    for level in laboratory.levels {
        let entries = trail_of(&pool, level, 100).await;
        let count = |action: Action| entries.iter().filter(|entry| entry.action == action).count();
        assert_eq!(told.map(count), [2, 2, 1], "level {level}");
    }
    is_whole(&pool).await;
}

/// As the owner of the tables could, directly in the database.
#[rstest]
#[case::the_rule("update signal set rule = jsonb_set(rule, '{rule}', '\"1-3s\"') where run_id is not null", "rule")]
#[case::the_run("update signal set run_id = null where run_id is not null", "run")]
#[case::the_side("update signal set side = 'below' where run_id is not null", "side")]
#[case::the_state("update signal set state = 'found_late' where run_id is not null", "state")]
#[sqlx::test]
async fn who_touches_a_signal_of_a_run_is_seen(
    #[ignore] pool: PgPool,
    #[case] attack: &'static str,
    #[case] field: &'static str,
) {
    store::migrate(&pool).await.unwrap();
    let laboratory = laboratory(&pool).await;
    laboratory.run(0, [2.4, 2.3]).await;
    is_whole(&pool).await;
    sqlx::query(attack).execute(&pool).await.unwrap();
    let report = store::trail::verify(&pool, None).await.unwrap();
    let named = report.findings.iter().any(|finding| match finding {
        Finding::Row(difference) => difference.table == "signal" && difference.field == field,
        _ => false,
    });
    assert!(named, "{report:?}");
}

#[sqlx::test]
async fn a_run_that_nobody_explains_is_raised_to_the_supervisors_once(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let run = laboratory.run(0, [2.4, 2.3]).await;
    let after = |minutes| run.taken_at + Duration::minutes(minutes);
    assert_eq!(escalate(&pool, after(5)).await.unwrap(), 0);
    assert_eq!(escalate(&pool, after(24 * 60)).await.unwrap(), 1);
    assert_eq!(escalate(&pool, after(25 * 60)).await.unwrap(), 0);
    assert!(episodes(&pool).await[0].escalated_at.is_some());
}

#[sqlx::test]
async fn it_is_found_by_its_rule_its_analyte_and_as_the_laboratorys(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    laboratory.run(0, [2.4, -2.3]).await;
    common::save_wall(&pool, &laboratory.site, 0, 5.9).await;
    let analyte = laboratory::bench(&pool).await.analytes[0].id;
    let found = async |filter: EpisodeFilter| list(&pool, &filter, 9).await.unwrap().len();
    let all = EpisodeFilter::default;
    assert_eq!(found(EpisodeFilter { rule: Some("multirule".into()), ..all() }).await, 1);
    assert_eq!(found(EpisodeFilter { analyte: Some(analyte), ..all() }).await, 1);
    assert_eq!(found(EpisodeFilter { laboratory: Some(true), ..all() }).await, 1);
    assert_eq!(found(EpisodeFilter { laboratory: Some(false), rule: Some("multirule".into()), ..all() }).await, 0);
    let row = &list(&pool, &EpisodeFilter { analyte: Some(analyte), ..all() }, 9).await.unwrap()[0];
    let rules: Vec<(Broken, Option<Side>)> = row.patterns.iter().map(|pattern| (pattern.rule, pattern.side)).collect();
    let apart: Broken = LabRule::RangeFourS.into();
    assert!(rules.contains(&(apart, Some(Side::Above))) && rules.contains(&(apart, Some(Side::Below))), "{rules:?}");
}
