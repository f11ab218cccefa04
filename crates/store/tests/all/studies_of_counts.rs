//! What was counted of each kind: from the sums that are kept, from the samples where those do not say enough, and the
//! same from both.

use chrono::{DateTime, DurationRound, TimeDelta, Utc};
use quality::entry::Accepted;
use quality::role::Role;
use quality::sample::{Content, Counts, Defects};
use quality::study::{DefectsAnswer, DefectsQuestion, Question, Selection, Split};
use rstest::rstest;
use sqlx::PgPool;
use store::limits::LimitsChange;
use store::looking::{LookAt, look};
use store::samples::{NewSample, Saved, Visit};
use store::studies::{Behind, StudyAnswer, answer, behind};
use store::trail::{Finding, verify};
use uuid::Uuid;

use crate::common::{END_CAP, Site, accepted, act, person, sample, site};

/// End caps, and something in words, in so many tested.
fn counts(end_caps: u32, seams: u32, inspected: u32) -> Accepted {
    let of = |kind, word: Option<&str>, count| Defects { kind, word: word.map(str::to_owned), count };
    let found = [of(Some(END_CAP), None, end_caps), of(None, Some("Seam"), seams)];
    let defects = found.into_iter().filter(|defects| defects.count > 0).collect();
    accepted(Content::Counts(Counts { inspected, defects }))
}

async fn counted(pool: &PgPool, site: &Site, minutes: i64, found: Accepted) -> Saved {
    let tags = [("mould".to_owned(), format!("M{}", minutes / 60 % 2 + 1))].into();
    let visit = Visit::Taken(Accepted { tags, ..found });
    store::samples::save(pool, &NewSample { visit, ..sample(site, site.leaks, minutes, &[]) }).await.unwrap()
}

/// Forty hours, an hour apart: end caps in each, a seam in every fourth.
async fn filled(pool: &PgPool) -> (Site, Vec<Saved>) {
    let site = site(pool, "").await;
    let mut saved = vec![];
    for i in 0..40u32 {
        saved.push(counted(pool, &site, 60 * i64::from(i), counts(1 + i % 3, u32::from(i % 4 == 0), 50)).await);
    }
    (site, saved)
}

fn question(of: Selection, split: Option<Split>) -> DefectsQuestion {
    DefectsQuestion { of, against: None, weights: Default::default(), pool_below: None, split }
}

async fn found(pool: &PgPool, question: DefectsQuestion) -> DefectsAnswer {
    let (StudyAnswer::Defects(found), _) = answer(pool, &Question::Defects(question), Utc::now()).await.unwrap() else {
        panic!("another sort")
    };
    found.answer
}

fn told(answer: &DefectsAnswer) -> Vec<(Option<&str>, u64)> {
    answer.bars.iter().map(|bar| (bar.name.as_deref(), bar.count)).collect()
}

async fn whole(pool: &PgPool, site: &Site) -> Vec<(String, u64)> {
    let answer = found(pool, question(Selection::of(site.leaks), None)).await;
    answer.bars.into_iter().map(|bar| (bar.name.unwrap(), bar.count)).collect()
}

#[sqlx::test]
async fn kinds_are_counted_by_their_names_and_words(pool: PgPool) {
    let (site, _) = filled(&pool).await;
    let answer = found(&pool, question(Selection::of(site.leaks), None)).await;
    assert_eq!(told(&answer), [(Some("End cap"), 79), (Some("Seam"), 10)]);
    assert_eq!((answer.totals.samples, answer.totals.inspected, answer.totals.count), (40, 2000, 89));
}

#[rstest]
#[case::all(None, None)]
// Ends that lie within a quarter of an hour, on a whole one, and both within the same.
#[case::odd(Some(67), Some(1200))]
#[case::whole(Some(60), Some(600))]
#[case::narrow(Some(119), Some(121))]
#[case::one_quarter(Some(121), Some(125))]
#[sqlx::test]
async fn the_sums_that_are_kept_say_what_the_samples_say(
    #[ignore] pool: PgPool,
    #[case] since: Option<i64>,
    #[case] until: Option<i64>,
) {
    let (site, _) = filled(&pool).await;
    let at = |minutes: i64| site.since + TimeDelta::minutes(minutes);
    let of = Selection { since: since.map(at), until: until.map(at), ..Selection::of(site.leaks) };
    // Of the last so many each sample is read.
    let read = Selection { last: Some(1000), ..of.clone() };
    let ask = async |of: &Selection, split: Option<Split>| {
        let asked = Question::Defects(question(of.clone(), split));
        answer(&pool, &asked, Utc::now()).await.map(|(found, _)| serde_json::to_value(&found).unwrap())
    };
    for split in [None, Some(Split::Day), Some(Split::Week), Some(Split::Month)] {
        let (kept, read) = (ask(&of, split.clone()).await, ask(&read, split).await);
        match (kept, read) {
            (Ok(kept), Ok(read)) => assert_eq!(kept, read),
            (Err(kept), Err(read)) => assert_eq!(kept.to_string(), read.to_string()),
            (kept, read) => panic!("{kept:?} {read:?}"),
        }
    }
}

#[sqlx::test]
async fn what_is_corrected_set_aside_or_withdrawn_is_counted_as_it_is_now(pool: PgPool) {
    let (site, saved) = filled(&pool).await;
    let supervisor = person(site.supervisor, Role::Supervisor);
    let (first, second, third) = (saved[0].sample, saved[1].sample, saved[2].sample);
    let corrected = counts(11, 0, 60);
    store::samples::correct(&pool, first, 1, &supervisor, now(), &corrected, "Counted again.").await.unwrap();
    assert_eq!(whole(&pool, &site).await, [("End cap".to_owned(), 89), ("Seam".to_owned(), 9)]);
    store::samples::withdraw(&pool, second, 1, &supervisor, now(), "Of another line.").await.unwrap();
    assert_eq!(whole(&pool, &site).await[0].1, 87);
    let aside = LimitsChange::SetAside { sample: third, cause: None, cause_text: Some("Mixed up.".into()) };
    act(&pool, site.leaks, &aside, site.engineer, now()).await.unwrap();
    let answer = found(&pool, question(Selection::of(site.leaks), None)).await;
    assert_eq!((answer.bars[0].count, answer.totals.set_aside, answer.totals.samples), (84, 1, 38));
    let with = Selection { set_aside: true, ..Selection::of(site.leaks) };
    let answer = found(&pool, question(with, None)).await;
    assert_eq!((answer.bars[0].count, answer.totals.set_aside, answer.totals.samples), (87, 0, 39));
    let report = verify(&pool, None).await.unwrap();
    assert_eq!(report.findings, []);
}

#[rstest]
#[case("update counted set inspected = inspected + 1 where quarter = (select max(quarter) from counted)")]
#[case("delete from counted_kind where kind = 'Seam'")]
#[case("insert into counted_kind select characteristic_id, quarter, aside, 'Dent', 1 from counted limit 1")]
#[sqlx::test]
async fn sums_that_are_not_what_the_samples_say_are_named(#[ignore] pool: PgPool, #[case] tampered: &'static str) {
    filled(&pool).await;
    sqlx::raw_sql(tampered).execute(&pool).await.unwrap();
    let report = verify(&pool, None).await.unwrap();
    let named = report.findings.iter().any(|finding| matches!(finding, Finding::Row(of) if of.table == "counted"));
    assert!(named && report.findings.len() == 1, "{:?}", report.findings);
}

#[sqlx::test]
async fn parts_by_tag_and_shift_are_counted_and_lead_to_their_samples(pool: PgPool) {
    let (site, _) = filled(&pool).await;
    let by_mould = Split::Tag { name: "mould".into() };
    let answer = found(&pool, question(Selection::of(site.leaks), Some(by_mould.clone()))).await;
    let parts: Vec<(&str, u64, u64)> =
        answer.groups.iter().map(|part| (part.name.as_str(), part.totals.samples, part.counts[1])).collect();
    // Seams are in every fourth hour, which are all of the first mould.
    assert_eq!(parts, [("M1", 20, 10), ("M2", 20, 0)]);
    assert_eq!(answer.groups.iter().map(|part| part.counts[0]).sum::<u64>(), answer.bars[0].count);
    let asked = Behind {
        of: Selection::of(site.leaks),
        from: None,
        below: None,
        up_to: None,
        above: None,
        kind: Some("Seam".into()),
        split: Some(by_mould),
        group: Some("M1".into()),
    };
    let (count, samples) = behind(&pool, &asked).await.unwrap();
    assert_eq!((count, samples[0].number, samples[0].values.as_slice()), (10, 37, [1.0].as_slice()));
    assert_eq!(samples[0].inspected, Some(50));
    let (none, _) = behind(&pool, &Behind { group: Some("M2".into()), ..asked }).await.unwrap();
    assert_eq!(none, 0);
}

#[sqlx::test]
async fn two_times_are_held_against_each_other(pool: PgPool) {
    let (site, _) = filled(&pool).await;
    let middle = site.since + TimeDelta::minutes(60 * 20);
    let later = Selection { since: Some(middle), ..Selection::of(site.leaks) };
    let earlier = Selection { until: Some(middle), ..Selection::of(site.leaks) };
    let answer = found(&pool, DefectsQuestion { against: Some(earlier), ..question(later, None) }).await;
    let there = answer.against.unwrap();
    assert_eq!((answer.totals.samples, there.samples, there.count + answer.totals.count), (20, 20, 89));
    assert!(!answer.ratio.unwrap().beyond_chance);
}

#[sqlx::test]
async fn one_kind_is_looked_at_alone(pool: PgPool) {
    let (site, _) = filled(&pool).await;
    let at = LookAt { last: 200, defect: Some("Seam".into()), ..LookAt::default() };
    let looked = look(&pool, site.leaks, &at).await.unwrap();
    assert_eq!(looked.defects, ["End cap", "Seam"]);
    let points = &looked.drawings[0].drawing.panels[0].points;
    let shares: Vec<Option<f64>> = points.iter().take(5).map(|point| point.value.get()).collect();
    assert_eq!(shares, [Some(0.02), Some(0.0), Some(0.0), Some(0.0), Some(0.02)]);
}

fn now() -> DateTime<Utc> {
    Utc::now().duration_trunc(TimeDelta::microseconds(1)).unwrap()
}

#[sqlx::test]
async fn a_phase_is_counted_by_itself(pool: PgPool) {
    let (site, _) = filled(&pool).await;
    let answer = found(&pool, question(Selection::of(site.leaks), Some(Split::Phase))).await;
    assert_eq!(answer.groups.len(), 1);
    assert_eq!(answer.groups[0].totals, answer.totals);
    let unknown = Selection { phase: Some(Uuid::nil()), ..Selection::of(site.leaks) };
    assert!(answer_of(&pool, unknown).await.is_err());
}

async fn answer_of(pool: &PgPool, of: Selection) -> Result<(), store::StoreError> {
    answer(pool, &Question::Defects(question(of, None)), Utc::now()).await.map(|_| ())
}
