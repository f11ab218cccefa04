//! Runs of the laboratory in the database: judged together, released by a person, repeated once.

use chrono::{Duration, Utc};
use quality::analyte::Assigned;
use quality::entry::{Accepted, Tags};
use quality::limits::{LimitsRefusal, NewLimits};
use quality::role::Role;
use quality::run::RunRefusal;
use quality::sample::{Content, Readings};
use spc::multirule::{LabRule, Verdict};
use sqlx::PgPool;
use store::StoreError;
use store::lab::{self, NewResult, NewRun, NewRunAction, RunFilter, RunView};
use store::limits::LimitsChange;
use uuid::Uuid;

use crate::common::{self, accepted, person, sample};
use crate::laboratory::{Laboratory, bench, laboratory};

#[sqlx::test]
async fn a_run_is_judged_with_the_runs_before_it(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let first = laboratory.run(0, [2.2, 0.0]).await;
    assert_eq!((first.number, first.verdict), (1, Verdict::Warning));
    let second = laboratory.run(1, [2.1, 0.0]).await;
    assert_eq!(second.verdict, Verdict::Rejected);
    let judgement = &second.judgements[0].judgement;
    let rules: Vec<(LabRule, usize)> = judgement.findings.iter().map(|f| (f.rule, f.runs)).collect();
    assert_eq!(rules, [(LabRule::OneTwoS, 1), (LabRule::TwoTwoS, 2)]);
    assert!((second.judgements[0].results[0].z.unwrap() - 2.1).abs() < 1e-9);
    let bench = bench(&pool).await;
    assert_eq!(bench.analytes[0].reagent_lot.as_deref(), Some("R-1"));
    assert_eq!((bench.runs.len(), bench.runs[0].id), (2, second.id));
}

#[sqlx::test]
async fn what_is_foreseen_is_what_is_judged(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    laboratory.run(0, [0.0, -2.4]).await;
    let values = [(laboratory.levels[1], 77.0)].into();
    let foreseen = store::bench::foresee(&pool, laboratory.site.station, Utc::now(), &values).await.unwrap();
    let mut only_one = laboratory.new_run(1, [0.0, -2.3]);
    only_one.results.remove(0);
    let saved = lab::save(&pool, &only_one).await.unwrap().0;
    assert_eq!(foreseen, saved.judgements);
    assert_eq!(saved.verdict, Verdict::Rejected);
}

#[sqlx::test]
async fn sent_again_a_run_is_kept_once(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let new = laboratory.new_run(0, [0.1, 0.2]);
    let (first, again) = (lab::save(&pool, &new).await.unwrap(), lab::save(&pool, &new).await.unwrap());
    assert_eq!((first.1, again.1, first.0.id), (false, true, again.0.id));
    let mut other = new.clone();
    other.results.pop();
    assert!(matches!(lab::save(&pool, &other).await, Err(StoreError::EntryReused)));
    let changed = NewRun { entry: new.entry, ..laboratory.new_run(0, [0.4, 0.3]) };
    assert!(matches!(lab::save(&pool, &changed).await, Err(StoreError::EntryReused)), "other results");
    let samples: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!(samples, 2);
}

/// A level left blank is no accepted run: somebody who did not run it decides, or it is repeated whole.
#[sqlx::test]
async fn a_run_without_a_level_is_not_accepted_by_itself(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let mut half = laboratory.new_run(0, [0.1, 0.0]);
    half.results.pop();
    let run = lab::save(&pool, &half).await.unwrap().0;
    assert_eq!((run.verdict, &run.missing[..]), (Verdict::Accepted, &["Assay, high".to_owned()][..]));
    assert!(matches!(laboratory.release(&run).await, Err(StoreError::Run(RunRefusal::Incomplete))));
    let by = laboratory.site.supervisor;
    let let_through =
        lab::override_verdict(&pool, run.id, run.version, by, Utc::now(), "No material left").await.unwrap();
    assert!(lab::release(&pool, run.id, let_through.version, by, Utc::now()).await.is_ok());
}

#[sqlx::test]
async fn a_rejected_run_is_released_only_when_it_was_overridden(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let run = laboratory.run(0, [3.4, 0.0]).await;
    assert!(matches!(laboratory.release(&run).await, Err(StoreError::Run(RunRefusal::Rejected))));
    let by = laboratory.site.supervisor;
    let overridden = lab::override_verdict(&pool, run.id, run.version, by, Utc::now(), "Air bubble").await.unwrap();
    let own = laboratory.release(&overridden).await;
    assert!(matches!(own, Err(StoreError::Run(RunRefusal::OwnRun))), "{own:?}");
    let released = lab::release(&pool, run.id, overridden.version, by, Utc::now()).await.unwrap();
    assert_eq!((released.verdict, released.released.unwrap().person.as_str()), (Verdict::Rejected, "sue"));
    assert_eq!(released.overridden.unwrap().because.as_deref(), Some("Air bubble"));
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert!(report.is_whole(), "{report:?}");
}

#[sqlx::test]
async fn a_repeat_refers_to_its_run_and_there_is_one(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let rejected = laboratory.run(0, [3.4, 0.0]).await;
    let repeat = |hour| NewRun { repeats: Some(rejected.id), ..laboratory.new_run(hour, [0.2, 0.1]) };
    let (first, second) = (repeat(1), repeat(2));
    let (first, second) = tokio::join!(lab::save(&pool, &first), lab::save(&pool, &second));
    let (kept, refused) = if first.is_ok() { (first, second) } else { (second, first) };
    assert!(matches!(refused, Err(StoreError::Run(RunRefusal::Repeated))));
    let repeat = kept.unwrap().0;
    assert_eq!(repeat.repeats.unwrap().id, rejected.id);
    let rejected = lab::find(&pool, Uuid::nil(), rejected.id).await.unwrap();
    assert_eq!(rejected.repeated_by.unwrap().id, repeat.id);
    assert!(matches!(laboratory.release(&rejected).await, Err(StoreError::Run(RunRefusal::Repeated))));
}

#[sqlx::test]
async fn a_correction_judges_the_run_again_and_leaves_a_release_standing(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let open = laboratory.run(0, [3.4, 0.0]).await;
    let released = laboratory.run(1, [0.0, 0.0]).await;
    laboratory.release(&released).await.unwrap();
    let supervisor = person(laboratory.site.supervisor, Role::Supervisor);
    for (hour, value) in [(0, 10.4), (1, 14.0)] {
        let sample: Uuid = sqlx::query_scalar(
            "select s.id from sample s join run r on r.id = s.run_id where s.characteristic_id = $1 and r.taken_at = $2",
        )
        .bind(laboratory.levels[0])
        .bind(laboratory.start + Duration::hours(hour))
        .fetch_one(&pool)
        .await
        .unwrap();
        let content = Content::Readings(Readings { values: vec![Some(value)], components: vec![] });
        let given = &accepted(content.clone());
        store::samples::correct(&pool, sample, 1, &supervisor, Utc::now(), given, "Mistyped").await.unwrap();
    }
    let open = lab::find(&pool, Uuid::nil(), open.id).await.unwrap();
    assert_eq!((open.verdict, open.verdict_since), (Verdict::Accepted, None));
    let released = lab::find(&pool, Uuid::nil(), released.id).await.unwrap();
    assert_eq!((released.verdict, released.verdict_since), (Verdict::Accepted, Some(Verdict::Rejected)));
}

#[sqlx::test]
async fn a_run_that_comes_late_judges_the_later_ones_again(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let later = laboratory.run(2, [2.3, 0.0]).await;
    assert_eq!(later.verdict, Verdict::Warning);
    laboratory.run(1, [2.2, 0.0]).await;
    assert_eq!(lab::find(&pool, Uuid::nil(), later.id).await.unwrap().verdict, Verdict::Rejected);
}

#[sqlx::test]
async fn each_result_is_judged_by_the_mean_and_sd_of_its_time(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    laboratory.run(0, [2.2, 0.0]).await;
    let assigned = Assigned { mean: 12.0, sd: 1.0 };
    let at = laboratory.start + Duration::minutes(30);
    lab::assign(&pool, laboratory.levels[0], assigned, "Control lot 2", laboratory.site.engineer, at).await.unwrap();
    let run = laboratory.run(1, [2.1, 0.0]).await;
    assert_eq!(run.verdict, Verdict::Accepted);
    assert!((run.judgements[0].results[0].z.unwrap() - 0.1).abs() < 1e-9);
}

#[sqlx::test]
async fn a_levels_chart_flags_results_and_has_no_moving_ranges(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    for (hour, z) in [(0, 0.0), (1, 3.5), (2, 0.0)] {
        laboratory.run(hour, [z, 0.0]).await;
    }
    let chart = store::charts::view(&pool, laboratory.levels[0], &store::charts::Asked::last(30)).await.unwrap();
    let panels: Vec<spc::chart::Statistic> = chart.panels.iter().map(|panel| panel.statistic).collect();
    assert_eq!(panels, [spc::chart::Statistic::Individual]);
    let flagged: Vec<bool> = chart.panels[0].points.iter().map(|point| point.flagged).collect();
    assert_eq!(flagged, [false, true, false]);
    let raised: i64 =
        sqlx::query_scalar("select count(*) from signal where run_id is null").fetch_one(&pool).await.unwrap();
    assert_eq!(raised, 1);
}

#[sqlx::test]
async fn a_level_takes_samples_in_runs_only(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let new = sample(&laboratory.site, laboratory.levels[0], 60, &[10.0]);
    assert!(matches!(store::samples::save(&pool, &new).await, Err(StoreError::Run(RunRefusal::InARun))));
    let mut foreign = laboratory.new_run(0, [0.0, 0.0]);
    foreign.results[0].characteristic = laboratory.site.wall;
    assert!(matches!(lab::save(&pool, &foreign).await, Err(StoreError::Run(RunRefusal::Results))));
    let mut twice = laboratory.new_run(0, [0.0, 0.0]);
    twice.results.push(twice.results[0].clone());
    assert!(matches!(lab::save(&pool, &twice).await, Err(StoreError::Run(RunRefusal::Results))));
}

#[sqlx::test]
async fn rejected_results_are_left_out_of_the_cumulative_figures_and_counted(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let with_lot = |hour, z| {
        let mut new = laboratory.new_run(hour, z);
        for result in &mut new.results {
            result.accepted.tags.insert("reagent lot".into(), "R-1".into());
        }
        new
    };
    for (hour, z) in [(0, [1.0, 0.0]), (1, [-1.0, 0.0]), (2, [5.0, 0.0])] {
        lab::save(&pool, &with_lot(hour, z)).await.unwrap();
    }
    let at = laboratory.start + Duration::minutes(30);
    let assigned = Assigned { mean: 10.0, sd: 1.0 };
    lab::assign(&pool, laboratory.levels[0], assigned, "Control lot 2", laboratory.site.engineer, at).await.unwrap();
    let all = lab::figures(&pool, laboratory.site.station).await.unwrap();
    let [low, high] = &all[..] else { panic!("{all:?}") };
    assert_eq!((low.level.as_str(), low.reagent_lot.as_deref(), low.left_out), ("low", Some("R-1"), 1));
    assert_eq!((low.cumulative.n, low.cumulative.mean), (2, Some(10.0)));
    assert_eq!((low.current.n, low.current.mean), (2, Some(12.0)), "since the new control lot, every result");
    assert_eq!((high.cumulative.n, high.left_out, high.current.n), (2, 1, 3));
    let run = bench(&pool).await.runs[0].clone();
    let by = laboratory.site.supervisor;
    lab::override_verdict(&pool, run.id, run.version, by, Utc::now(), "Air bubble").await.unwrap();
    let low = lab::figures(&pool, laboratory.site.station).await.unwrap().swap_remove(0);
    assert_eq!((low.cumulative.n, low.left_out), (3, 0));
}

/// A result of one level alone.
async fn measure(laboratory: &Laboratory, hour: i64, results: &[(Uuid, f64)]) -> RunView {
    let result = |&(characteristic, value): &(Uuid, f64)| NewResult {
        characteristic,
        accepted: Accepted { content: Content::readings([value]), tags: Tags::default(), typed_first: vec![] },
    };
    let new = NewRun { results: results.iter().map(result).collect(), ..laboratory.new_run(hour, [0.0, 0.0]) };
    lab::save(&laboratory.pool, &new).await.unwrap().0
}

#[sqlx::test]
async fn a_new_control_lot_runs_beside_the_old_judged_by_nothing_and_takes_over_with_its_own_figures(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let [low, high] = laboratory.levels;
    let by = (laboratory.site.engineer, laboratory.start);
    let beside = lab::begin_lot(&pool, low, "K-9", by).await.unwrap();
    let twice = lab::begin_lot(&pool, low, "K-10", by).await;
    assert!(matches!(twice, Err(StoreError::SetUp(_))), "{twice:?}");
    let of_a_lot = lab::begin_lot(&pool, beside, "K-11", by).await;
    assert!(matches!(of_a_lot, Err(StoreError::Missing(_))));
    // Far from the mean of the old lot, and no run says so.
    let mut values = Vec::new();
    for hour in 0..19 {
        values.push(14.0 + 0.1 * (hour % 5) as f64);
        // On both sides by turns, so that no rule finds a pattern.
        let turn = if hour % 2 == 0 { 0.1 } else { -0.1 };
        let run =
            measure(&laboratory, hour, &[(low, 10.0 + turn), (high, 100.0 + turn), (beside, values[hour as usize])])
                .await;
        assert_eq!((run.verdict, run.judgements[0].results.len()), (Verdict::Accepted, 2));
        assert!(run.judgements[0].missing.is_empty());
    }
    let early = lab::take_over(&pool, beside, (laboratory.site.engineer, laboratory.start + Duration::hours(19))).await;
    assert!(
        matches!(early, Err(StoreError::Limits(LimitsRefusal::TooFewPoints { needed: 20, found: 19 }))),
        "{early:?}"
    );
    // A run that is rejected lends the lot no figure.
    let rejected = measure(&laboratory, 20, &[(low, 19.0), (high, 99.0), (beside, 30.0)]).await;
    assert_eq!(rejected.verdict, Verdict::Rejected);
    values.push(14.4);
    measure(&laboratory, 21, &[(low, 10.0), (high, 100.0), (beside, 14.4)]).await;
    let at = laboratory.start + Duration::hours(22);
    lab::take_over(&pool, beside, (laboratory.site.engineer, at)).await.unwrap();
    let mean = values.iter().sum::<f64>() / 20.0;
    let sd = (values.iter().map(|x| (x - mean).powi(2)).sum::<f64>() / 19.0).sqrt();
    let now = &bench(&pool).await.analytes[0].levels;
    assert_eq!(now.len(), 2, "the lot is the level now");
    assert!((now[0].mean.unwrap() - mean).abs() < 1e-9 && (now[0].sd.unwrap() - sd).abs() < 1e-9);
    let rounds = store::rounds::list(&pool, Some(laboratory.site.technician), at).await.unwrap();
    assert!(rounds.iter().flat_map(|station| &station.characteristics).all(|stop| stop.id != beside));
    let run = measure(&laboratory, 23, &[(low, 14.2), (high, 99.0)]).await;
    assert!(run.judgements[0].results[0].z.unwrap().abs() < 1.0);
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().found, 0);
}

/// The path of a level is that of everything else, with its accepted results alone.
#[sqlx::test]
async fn a_level_gets_figures_of_its_own_from_twenty_accepted_results_on(pool: PgPool) {
    let laboratory = laboratory(&pool).await;
    let [low, _] = laboratory.levels;
    for hour in 0..19 {
        let turn = if hour % 2 == 0 { 0.1 } else { -0.1 };
        laboratory.run(hour, [0.2 * ((hour % 4) as f64 - 1.5), turn]).await;
    }
    assert_eq!(laboratory.run(30, [4.0, 0.0]).await.verdict, Verdict::Rejected);
    let phase = common::first_phase(&pool, low).await.id;
    let limits = NewLimits { reason: Some("Known.".into()), ..NewLimits::of_phase("Own") };
    let put = LimitsChange::PutInForce { phase, limits: Box::new(limits) };
    let at = laboratory.start + Duration::hours(31);
    let early = common::act(&pool, low, &put, laboratory.site.engineer, at).await;
    assert!(
        matches!(early, Err(StoreError::Limits(LimitsRefusal::TooFewPoints { needed: 20, found: 19 }))),
        "{early:?}"
    );
    laboratory.run(32, [0.2, 0.0]).await;
    let at = laboratory.start + Duration::hours(33);
    common::act(&pool, low, &put, laboratory.site.engineer, at).await.unwrap();
    let values: Vec<f64> = (0..19).map(|hour| 10.0 + 0.2 * (f64::from(hour % 4) - 1.5)).chain([10.2]).collect();
    let mean = values.iter().sum::<f64>() / 20.0;
    let sd = (values.iter().map(|x| (x - mean).powi(2)).sum::<f64>() / 19.0).sqrt();
    let now = &bench(&pool).await.analytes[0].levels[0];
    assert!((now.mean.unwrap() - mean).abs() < 1e-9, "{:?} {mean}", now.mean);
    assert!((now.sd.unwrap() - sd).abs() < 1e-9, "{:?} {sd}", now.sd);
}

#[sqlx::test]
async fn a_run_is_reviewed_by_somebody_else_once_it_is_settled_and_again_when_it_changes(pool: PgPool) {
    let bench = laboratory(&pool).await;
    let (supervisor, now) = (bench.site.supervisor, Utc::now());
    let waits = async || {
        let filter = RunFilter { reviewed: Some(false), ..RunFilter::default() };
        lab::list(&pool, supervisor, filter, 50).await.unwrap().into_iter().map(|run| run.id).collect::<Vec<_>>()
    };
    let run = bench.run(0, [0.5, 0.5]).await;
    assert_eq!(waits().await, [run.id]);
    let early = lab::review(&pool, run.id, run.version, None, (supervisor, now)).await;
    assert!(matches!(early, Err(StoreError::Run(RunRefusal::NotSettled))), "{early:?}");
    let run = bench.release(&run).await.unwrap();
    let own = lab::review(&pool, run.id, run.version, None, (run.person_id, now)).await;
    assert!(matches!(own, Err(StoreError::Run(RunRefusal::OwnRun))), "{own:?}");
    let seen = lab::review(&pool, run.id, run.version, Some(" Looks right. "), (supervisor, now)).await.unwrap();
    assert_eq!(seen.reviewed.and_then(|deed| deed.because).as_deref(), Some("Looks right."));
    assert_eq!(waits().await, Vec::<Uuid>::new());
    let twice = lab::review(&pool, run.id, run.version, None, (supervisor, now)).await;
    assert!(matches!(twice, Err(StoreError::Changed(_))), "{twice:?}");
    // What was done about it since has not been seen.
    let action = NewRunAction { characteristic: None, text: "Pipette serviced.".into(), entry: Uuid::new_v4() };
    for _ in 0..2 {
        let run = lab::act_on(&pool, run.id, &action, (run.person_id, now)).await.unwrap();
        assert_eq!(run.actions.iter().map(|action| action.text.as_str()).collect::<Vec<_>>(), ["Pipette serviced."]);
    }
    assert_eq!(waits().await, [run.id]);
    let stale = lab::review(&pool, run.id, seen.version, None, (supervisor, now)).await;
    assert!(matches!(stale, Err(StoreError::Changed(_))), "{stale:?}");
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert!(report.is_whole(), "{report:?}");
    for tamper in ["update run_review set remark = 'Looks wrong.'", "delete from run_action"] {
        sqlx::query(sqlx::AssertSqlSafe(tamper)).execute(&pool).await.unwrap();
    }
    assert_eq!(store::trail::verify(&pool, None).await.unwrap().findings.len(), 2);
}

#[sqlx::test]
async fn an_action_is_about_a_level_that_the_run_measured(pool: PgPool) {
    let bench = laboratory(&pool).await;
    let run = bench.run(0, [0.5, 0.5]).await;
    let about = |characteristic| NewRunAction {
        characteristic: Some(characteristic),
        text: "Diluted again.".into(),
        entry: Uuid::new_v4(),
    };
    let by = (run.person_id, Utc::now());
    let level = run.judgements[0].results[0].characteristic;
    let acted = lab::act_on(&pool, run.id, &about(level), by).await.unwrap();
    assert_eq!(acted.actions[0].characteristic, Some(level));
    let other = lab::act_on(&pool, run.id, &about(bench.site.wall), by).await;
    assert!(matches!(other, Err(StoreError::Missing(_))), "{other:?}");
    let reused = NewRunAction { text: "Something else.".into(), ..about(level) };
    lab::act_on(&pool, run.id, &reused, by).await.unwrap();
    let again = NewRunAction { text: "Something new.".into(), ..reused };
    assert!(matches!(lab::act_on(&pool, run.id, &again, by).await, Err(StoreError::EntryReused)));
}

#[sqlx::test]
async fn runs_are_listed_page_by_page_without_a_gap(pool: PgPool) {
    let bench = laboratory(&pool).await;
    let mut expected = Vec::new();
    for hour in 0..7 {
        expected.insert(0, bench.run(hour, [0.5, 0.5]).await.id);
    }
    let (mut found, mut behind) = (Vec::new(), None);
    loop {
        let page =
            lab::list(&pool, bench.site.supervisor, RunFilter { behind, ..RunFilter::default() }, 3).await.unwrap();
        let Some(last) = page.last() else { break };
        behind = Some((last.taken_at, last.number, last.id));
        found.extend(page.iter().map(|run| run.id));
    }
    assert_eq!(found, expected);
}
