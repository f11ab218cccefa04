//! Samples that are counted, skipped, corrected or withdrawn, and what is judged again then.

use chrono::Duration;
use quality::episode::{Answer, Decision};
use quality::field::WrongField;
use quality::object::ObjectKind;
use quality::role::Role;
use quality::sample::Content;
use quality::signal::SignalState;
use quality::version::Changed;
use sqlx::PgPool;
use store::StoreError;
use store::answers::{By, answer, review};
use store::episodes::EpisodeFilter;
use store::samples::{NewSample, Saved, Visit, correct, corrections, save, withdraw};
use uuid::Uuid;

use crate::common::{self, Kept, accepted, decided, episode, kept_signals, leaked, person, sample, save_wall, site};

async fn standing(pool: &PgPool, of: Uuid, panel: &str) -> Vec<Kept> {
    let mut all = kept_signals(pool, of).await;
    all.retain(|signal| signal.panel == panel && !signal.withdrawn);
    all
}

async fn leaks(pool: &PgPool, site: &common::Site, minutes: i64, count: u32, inspected: u32) -> Saved {
    let new = NewSample { visit: leaked(count, inspected), ..sample(site, site.leaks, minutes, &[]) };
    save(pool, &new).await.unwrap()
}

#[sqlx::test]
async fn counts_are_judged_by_the_number_inspected(pool: PgPool) {
    let site = site(&pool, "").await;
    // Upper limits of a share of 0.05: 0.142 of 50, 0.071 of 1000.
    assert!(leaks(&pool, &site, 0, 7, 50).await.asking.is_empty());
    assert_eq!(leaks(&pool, &site, 1, 8, 50).await.asking.len(), 1);
    assert!(leaks(&pool, &site, 2, 72, 1000).await.goes_on, "beyond too, and the same happening");
    let found = standing(&pool, site.leaks, "proportion").await;
    assert_eq!(found.iter().map(|s| (s.center, s.sigma)).collect::<Vec<_>>(), [(0.05, None), (0.05, None)]);
    let view = store::charts::view(&pool, site.leaks, &store::charts::Asked::last(10)).await.unwrap();
    assert_eq!(view.panels.len(), 1);
    let upper: Vec<f64> = view.panels[0].points.iter().map(|p| p.upper.get().unwrap()).collect();
    assert!(upper[0] > 0.142 && upper[0] < 0.143 && upper[2] < 0.071, "{upper:?}");
    assert!(matches!(&view.points[0].content, Some(Content::Counts(c)) if c.inspected == 50 && c.count() == 7));
}

#[sqlx::test]
async fn an_entry_of_counts_sent_twice_is_kept_once_and_other_counts_are_refused(pool: PgPool) {
    let site = site(&pool, "").await;
    let new = NewSample { visit: leaked(2, 50), ..sample(&site, site.leaks, 0, &[]) };
    let first = save(&pool, &new).await.unwrap();
    assert_eq!(save(&pool, &new).await.unwrap(), Saved { again: true, ..first });
    let other = NewSample { visit: leaked(3, 50), ..new };
    assert!(matches!(save(&pool, &other).await, Err(StoreError::EntryReused)));
}

#[sqlx::test]
async fn a_skipped_sample_is_a_gap_that_rules_look_past(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..7 {
        save_wall(&pool, &site, i * 10, 5.02).await;
    }
    let skip = |minutes| NewSample {
        visit: Visit::Skipped { because: "line stood".into() },
        ..sample(&site, site.wall, minutes, &[])
    };
    for minutes in [65, 66, 67] {
        let skipped = save(&pool, &skip(minutes)).await.unwrap();
        assert!(skipped.asking.is_empty());
    }
    let eighth = save_wall(&pool, &site, 70, 5.02).await;
    assert_eq!(eighth.number, 11);
    assert_eq!(eighth.asking.len(), 2, "eight means and ranges on one side, the gaps looked past");
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(100)).await.unwrap();
    assert_eq!(view.points[7].gap.as_ref().unwrap().because, "line stood");
    assert_eq!(view.panels[0].points[7].value.get(), None);
}

#[sqlx::test]
async fn the_window_of_a_rule_reaches_over_gaps(pool: PgPool) {
    let site = site(&pool, "").await;
    for i in 0..40 {
        let visit = match i % 5 {
            4 => Visit::Skipped { because: "meeting".into() },
            _ => Visit::Taken(accepted(Content::readings([5.02, 5.03, 5.01]))),
        };
        save(&pool, &NewSample { visit, ..sample(&site, site.wall, i, &[]) }).await.unwrap();
    }
    let found = standing(&pool, site.wall, "mean").await;
    assert_eq!(found.len(), 1, "one run of all, however many gaps");
    assert_eq!((found[0].from_number, found[0].to_number), (1, 39));
}

#[sqlx::test]
async fn a_correction_judges_again_and_keeps_what_stood_there(pool: PgPool) {
    let site = site(&pool, "").await;
    let tess = person(site.technician, Role::Technician);
    let wrong = save_wall(&pool, &site, 0, 5.9).await;
    assert_eq!(wrong.asking.len(), 1);
    let at = site.since + Duration::minutes(5);
    let right = &accepted(Content::readings([5.01, 5.0, 4.98]));
    let changed = correct(&pool, wrong.sample, 1, &tess, at, right, "slip of the finger").await.unwrap();
    assert_eq!((changed.version, changed.withdrawn, changed.raised), (2, 1, 0));
    assert!(standing(&pool, site.wall, "mean").await.is_empty());
    let kept = corrections(&pool, wrong.sample).await.unwrap();
    assert_eq!((kept.len(), kept[0].reason.as_str()), (1, "slip of the finger"));
    assert_eq!((&kept[0].old["readings"][1], &kept[0].new["readings"][1]), (&5.9.into(), &5.0.into()));
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(1)).await.unwrap();
    assert!(view.points[0].corrected && view.panels[0].points[0].value.get().unwrap() < 5.0);
    let entries = common::trail_of(&pool, site.wall, 10).await;
    let deeds: Vec<String> = entries.iter().rev().map(|e| format!("{:?}", e.action)).collect();
    let told = ["SampleSaved", "SignalRaised", "SignalGathered", "SampleCorrected", "SignalWithdrawn"];
    assert_eq!(deeds[3..], told);

    // Who saw an earlier version, or gives no reason, changes nothing.
    let view_of = |version| correct(&pool, wrong.sample, version, &tess, at, right, "again");
    assert!(matches!(view_of(1).await, Err(StoreError::Changed(Changed(ObjectKind::Sample)))));
    assert!(matches!(
        correct(&pool, wrong.sample, 2, &tess, at, right, " ").await,
        Err(StoreError::Field(WrongField { field: "reason", .. }))
    ));
}

#[sqlx::test]
async fn an_entry_sent_again_after_its_correction_is_known_by_what_it_said_at_first(pool: PgPool) {
    let site = site(&pool, "").await;
    let tess = person(site.technician, Role::Technician);
    let new = sample(&site, site.wall, 0, &[5.9, 5.9, 6.0]);
    let saved = save(&pool, &new).await.unwrap();
    for (version, readings) in [(1, [5.0, 5.1, 5.0]), (2, [5.2, 5.1, 5.0])] {
        let (at, right) = (site.since + Duration::minutes(4 + i64::from(version)), Content::readings(readings));
        correct(&pool, saved.sample, version, &tess, at, &accepted(right.clone()), "slip").await.unwrap();
    }
    assert!(save(&pool, &new).await.unwrap().again);
    for other in [[5.0, 5.1, 5.0], [5.2, 5.1, 5.0]] {
        let visit = Visit::Taken(accepted(Content::readings(other)));
        let other = NewSample { visit, ..new.clone() };
        assert!(matches!(save(&pool, &other).await, Err(StoreError::EntryReused)), "what it was corrected to");
    }
}

#[sqlx::test]
async fn a_correction_may_raise_a_signal_that_is_marked_late(pool: PgPool) {
    let site = site(&pool, "").await;
    let sue = person(site.supervisor, Role::Supervisor);
    let first = save_wall(&pool, &site, 0, 5.0).await;
    save_wall(&pool, &site, 10, 5.0).await;
    let now = site.since + Duration::days(3);
    let new = &accepted(Content::readings([5.5, 5.5, 5.51]));
    let changed = correct(&pool, first.sample, 1, &sue, now, new, "sheet says 5.5").await.unwrap();
    assert_eq!(changed.raised, 1);
    let [signal] = &kept_signals(&pool, site.wall).await[..] else { panic!("one signal") };
    assert!(signal.late);
    assert_eq!(signal.to_number, 1);
}

#[sqlx::test]
async fn a_withdrawn_sample_leaves_a_gap_with_its_reason_and_cuts_its_run(pool: PgPool) {
    let site = site(&pool, "").await;
    let tess = person(site.technician, Role::Technician);
    let mut saved = Vec::new();
    for i in 0..8 {
        saved.push(save_wall(&pool, &site, i * 10, 5.02).await);
    }
    assert_eq!(standing(&pool, site.wall, "mean").await.len(), 1);
    let at = site.since + Duration::minutes(90);
    let changed = withdraw(&pool, saved[3].sample, 1, &tess, at, "wrong tray").await.unwrap();
    assert_eq!(changed.withdrawn, 2, "seven means and ranges are no run of eight");
    let view = store::charts::view(&pool, site.wall, &store::charts::Asked::last(100)).await.unwrap();
    let gap = view.points[3].gap.clone().unwrap();
    assert_eq!((gap.withdrawn, gap.because.as_str(), view.points.len()), (true, "wrong tray", 8));
    assert!(view.points[3].content.is_some(), "what had been measured stays on the point");
    let again = withdraw(&pool, saved[3].sample, 2, &tess, at, "wrong tray").await;
    assert!(matches!(again, Err(StoreError::Changed(Changed(ObjectKind::Sample)))), "{again:?}");
    save_wall(&pool, &site, 80, 5.02).await;
    assert_eq!(standing(&pool, site.wall, "mean").await.len(), 1, "an eighth makes it one again");
}

#[sqlx::test]
async fn only_ones_own_sample_and_only_within_the_shift(pool: PgPool) {
    let site = site(&pool, "").await;
    let saved = save_wall(&pool, &site, 0, 5.0).await;
    let tom = person(site.other_technician, Role::Technician);
    let tess = person(site.technician, Role::Technician);
    let at = |hours| site.since + Duration::hours(hours);
    let refused = withdraw(&pool, saved.sample, 1, &tom, at(1), "not mine").await;
    assert!(matches!(refused, Err(StoreError::Sample(_))), "{refused:?}");
    let refused = withdraw(&pool, saved.sample, 1, &tess, at(9), "too late").await;
    assert!(matches!(refused, Err(StoreError::Sample(_))), "{refused:?}");
    let missing = withdraw(&pool, Uuid::new_v4(), 1, &tess, at(1), "x").await;
    assert!(matches!(missing, Err(StoreError::Missing(ObjectKind::Sample))));
}

#[sqlx::test]
async fn an_answered_signal_that_no_longer_holds_stays_with_that_remark(pool: PgPool) {
    let site = site(&pool, "").await;
    let tess = person(site.technician, Role::Technician);
    let saved = save_wall(&pool, &site, 0, 5.9).await;
    let looked = || Answer {
        cause: None,
        cause_text: None,
        nothing_found: true,
        action: "Measured again.".into(),
        ..Answer::default()
    };
    let queue = async || {
        let filter = EpisodeFilter { states: vec![SignalState::Answered], ..EpisodeFilter::default() };
        store::episodes::list(&pool, &filter, 10).await.unwrap().len()
    };
    let at = site.since + Duration::minutes(5);
    answer(&pool, saved.asking[0], 1, By::at(site.technician, at), looked()).await.unwrap();
    withdraw(&pool, saved.sample, 1, &tess, at, "wrong part").await.unwrap();
    let gone = episode(&pool, saved.asking[0]).await;
    assert!(gone.gone && gone.signals[0].withdrawn_at.is_some() && gone.answers.len() == 1);
    assert_eq!(queue().await, 1);

    // Sent back is answered too: taking the sample away is no way past the question.
    let saved = save_wall(&pool, &site, 1, 5.9).await;
    answer(&pool, saved.asking[0], 1, By::at(site.technician, at), looked()).await.unwrap();
    let (back, question) = (Decision::SentBack, Some("Which gauge?"));
    review(&pool, saved.asking[0], 2, &decided(site.supervisor, at, back, question)).await.unwrap();
    withdraw(&pool, saved.sample, 1, &tess, at, "wrong part").await.unwrap();
    assert_eq!(queue().await, 2);
    let gone = episode(&pool, saved.asking[0]).await;
    review(&pool, gone.id, gone.version, &decided(site.supervisor, at, Decision::Accepted, None)).await.unwrap();
    assert_eq!(queue().await, 1);
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
}
