//! Limits put in force: what becomes of trial signals, of many points, and of entries meanwhile.

use std::collections::BTreeSet;
use std::time::Duration as Time;

use chrono::Duration;
use quality::limits::{Basis, LimitsState, NewLimits};
use quality::sample::Content;
use rstest::rstest;
use spc::chart::{ChartKind, Figures};
use spc::rules::{Preset, RuleSet};
use sqlx::PgPool;
use store::limits::{LimitsChange, WhichPath};
use store::samples::{NewSample, Visit, save, withdraw};
use uuid::Uuid;

use crate::common::{self, Site, accepted, act, first_phase, kept_signals, sample, save_wall, site};
use crate::whole::{self, Plain, add, characteristic, in_force, plain, series, standing};

/// All signals, those that asked nothing of anybody among them: whether they count, and whether they stand.
async fn counted(pool: &PgPool, of: Uuid) -> Vec<(bool, bool)> {
    sqlx::query_as("select trial, withdrawn_at is null from signal where characteristic_id = $1 order by raised_at, id")
        .bind(of)
        .fetch_all(pool)
        .await
        .unwrap()
}

fn given(phase: Uuid, figures: Figures) -> LimitsChange {
    let basis = Basis::Given { figures, source: "The drawing.".into() };
    LimitsChange::PutInForce { phase, limits: Box::new(NewLimits { basis, ..NewLimits::of_phase("As drawn") }) }
}

#[sqlx::test]
async fn trial_signals_that_hold_count_from_then_on_and_others_go_without_a_review(pool: PgPool) {
    let site = site(&pool, "").await;
    let of = site.viscosity;
    for i in 0..20 {
        save(&pool, &sample(&site, of, i, &[300.0 + (i % 3) as f64])).await.unwrap();
    }
    save(&pool, &sample(&site, of, 20, &[310.0])).await.unwrap();
    save(&pool, &sample(&site, of, 21, &[390.0])).await.unwrap();
    assert!(counted(&pool, of).await.iter().all(|(trial, stands)| *trial && *stands));
    let phase = first_phase(&pool, of).await.id;
    let at = site.since + Duration::hours(1);
    // Wide enough for 310 and not for 390, whose moving range is beyond too.
    act(&pool, of, &given(phase, Figures::new(301.0, 10.0)), site.engineer, at).await.unwrap();
    let now = counted(&pool, of).await;
    assert!(now.iter().filter(|(_, stands)| !stands).count() >= 2, "of 310 and its moving range: {now:?}");
    assert!(now.iter().filter(|(_, stands)| *stands).count() >= 2, "of 390 and its moving range: {now:?}");
    assert!(now.iter().all(|(trial, stands)| *trial != *stands), "{now:?}");
    let kept = kept_signals(&pool, of).await;
    // What only the new limits find is found late.
    let asks = |state: &str| state == "open" || state == "found_late";
    assert!(kept.iter().all(|s| asks(&s.state) && !s.withdrawn && !s.trial), "{kept:#?}");
}

#[sqlx::test]
async fn setting_aside_leaves_figures_in_force_and_they_say_that_they_used_it(pool: PgPool) {
    let site = site(&pool, "").await;
    let of = site.viscosity;
    let mut samples = Vec::new();
    for i in 0..24 {
        samples.push(save(&pool, &sample(&site, of, i, &[300.0 + (i * 7 % 5) as f64])).await.unwrap().sample);
    }
    let phase = first_phase(&pool, of).await.id;
    let limits = NewLimits { reason: Some("Needed.".into()), ..NewLimits::of_phase("First") };
    let put = LimitsChange::PutInForce { phase, limits: Box::new(limits) };
    act(&pool, of, &put, site.engineer, site.since + Duration::minutes(30)).await.unwrap();
    let phase = || async { store::limits::view(&pool, of, WhichPath::default()).await.unwrap().phases.remove(0) };
    let before = phase().await;
    let aside = LimitsChange::SetAside { sample: samples[3], cause: None, cause_text: Some("spilt".into()) };
    act(&pool, of, &aside, site.supervisor, site.since + Duration::minutes(40)).await.unwrap();
    let after = phase().await;
    assert_eq!((after.phase.figures, after.aside_since), (before.phase.figures, 1));
    assert_eq!(before.aside_since, 0);
}

/// A restart at a sample that is withdrawn later is one all the same.
#[sqlx::test]
async fn sums_start_afresh_behind_a_gap_that_bears_a_restart(pool: PgPool) {
    let site = site(&pool, "").await;
    let ewma = characteristic(ChartKind::Ewma, RuleSet::Preset(Preset::LimitsOnly), "Wall, weighted".into());
    let of = add(&pool, &site, &ewma, Some(in_force(ChartKind::Ewma))).await;
    let mut samples = Vec::new();
    for minutes in 0..8 {
        let readings = [5.2, 5.2, 5.2];
        samples.push(save(&pool, &sample(&site, of, minutes, &readings)).await.unwrap().sample);
    }
    let restart = LimitsChange::Restart { sample: samples[6], reason: "Die cleaned.".into() };
    act(&pool, of, &restart, site.engineer, site.since).await.unwrap();
    let engineer = common::person(site.engineer, quality::role::Role::Engineer);
    withdraw(&pool, samples[6], 1, &engineer, site.since, "wrong part").await.unwrap();
    save(&pool, &sample(&site, of, 8, &[5.0, 5.0, 5.0])).await.unwrap();
    let sums: Vec<Vec<f64>> = sqlx::query_scalar(
        "select sums from sample where characteristic_id = $1 and not gap and number >= 8 order by number",
    )
    .bind(of)
    .fetch_all(&pool)
    .await
    .unwrap();
    // λ = 0.2 of 0.2 above the centre, and then four fifths of that.
    let averages: Vec<f64> = sums.iter().map(|sums| sums[0]).collect();
    for (found, expected) in averages.iter().zip([5.04, 5.032]) {
        assert!((found - expected).abs() < 1e-12, "{averages:?}");
    }
}

/// Individuals in force about 5, some beyond; more of them than are judged at once.
async fn many(pool: &PgPool, site: &Site, count: i64) -> Uuid {
    let individuals = characteristic(ChartKind::IMr, RuleSet::Preset(Preset::WesternElectric), "Density".into());
    let of = add(pool, site, &individuals, Some(in_force(ChartKind::IMr))).await;
    sqlx::query(
        "insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings)
         select gen_random_uuid(), $1, n, $2, gen_random_uuid(), $3 + n * interval '1 second',
             $3 + n * interval '1 second', $4, array[5 + 0.1 * sin(n * n) + case when n % 97 = 0 then 0.5 else 0 end]
         from generate_series(1, $5) n",
    )
    .bind(of)
    .bind(Uuid::nil())
    .bind(site.since)
    .bind(site.technician)
    .bind(count)
    .execute(pool)
    .await
    .unwrap();
    sqlx::query("update sample_head set next_number = $2 + 1 where characteristic_id = $1")
        .bind(of)
        .bind(count)
        .execute(pool)
        .await
        .unwrap();
    of
}

async fn stands(pool: &PgPool, of: Uuid) -> BTreeSet<Plain> {
    let setup = store::characteristics::find(pool, of).await.unwrap();
    let series = series(pool, of, &setup.characteristic).await;
    standing(pool, of, &series).await.iter().map(|s| plain(&s.finding)).collect()
}

async fn whole_chart(pool: &PgPool, of: Uuid, phases: &[(chrono::DateTime<chrono::Utc>, Figures)]) -> BTreeSet<Plain> {
    let setup = store::characteristics::find(pool, of).await.unwrap();
    let series = series(pool, of, &setup.characteristic).await;
    whole::whole(&setup.characteristic, phases, &series).signals.iter().map(plain).collect()
}

async fn phases(pool: &PgPool, of: Uuid) -> Vec<store::phases::Phase> {
    let mut conn = pool.acquire().await.unwrap();
    store::phases::phases(&mut conn, of).await.unwrap()
}

fn revised(phase: Uuid, first: Option<Uuid>, figures: Figures) -> LimitsChange {
    let basis = Basis::Given { figures, source: "Guessed.".into() };
    let limits = NewLimits { basis, first, ..NewLimits::of_phase("Revised") };
    LimitsChange::PutInForce { phase, limits: Box::new(limits) }
}

#[sqlx::test]
async fn many_points_are_judged_again_in_the_background_and_entries_go_on(pool: PgPool) {
    let site = site(&pool, "").await;
    let of = many(&pool, &site, 3000).await;
    let first: Uuid = sqlx::query_scalar("select id from sample where characteristic_id = $1 and number = 500")
        .bind(of)
        .fetch_one(&pool)
        .await
        .unwrap();
    let figures = Figures::new(5.0, 0.06);
    let phase = first_phase(&pool, of).await.id;
    let changed = act(&pool, of, &revised(phase, Some(first), figures), site.engineer, site.since).await.unwrap();
    assert!(changed.judging > 2000);
    // Until then everything is as it was, and another change waits.
    assert_eq!(phases(&pool, of).await.len(), 1);
    let again = act(&pool, of, &LimitsChange::TakeBack { sample: first }, site.engineer, site.since).await;
    assert!(again.is_err());
    let visit = Visit::Taken(accepted(Content::readings([5.2])));
    let entry = save(&pool, &NewSample { visit, ..sample(&site, of, 120, &[]) }).await.unwrap();
    assert_eq!(entry.asking.len(), 0, "by limits at 5.3");

    assert_eq!(store::background::make_waiting(&pool).await.unwrap(), 1);
    let now = phases(&pool, of).await;
    assert_eq!(now.iter().map(|p| p.state).collect::<Vec<_>>(), [LimitsState::Retired, LimitsState::InForce]);
    let by_phase = [(now[0].starts_at, in_force(ChartKind::IMr)), (now[1].starts_at, figures)];
    let in_second: BTreeSet<Plain> =
        whole_chart(&pool, of, &by_phase).await.into_iter().filter(|(.., at, _)| *at >= 499).collect();
    assert!(in_second.len() > 20);
    // What was loaded past the judging stands nowhere in the first phase; the second one is judged in full, the
    // entry that came meanwhile too.
    assert_eq!(stands(&pool, of).await, in_second);
    assert!(in_second.iter().any(|(.., at, _)| *at == 3000), "the entry is beyond 5.18");
    let left: i64 = sqlx::query_scalar("select count(*) from judging_again").fetch_one(&pool).await.unwrap();
    assert_eq!(left, 0);
}

/// Whenever it is cut off, all of it was done or nothing, and what was cut off is done later.
#[rstest]
#[case::at_once(0)]
#[case::early(5)]
#[case::in_the_middle(40)]
#[case::late(120)]
#[sqlx::test]
async fn a_crash_leaves_the_old_state_or_the_new_one(#[ignore] pool: PgPool, #[case] milliseconds: u64) {
    let site = site(&pool, "").await;
    let of = many(&pool, &site, 2000).await;
    let phase = first_phase(&pool, of).await.id;
    let first: Uuid = sqlx::query_scalar("select id from sample where characteristic_id = $1 and number = 10")
        .bind(of)
        .fetch_one(&pool)
        .await
        .unwrap();
    act(&pool, of, &revised(phase, Some(first), Figures::new(5.0, 0.06)), site.engineer, site.since).await.unwrap();
    let work = store::background::make_waiting(&pool);
    let _ = tokio::time::timeout(Time::from_millis(milliseconds), work).await;
    let (found, standing) = (phases(&pool, of).await.len(), stands(&pool, of).await.len());
    assert!((found, standing == 0) == (1, true) || (found, standing > 0) == (2, true), "{found} phases, {standing}");
    store::background::make_waiting(&pool).await.unwrap();
    assert_eq!(phases(&pool, of).await.len(), 2);
    assert!(stands(&pool, of).await.len() > 20);
}

#[sqlx::test]
async fn another_scheme_holds_from_the_next_sample_and_points_before_keep_theirs(pool: PgPool) {
    let site = site(&pool, "").await;
    for minutes in 0..5 {
        save_wall(&pool, &site, minutes, 5.15).await;
    }
    assert!(kept_signals(&pool, site.wall).await.iter().all(|s| s.panel != "mean" || s.k == 3.0));
    let setup = store::characteristics::find(&pool, site.wall).await.unwrap();
    let mut narrower = setup.characteristic.clone();
    (narrower.k, narrower.rule_set) = (2.0, RuleSet::Preset(Preset::LimitsOnly));
    let change = store::plan::CharacteristicChange { id: site.wall, version: setup.version, characteristic: narrower };
    let at = site.since + Duration::minutes(5);
    store::plan::change(&pool, &[change], site.engineer, at).await.unwrap();
    // 0.15 above the centre is 2.6 sigma of a mean of three: beyond two, not beyond three.
    let before = kept_signals(&pool, site.wall).await.len();
    let next = save_wall(&pool, &site, 6, 5.15).await;
    assert_eq!(next.asking.len(), 1);
    let late = save_wall(&pool, &site, 4, 5.15).await;
    let raised = kept_signals(&pool, site.wall).await;
    assert_eq!(raised.iter().filter(|s| s.k == 2.0).count(), 1, "late ones are judged by what held then");
    assert!(raised.len() > before && late.asking.is_empty());
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(100)).await.unwrap();
    let uppers: Vec<f64> = view.panels[0].points.iter().map(|p| p.upper.get().unwrap()).collect();
    assert!(uppers[0] > uppers[uppers.len() - 1], "{uppers:?}");
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert!(report.is_whole(), "{report:?}");
}
