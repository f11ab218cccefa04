//! Whatever is saved, late, skipped, corrected, withdrawn or reviewed: the signals that stand in
//! PostgreSQL are those of one judgement of the whole chart.
//!
//! `NUVEK_STEPS=2000 cargo test -p store live_and_whole` takes that many steps with each chart
//! and rule set in place of 60.

use std::collections::BTreeSet;

use chrono::{DateTime, Duration, Utc};
use quality::characteristic::{Characteristic, Kind};
use quality::episode::{Answer, Decision};
use quality::role::Role;
use quality::sample::Content;
use rstest::rstest;
use spc::chart::{ChartKind, Statistic};
use spc::rules::{Preset, RuleSet, Side};
use sqlx::PgPool;
use store::samples::{NewSample, Visit, correct, save, withdraw};
use uuid::Uuid;

use crate::common::{Site, accepted, decided, episode, person, sample, site};
use crate::whole::{
    Chance, Plain, Standing, add, characteristic, content, flags, gathered, in_episodes, in_force, not_reviewed, plain,
    rule_sets, save_unless_there, series, standing, steps, whole,
};

/// One thing that happens to a characteristic; gives the sample that was saved or changed.
async fn step(
    pool: &PgPool,
    (site, id, characteristic): (&Site, Uuid, &Characteristic),
    now: i64,
    reviews: bool,
    chance: &mut Chance,
) -> Option<Uuid> {
    let all = series(pool, id, characteristic).await;
    let at: DateTime<Utc> = site.since + Duration::minutes(now);
    let engineer = person(site.engineer, Role::Engineer);
    let what = chance.below(100);
    if what < 84 || all.is_empty() {
        let minutes = if what < 12 { chance.below(usize::try_from(now).unwrap()) as i64 } else { now };
        let visit = if chance.below(6) == 0 {
            Visit::Skipped { because: "machine down".into() }
        } else {
            Visit::Taken(accepted(content(characteristic, chance)))
        };
        let new = NewSample { arrived_at: at, visit, ..sample(site, id, minutes, &[]) };
        return save_unless_there(pool, new, chance).await;
    }
    if what < 97 || !reviews {
        let chosen = &all[chance.below(all.len())];
        if chosen.gap {
            return None;
        }
        let (sample, version) = (chosen.sample, chosen.version);
        let changed = if what < 93 {
            let accepted = accepted(content(characteristic, chance));
            correct(pool, sample, version, &engineer, at, &accepted, "a slip").await
        } else {
            withdraw(pool, sample, version, &engineer, at, "wrong part").await
        };
        changed.unwrap();
        return Some(sample);
    }
    let standing = standing(pool, id, &all).await;
    let open: Vec<&Standing> = standing.iter().filter(|s| s.state == "open").collect();
    if !open.is_empty() {
        let signal = open[chance.below(open.len())];
        let answer = Answer {
            cause: None,
            cause_text: None,
            nothing_found: true,
            action: "Looked.".into(),
            ..Answer::default()
        };
        let (episode, version) = (signal.episode, episode(pool, signal.episode).await.version);
        store::answers::answer(pool, episode, version, store::answers::By::at(site.technician, at), answer)
            .await
            .unwrap();
        let accepted = Decision::Accepted;
        store::answers::review(pool, episode, version + 1, &decided(site.supervisor, at, accepted, None))
            .await
            .unwrap();
    }
    None
}

#[rstest]
#[case::measured(&[ChartKind::IMr, ChartKind::XbarR, ChartKind::XbarS, ChartKind::MedianR])]
#[case::other_measured(&[ChartKind::BetweenWithin, ChartKind::MovingAverage, ChartKind::Run])]
#[case::remembering(&[ChartKind::Ewma, ChartKind::Cusum])]
#[case::units(&[ChartKind::P, ChartKind::Np, ChartKind::PPrime])]
#[case::flaws(&[ChartKind::C, ChartKind::U, ChartKind::UPrime])]
#[case::rare_events(&[ChartKind::G, ChartKind::T])]
#[sqlx::test]
async fn under_limits_in_force_what_stands_is_what_the_whole_chart_finds(
    #[ignore] pool: PgPool,
    #[case] charts: &[ChartKind],
) {
    let site = site(&pool, "").await;
    for (seed, (chart, rule_set)) in charts.iter().flat_map(|chart| rule_sets().map(|set| (*chart, set))).enumerate() {
        let characteristic = characteristic(chart, rule_set, format!("{chart:?} {seed}"));
        let figures = in_force(chart);
        let id = add(&pool, &site, &characteristic, Some(figures)).await;
        let mut chance = Chance::new(u8::try_from(seed).unwrap());
        for now in 1..=steps() {
            let of = (&site, id, &characteristic);
            step(&pool, of, now as i64, true, &mut chance).await;
            let series = series(&pool, id, &characteristic).await;
            let standing = standing(&pool, id, &series).await;
            let chart = whole(&characteristic, &[(site.since, figures)], &series);
            let open: Vec<Plain> = standing.iter().filter(|s| s.state == "open").map(|s| plain(&s.finding)).collect();
            let kept: BTreeSet<Plain> = open.iter().cloned().collect();
            assert_eq!(kept.len(), open.len(), "{} step {now}: doubled", characteristic.name);
            assert_eq!(kept, not_reviewed(&chart, &series, &standing), "{} step {now}", characteristic.name);
            assert_eq!(in_episodes(&standing), gathered(&series, &standing, &[]), "{} step {now}", characteristic.name);
        }
    }
}

#[rstest]
#[case::individuals(ChartKind::IMr)]
#[case::means(ChartKind::XbarR)]
#[case::medians(ChartKind::MedianR)]
#[case::shares(ChartKind::P)]
#[case::rates(ChartKind::UPrime)]
#[sqlx::test]
async fn on_trial_each_window_is_judged_by_the_limits_of_that_save(#[ignore] pool: PgPool, #[case] chart: ChartKind) {
    let site = site(&pool, "").await;
    for (seed, rule_set) in rule_sets().into_iter().enumerate() {
        let characteristic = characteristic(chart, rule_set, format!("{chart:?} {seed}"));
        let id = add(&pool, &site, &characteristic, None).await;
        let mut chance = Chance::new(100 + u8::try_from(seed).unwrap());
        for now in 1..=steps() {
            let of = (&site, id, &characteristic);
            let Some(changed) = step(&pool, of, now as i64, false, &mut chance).await else { continue };
            let series = series(&pool, id, &characteristic).await;
            let changed = series.iter().position(|s| s.sample == changed).unwrap();
            let mut conn = pool.acquire().await.unwrap();
            let mut phases = store::phases::phases(&mut conn, id).await.unwrap();
            let setup = store::characteristics::find(&mut *conn, id).await.unwrap();
            store::series::fill_trial(&mut conn, &setup, &mut phases, 0).await.unwrap();
            let kept = standing(&pool, id, &series).await;
            let kept = kept.iter().map(|s| &s.finding);
            let (chart, expected) = match phases[0].figures {
                Some(figures) => {
                    let chart = whole(&characteristic, &[(site.since, figures)], &series);
                    let flags = flags(&chart, &chart.signals, changed);
                    (chart, flags)
                }
                None => (whole(&characteristic, &[(site.since, in_force(chart))], &series), BTreeSet::new()),
            };
            assert_eq!(flags(&chart, kept, changed), expected, "{} step {now}", characteristic.name);
        }
    }
}

/// Individuals in force about 5, and what was said of each place: a reading, or nothing for a gap.
async fn individuals(pool: &PgPool, places: &[Option<f64>]) -> (Uuid, Vec<Uuid>) {
    let site = site(pool, "").await;
    let set = RuleSet::Preset(Preset::WesternElectric);
    let individuals = characteristic(ChartKind::IMr, set, "Density".into());
    let id = add(pool, &site, &individuals, Some(in_force(ChartKind::IMr))).await;
    let mut samples = Vec::new();
    for (minutes, place) in places.iter().enumerate() {
        let visit = match place {
            Some(x) => Visit::Taken(accepted(Content::readings([*x]))),
            None => Visit::Skipped { because: "No product.".into() },
        };
        let new = NewSample { visit, ..sample(&site, id, minutes as i64, &[]) };
        samples.push(save(pool, &new).await.unwrap().sample);
    }
    (id, samples)
}

async fn found(pool: &PgPool, id: Uuid, panel: Statistic) -> Vec<Plain> {
    let setup = store::characteristics::find(pool, id).await.unwrap();
    let series = series(pool, id, &setup.characteristic).await;
    let standing = standing(pool, id, &series).await;
    standing.iter().filter(|s| s.finding.panel == panel).map(|s| plain(&s.finding)).collect()
}

/// Single samples among gaps have no moving range, so the run of eight reaches further back than eight.
#[rstest]
#[case::a_few(3)]
#[case::many(40)]
#[sqlx::test]
async fn a_run_of_moving_ranges_is_found_across_lone_samples(#[ignore] pool: PgPool, #[case] lone: usize) {
    let quiet = [5.02, 5.03, 4.98, 4.99, 5.01].map(Some);
    let among_gaps = (0..lone).flat_map(|_| [None, Some(4.98)]).chain([None]);
    let places: Vec<Option<f64>> = quiet.into_iter().chain(among_gaps).chain(quiet).collect();
    let (id, _) = individuals(&pool, &places).await;
    let last = places.len() - 1;
    let found = found(&pool, id, Statistic::MovingRange).await;
    assert_eq!(found, [(Statistic::MovingRange, "OneSide { n: 8 }".into(), Some(Side::Below), 1, last, last)]);
}

#[sqlx::test]
async fn two_runs_are_one_when_the_slip_between_them_is_corrected(pool: PgPool) {
    let high = [5.05, 5.06, 5.04, 5.05, 5.07, 5.05, 5.04, 5.06, 5.05].map(Some);
    let places: Vec<Option<f64>> = high.into_iter().chain([Some(5.0)]).chain(high).collect();
    let (id, samples) = individuals(&pool, &places).await;
    assert_eq!(found(&pool, id, Statistic::Individual).await.len(), 2);
    let engineer: Uuid =
        sqlx::query_scalar("select id from person where login = 'eve'").fetch_one(&pool).await.unwrap();
    let (now, content) = (Utc::now(), Content::readings([5.05]));
    let changed = correct(&pool, samples[9], 1, &person(engineer, Role::Engineer), now, &accepted(content), "misread")
        .await
        .unwrap();
    assert_eq!((changed.raised, changed.withdrawn), (0, 1));
    let one = [(Statistic::Individual, "OneSide { n: 8 }".into(), Some(Side::Above), 0, 7, 18)];
    assert_eq!(found(&pool, id, Statistic::Individual).await, one);
}

#[test]
fn every_chart_that_can_be_chosen_is_tried() {
    let tried = [
        ChartKind::IMr,
        ChartKind::XbarR,
        ChartKind::XbarS,
        ChartKind::MedianR,
        ChartKind::BetweenWithin,
        ChartKind::Ewma,
        ChartKind::Cusum,
        ChartKind::MovingAverage,
        ChartKind::Run,
        ChartKind::P,
        ChartKind::Np,
        ChartKind::PPrime,
        ChartKind::C,
        ChartKind::U,
        ChartKind::UPrime,
        ChartKind::G,
        ChartKind::T,
    ];
    for kind in [Kind::Measured, Kind::NonconformingUnits, Kind::Nonconformities, Kind::RareEvent] {
        assert!(kind.charts().iter().all(|chart| tried.contains(chart)), "{kind:?}");
    }
}
