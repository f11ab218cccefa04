//! Whatever is set aside, taken back, restarted, begun, moved, merged and put in force, among late and corrected
//! samples: the signals that stand are those of one judgement of the whole under the limits that hold for each point,
//! and undoing gives the first state back.
//!
//! `NUVEK_STEPS=2000 cargo test -p store limits_and_whole` takes that many steps with each chart in place of 60.

use std::collections::BTreeSet;

use chrono::{DateTime, Duration, Utc};
use quality::characteristic::Characteristic;
use quality::limits::{Basis, NewLimits};
use quality::role::Role;
use rstest::rstest;
use spc::chart::{ChartKind, Figures};
use sqlx::PgPool;
use store::StoreError;
use store::limits::{LimitsChange, PhaseLimits};
use store::phases::Phase;
use store::samples::{NewSample, Visit, correct, save, withdraw};
use uuid::Uuid;

use crate::common::{Site, accepted, act, decided, person, sample, site};
use crate::whole::{
    Chance, Plain, Stored, add, characteristic, content, gathered, in_episodes, in_force, not_reviewed, plain,
    rule_sets, save_unless_there, series, standing, steps, whole,
};

async fn phases(pool: &PgPool, id: Uuid) -> Vec<Phase> {
    let mut conn = pool.acquire().await.unwrap();
    store::phases::phases(&mut conn, id).await.unwrap()
}

/// Figures a little beside others, so that some findings hold under both.
fn beside(figures: Figures, chance: &mut Chance) -> Figures {
    let move_by = [-0.2, 0.1, 0.3][chance.below(3)];
    let step = figures.sigma.unwrap_or(0.02).min(0.1);
    Figures { center: figures.center.map(|center| center + move_by * step), ..figures }
}

/// A change of limits that may be possible or not.
fn some_change(all: &[Stored], phases: &[Phase], figures: Figures, chance: &mut Chance) -> LimitsChange {
    let sample = all[chance.below(all.len())].sample;
    let phase = phases[chance.below(phases.len())].id;
    match chance.below(14) {
        0..=3 => LimitsChange::SetAside { sample, cause: None, cause_text: Some("mixed up".into()) },
        4..=5 => {
            let aside = all.iter().find(|s| s.place.aside).map_or(sample, |s| s.sample);
            LimitsChange::TakeBack { sample: aside }
        }
        6..=7 => LimitsChange::Restart { sample, reason: "Die cleaned.".into() },
        8 => {
            let restart = all.iter().find(|s| s.place.restart).map_or(sample, |s| s.sample);
            LimitsChange::UndoRestart { sample: restart }
        }
        9 => LimitsChange::StartPhase { sample, name: "New die".into(), limits: PhaseLimits::Carried },
        10 => LimitsChange::MoveStart { phase, sample },
        11 => LimitsChange::Merge { phase },
        _ => {
            let basis = Basis::Given { figures: beside(figures, chance), source: "Guessed.".into() };
            let limits = NewLimits { basis, first: Some(sample), ..NewLimits::of_phase("Revised") };
            LimitsChange::PutInForce { phase: phases[phases.len() - 1].id, limits: Box::new(limits) }
        }
    }
}

/// Saves a sample, now or late, corrects or withdraws one.
async fn something_else(
    pool: &PgPool,
    (site, id, characteristic): (&Site, Uuid, &Characteristic),
    all: &[Stored],
    now: i64,
    chance: &mut Chance,
) {
    let at: DateTime<Utc> = site.since + Duration::minutes(now);
    let engineer = person(site.engineer, Role::Engineer);
    let what = chance.below(20);
    let chosen = all.get(chance.below(all.len().max(1))).filter(|s| what >= 17 && !s.gap);
    match chosen {
        Some(chosen) if what == 17 => {
            withdraw(pool, chosen.sample, chosen.version, &engineer, at, "wrong part").await.unwrap();
        }
        Some(chosen) => {
            let content = accepted(content(characteristic, chance));
            correct(pool, chosen.sample, chosen.version, &engineer, at, &content, "a slip").await.unwrap();
        }
        None => {
            let minutes = if what < 3 { chance.below(usize::try_from(now).unwrap()) as i64 } else { now };
            let visit = Visit::Taken(accepted(content(characteristic, chance)));
            let new = NewSample { arrived_at: at, visit, ..sample(site, id, minutes, &[]) };
            save_unless_there(pool, new, chance).await;
        }
    }
}

fn of_phases(phases: &[Phase]) -> Vec<(DateTime<Utc>, Figures)> {
    phases.iter().map(|phase| (phase.starts_at, phase.figures.unwrap())).collect()
}

#[rstest]
#[case::individuals(ChartKind::IMr)]
#[case::means(ChartKind::XbarR)]
#[case::average(ChartKind::MovingAverage)]
#[case::remembering(ChartKind::Ewma)]
#[case::sums(ChartKind::Cusum)]
#[case::shares(ChartKind::P)]
#[case::rare(ChartKind::T)]
#[sqlx::test]
async fn whatever_becomes_of_limits_the_whole_chart_stands(#[ignore] pool: PgPool, #[case] chart: ChartKind) {
    let site = site(&pool, "").await;
    let mut changes = 0;
    for (seed, rule_set) in rule_sets().into_iter().enumerate() {
        let characteristic = characteristic(chart, rule_set, format!("{chart:?} {seed}"));
        let figures = in_force(chart);
        let id = add(&pool, &site, &characteristic, Some(figures)).await;
        let mut chance = Chance::new(50 + u8::try_from(seed).unwrap());
        for now in 1..=steps() {
            let before = series(&pool, id, &characteristic).await;
            if before.len() > 8 && chance.below(3) == 0 {
                let change = some_change(&before, &phases(&pool, id).await, figures, &mut chance);
                let at = site.since + Duration::minutes(now as i64);
                match act(&pool, id, &change, site.engineer, at).await {
                    Ok(_) => changes += 1,
                    Err(StoreError::Limits(_)) => {}
                    Err(error) => panic!("{change:?}: {error}"),
                }
            } else {
                something_else(&pool, (&site, id, &characteristic), &before, now as i64, &mut chance).await;
            }
            let series = series(&pool, id, &characteristic).await;
            let standing = standing(&pool, id, &series).await;
            let chart = whole(&characteristic, &of_phases(&phases(&pool, id).await), &series);
            let open: Vec<Plain> = standing.iter().map(|s| plain(&s.finding)).collect();
            let kept: BTreeSet<Plain> = open.iter().cloned().collect();
            assert_eq!(kept.len(), open.len(), "{} step {now}: doubled", characteristic.name);
            assert_eq!(kept, not_reviewed(&chart, &series, &standing), "{} step {now}", characteristic.name);
            let starts: Vec<usize> = chart.phases.iter().map(|phase| phase.start).collect();
            let gathered = gathered(&series, &standing, &starts);
            assert_eq!(in_episodes(&standing), gathered, "{} step {now}", characteristic.name);
        }
    }
    assert!(changes > rule_sets().len() * steps() / 12, "{changes} changes were possible");
}

/// A signal as it stands or does not: all that undoing has to bring back.
type State = (Uuid, String, String, Uuid, Uuid, Uuid, String, bool, Option<Uuid>);

async fn states(pool: &PgPool, id: Uuid) -> Vec<State> {
    sqlx::query_as(
        "select id, panel, rule::text, from_sample, at_sample, to_sample, state, withdrawn_at is not null, answered_by
         from signal where characteristic_id = $1 and withdrawn_at is null order by id",
    )
    .bind(id)
    .fetch_all(pool)
    .await
    .unwrap()
}

/// What takes a change back, once it was made.
fn undo(change: &LimitsChange, before: &[Phase], after: &[Phase], all: &[Stored]) -> LimitsChange {
    let new = || after.iter().find(|phase| before.iter().all(|old| old.id != phase.id)).unwrap().id;
    match change {
        LimitsChange::SetAside { sample, .. } => LimitsChange::TakeBack { sample: *sample },
        LimitsChange::Restart { sample, .. } => LimitsChange::UndoRestart { sample: *sample },
        LimitsChange::StartPhase { .. } | LimitsChange::PutInForce { .. } => LimitsChange::Merge { phase: new() },
        LimitsChange::MoveStart { phase, .. } => {
            let old = before.iter().find(|p| p.id == *phase).unwrap().starts_at;
            let sample = all.iter().find(|s| s.taken_at == old && !s.gap).unwrap().sample;
            LimitsChange::MoveStart { phase: *phase, sample }
        }
        other => panic!("{other:?} is no first step"),
    }
}

#[rstest]
#[case::means(ChartKind::XbarR)]
#[case::individuals(ChartKind::IMr)]
#[case::sums(ChartKind::Cusum)]
#[sqlx::test]
async fn undoing_gives_the_first_state_back(#[ignore] pool: PgPool, #[case] chart: ChartKind) {
    let site = site(&pool, "").await;
    let characteristic = characteristic(chart, rule_sets()[0].clone(), "Undone".into());
    let figures = in_force(chart);
    let id = add(&pool, &site, &characteristic, Some(figures)).await;
    let mut chance = Chance::new(9);
    for now in 1..=40 {
        let visit = Visit::Taken(accepted(content(&characteristic, &mut chance)));
        save(&pool, &NewSample { visit, ..sample(&site, id, now, &[]) }).await.unwrap();
    }
    // A phase to be moved, and a signal with an answer and one that was sent back.
    let all = series(&pool, id, &characteristic).await;
    let start =
        LimitsChange::StartPhase { sample: all[12].sample, name: "Second".into(), limits: PhaseLimits::Carried };
    act(&pool, id, &start, site.engineer, site.since + Duration::hours(1)).await.unwrap();
    answer_some(&pool, &site, id).await;
    let mut undone = 0;
    for step in 0..60 {
        let at = site.since + Duration::hours(2) + Duration::minutes(step);
        let (first, before) = (states(&pool, id).await, phases(&pool, id).await);
        let change = some_change(&all, &before, figures, &mut chance);
        if matches!(
            change,
            LimitsChange::TakeBack { .. } | LimitsChange::UndoRestart { .. } | LimitsChange::Merge { .. }
        ) {
            continue;
        }
        match act(&pool, id, &change, site.supervisor, at).await {
            Ok(_) => {}
            Err(StoreError::Limits(_)) => continue,
            Err(error) => panic!("{change:?}: {error}"),
        }
        let back = undo(&change, &before, &phases(&pool, id).await, &all);
        act(&pool, id, &back, site.supervisor, at).await.unwrap();
        assert_eq!(states(&pool, id).await, first, "{change:?} undone by {back:?}");
        undone += 1;
    }
    assert!(undone > 20, "{undone} were undone");
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert!(report.is_whole(), "{report:?}");
}

async fn answer_some(pool: &PgPool, site: &Site, id: Uuid) {
    use quality::episode::{Answer, Decision};
    let open: Vec<(Uuid, i32)> = sqlx::query_as(
        "select id, version from episode where characteristic_id = $1 and not gone order by raised_at, id",
    )
    .bind(id)
    .fetch_all(pool)
    .await
    .unwrap();
    assert!(open.len() > 2);
    for (n, (episode, version)) in open.into_iter().enumerate().filter(|(n, _)| n % 3 != 0) {
        let given = Answer {
            cause: None,
            cause_text: Some("draught".into()),
            nothing_found: false,
            action: "Shut.".into(),
            ..Answer::default()
        };
        store::answers::answer(pool, episode, version, store::answers::By::at(site.technician, site.since), given)
            .await
            .unwrap();
        if n % 3 == 2 {
            let (version, back, at) = (version + 1, Decision::SentBack, site.since);
            store::answers::review(pool, episode, version, &decided(site.supervisor, at, back, Some("Which?")))
                .await
                .unwrap();
        }
    }
}
