//! Studies: answered from the samples as they are, kept with what was found, refreshed, frozen and signed.

use chrono::{DateTime, Duration, Utc};
use quality::entry::Accepted;
use quality::role::Role;
use quality::sample::Content;
use quality::signature::digest;
use quality::study::{CapabilityQuestion, Question, Selection, Since, Split, Stage, StudyRefusal};
use quality::thresholds::Thresholds;
use rstest::rstest;
use sqlx::PgPool;
use store::StoreError;
use store::limits::{LimitsChange, PhaseLimits};
use store::people::Person;
use store::samples::{NewSample, Visit};
use store::studies::{
    Behind, CapabilityFound, NewStudy, StudyAnswer, answer, behind, change, find, freeze, keep, list, sign, tags,
};
use store::trail::{Finding, verify};
use uuid::Uuid;

use crate::common::{Site, accepted, act, first_phase, person, sample, save_wall, site};

/// Held against limits from 4.7 to 5.3.
fn of(selection: Selection, split: Option<Split>) -> Question {
    let specification = Some(quality::characteristic::Specification { lsl: Some(4.7), target: None, usl: Some(5.3) });
    Question::Capability(CapabilityQuestion {
        of: selection,
        sigma_method: None,
        distribution: None,
        specification,
        thresholds: Some(Thresholds::default()),
        bins: None,
        split,
    })
}

fn whole(site: &Site) -> Question {
    of(Selection::of(site.wall), None)
}

async fn found(pool: &PgPool, question: &Question) -> CapabilityFound {
    let (StudyAnswer::Capability(found), _) = answer(pool, question, now()).await.unwrap() else { panic!() };
    *found
}

/// Twenty samples an hour apart, moulds by turns, whose means go up and down.
async fn filled(pool: &PgPool) -> Site {
    let site = site(pool, "").await;
    for i in 0..20i64 {
        let mean = 5.0 + 0.02 * ((i * 7) % 5 - 2) as f64;
        let readings = accepted(Content::readings([mean - 0.05, mean, mean + 0.06]));
        let tags = [("mould".to_owned(), format!("M{}", i % 2 + 1))].into();
        let visit = Visit::Taken(Accepted { tags, ..readings });
        let new = NewSample { visit, ..sample(&site, site.wall, 60 * i, &[]) };
        store::samples::save(pool, &new).await.unwrap();
    }
    site
}

fn study(name: &str, question: Question) -> NewStudy {
    NewStudy { name: name.into(), remark: Some("Before the audit.".into()), question }
}

fn now() -> DateTime<Utc> {
    chrono::SubsecRound::trunc_subsecs(Utc::now(), 6)
}

#[sqlx::test]
async fn a_selection_is_narrowed_by_time_number_tag_and_phase(pool: PgPool) {
    let site = filled(&pool).await;
    let numbers = async |selection: Selection| {
        let found = found(&pool, &of(selection, None)).await;
        (found.answer.extent.numbers, found.answer.extent.samples)
    };
    let all = Selection::of(site.wall);
    assert_eq!(numbers(all.clone()).await, ((1, 20), 20));
    assert_eq!(numbers(Selection { last: Some(6), ..all.clone() }).await, ((15, 20), 6));
    let at = |hours: i64| Some(site.since + Duration::hours(hours));
    assert_eq!(numbers(Selection { since: at(3), until: at(8), ..all.clone() }).await, ((4, 8), 5));
    let of_mould = |moulds: &[&str]| {
        let moulds = moulds.iter().map(|mould| (*mould).to_owned()).collect();
        Selection { tags: [("mould".to_owned(), moulds)].into(), ..all.clone() }
    };
    assert_eq!(numbers(of_mould(&["M2"])).await, ((2, 20), 10));
    assert_eq!(numbers(of_mould(&["M2", "M1"])).await, ((1, 20), 20));
    assert_eq!(numbers(Selection { last: Some(2), ..of_mould(&["M2"]) }).await, ((18, 20), 2));
    let thirteenth = sqlx::query_scalar("select id from sample where characteristic_id = $1 and number = 13");
    let thirteenth = thirteenth.bind(site.wall).fetch_one(&pool).await.unwrap();
    let limits = PhaseLimits::Carried;
    let begun = LimitsChange::StartPhase { sample: thirteenth, name: "New mould".into(), limits };
    act(&pool, site.wall, &begun, site.engineer, at(30).unwrap()).await.unwrap();
    let first = first_phase(&pool, site.wall).await.id;
    assert_eq!(numbers(Selection { phase: Some(first), ..all.clone() }).await, ((1, 12), 12));
    let split = found(&pool, &of(all.clone(), Some(Split::Phase))).await.answer.groups;
    let names: Vec<(&str, usize)> = split.iter().map(|one| (one.group.name.as_str(), one.samples)).collect();
    assert_eq!(names[1], ("New mould", 8));
    let missing = of(Selection { phase: Some(Uuid::nil()), ..all }, None);
    assert!(matches!(answer(&pool, &missing, now()).await.unwrap_err(), StoreError::Missing(_)));
}

#[sqlx::test]
async fn what_is_set_aside_or_withdrawn_is_not_counted_and_parts_are_told_apart(pool: PgPool) {
    let site = filled(&pool).await;
    let saved = save_wall(&pool, &site, 60 * 20, 5.9).await.sample;
    let at = site.since + Duration::hours(30);
    let aside = LimitsChange::SetAside { sample: saved, cause: None, cause_text: Some("mixed up".into()) };
    act(&pool, site.wall, &aside, site.supervisor, at).await.unwrap();
    let without = found(&pool, &whole(&site)).await.answer;
    assert_eq!((without.extent.samples, without.extent.set_aside), (20, 1));
    let with = of(Selection { set_aside: true, ..Selection::of(site.wall) }, None);
    assert_eq!(found(&pool, &with).await.answer.extent.samples, 21);
    let by_mould = of(Selection::of(site.wall), Some(Split::Tag { name: "mould".into() }));
    let groups = found(&pool, &by_mould).await.answer.groups;
    let names: Vec<(&str, usize)> = groups.iter().map(|one| (one.group.name.as_str(), one.samples)).collect();
    assert_eq!(names, [("M1", 10), ("M2", 10)]);
    let by_week = of(Selection::of(site.wall), Some(Split::Week));
    let weeks = found(&pool, &by_week).await.answer.groups;
    assert!(weeks.iter().all(|one| one.group.name.len() == 8 && one.group.name.contains("-W")), "{weeks:?}");
    let known = tags(&pool, site.wall).await.unwrap();
    assert_eq!(known["mould"], ["M1", "M2"]);
}

#[sqlx::test]
async fn the_samples_behind_a_bar_are_those_with_a_value_in_it(pool: PgPool) {
    let site = filled(&pool).await;
    let asked = |from: Option<f64>, below: Option<f64>| Behind {
        of: Selection::of(site.wall),
        from,
        below,
        up_to: None,
        above: None,
        kind: None,
        split: None,
        group: None,
    };
    let answered = found(&pool, &whole(&site)).await.answer;
    let edges = &answered.histogram.edges;
    let mut values = 0;
    for (i, pair) in edges.windows(2).enumerate() {
        let (count, samples) = behind(&pool, &asked(Some(pair[0]), Some(pair[1]))).await.unwrap();
        assert_eq!(count, samples.len());
        let within = samples.iter().flat_map(|one| &one.values).filter(|x| (pair[0]..pair[1]).contains(*x)).count();
        assert_eq!(within, answered.histogram.counts[i]);
        values += within;
    }
    assert_eq!(values, answered.capability.n);
    let (count, _) = behind(&pool, &asked(None, Some(4.7))).await.unwrap();
    assert_eq!(count, 0);
    let above = Behind { above: Some(5.06), ..asked(None, None) };
    let (count, samples) = behind(&pool, &above).await.unwrap();
    assert!(count > 0 && samples.iter().all(|one| one.values.iter().any(|x| *x > 5.06)));
    let split = Some(Split::Tag { name: "mould".into() });
    let of_m1 = Behind { split, group: Some("M1".into()), ..asked(None, None) };
    assert_eq!(behind(&pool, &of_m1).await.unwrap().0, 10);
}

#[sqlx::test]
async fn a_study_keeps_its_answer_until_somebody_finds_it_anew(pool: PgPool) {
    let site = filled(&pool).await;
    let by = (site.engineer, now());
    let id = keep(&pool, &study("Wall before the audit", whole(&site)), by).await.unwrap();
    let kept = find(&pool, id).await.unwrap();
    assert_eq!((kept.stage, kept.version, kept.since), (Stage::Kept, 1, None));
    assert_eq!(kept.answer["samples"], 20);
    save_wall(&pool, &site, 60 * 20, 5.0).await;
    let later = find(&pool, id).await.unwrap();
    assert_eq!(later.since, Some(Since { samples: 1, others: 0, set_up: false }));
    assert_eq!((&later.answer, &later.digest), (&kept.answer, &kept.digest));
    let refreshed = study("Wall before the audit", whole(&site));
    change(&pool, id, 1, &refreshed, (site.supervisor, now())).await.unwrap();
    let fresh = find(&pool, id).await.unwrap();
    assert_eq!((fresh.version, fresh.since, &fresh.answer["samples"]), (2, None, &serde_json::json!(21)));
    assert_eq!((fresh.made_by.as_str(), fresh.answered_by.as_str()), ("eve", "sue"));
    // Who had seen the first answer changes nothing over the head of who found it anew.
    let refused = change(&pool, id, 1, &refreshed, by).await.unwrap_err();
    assert!(matches!(refused, StoreError::Changed(_)), "{refused}");
    let rows = list(&pool, None, Some(site.wall)).await.unwrap();
    assert_eq!((rows.len(), rows[0].about.as_slice()), (1, ["Wall thickness, Cartridge C-1".to_owned()].as_slice()));
    assert!(list(&pool, None, Some(site.leaks)).await.unwrap().is_empty());
    // Who reads elsewhere does not learn of it.
    assert!(list(&pool, Some(&[Uuid::nil()]), None).await.unwrap().is_empty());
    assert_eq!(list(&pool, Some(&[site.station]), None).await.unwrap().len(), 1);
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn a_frozen_copy_stays_and_is_signed_as_it_was_seen(pool: PgPool) {
    let site = filled(&pool).await;
    let by = (site.engineer, now());
    let id = keep(&pool, &study("Wall", whole(&site)), by).await.unwrap();
    let eve = Person { id: site.engineer, name: "eve".into(), ..person(site.engineer, Role::Engineer) };
    let first = find(&pool, id).await.unwrap();
    let refused = sign(&pool, id, &first.digest, &eve, now()).await.unwrap_err();
    assert!(matches!(refused, StoreError::Study(StudyRefusal::NotFrozen)), "{refused}");
    let copy = freeze(&pool, id, 1, by).await.unwrap();
    save_wall(&pool, &site, 60 * 20, 5.2).await;
    let gone = sqlx::query_scalar("select id from sample where characteristic_id = $1 and number = 3").bind(site.wall);
    let gone = gone.fetch_one(&pool).await.unwrap();
    let aside = LimitsChange::SetAside { sample: gone, cause: None, cause_text: Some("mixed up".into()) };
    act(&pool, site.wall, &aside, site.supervisor, now()).await.unwrap();
    change(&pool, id, 1, &study("Wall", whole(&site)), by).await.unwrap();
    let frozen = find(&pool, copy).await.unwrap();
    assert_eq!((frozen.stage, frozen.frozen_of, frozen.answer), (Stage::Frozen, Some(id), first.answer));
    assert_eq!(frozen.since, Some(Since { samples: 1, others: 1, set_up: false }));
    assert_eq!(find(&pool, id).await.unwrap().copies, [copy]);
    for refused in [
        change(&pool, copy, 1, &study("Wall", whole(&site)), by).await.unwrap_err(),
        freeze(&pool, copy, 1, by).await.unwrap_err(),
    ] {
        assert!(matches!(refused, StoreError::Study(StudyRefusal::Frozen)), "{refused}");
    }
    let other = sign(&pool, copy, &digest("another answer"), &eve, now()).await.unwrap_err();
    assert!(matches!(other, StoreError::Changed(_)), "{other}");
    sign(&pool, copy, &frozen.digest, &eve, now()).await.unwrap();
    let twice = sign(&pool, copy, &frozen.digest, &eve, now()).await.unwrap_err();
    assert!(matches!(twice, StoreError::Study(StudyRefusal::SignedBefore)), "{twice}");
    let signed = find(&pool, copy).await.unwrap().signatures;
    assert_eq!((signed.len(), signed[0].name.as_str()), (1, "eve"));
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn what_has_no_answer_is_not_kept(pool: PgPool) {
    let site = site(&pool, "").await;
    let refused = keep(&pool, &study("Wall", whole(&site)), (site.engineer, now())).await.unwrap_err();
    assert!(matches!(refused, StoreError::Study(StudyRefusal::NoSamples)), "{refused}");
    let counts = of(Selection::of(site.leaks), None);
    let refused = answer(&pool, &counts, now()).await.unwrap_err();
    assert!(matches!(refused, StoreError::Study(StudyRefusal::OtherKind)), "{refused}");
    assert!(list(&pool, None, None).await.unwrap().is_empty());
}

/// Each is a change of a study behind the trail's back.
#[rstest]
#[case::answer("update study set answer = replace(answer, '\"samples\":20', '\"samples\":21')", "study", "answer")]
#[case::question("update study set question = jsonb_set(question, '{of,last}', '5')", "study", "question")]
#[case::name("update study set name = 'Another'", "study", "name")]
#[case::gone(
    "delete from study_signature; delete from study_of; delete from study where frozen_of is not null",
    "study",
    "row"
)]
#[case::signed_another("update study_signature set digest = 'x'", "study_signature", "digest")]
#[case::signed_by_another(
    "update study_signature set person_id = (select id from person where login = 'tom')",
    "study_signature",
    "person"
)]
#[sqlx::test]
async fn a_study_that_is_not_as_the_trail_tells_it_is_named(
    #[ignore] pool: PgPool,
    #[case] attack: &'static str,
    #[case] table: &str,
    #[case] field: &str,
) {
    let site = filled(&pool).await;
    let by = (site.engineer, now());
    let id = keep(&pool, &study("Wall", whole(&site)), by).await.unwrap();
    let copy = freeze(&pool, id, 1, by).await.unwrap();
    let eve = Person { name: "eve".into(), ..person(site.engineer, Role::Engineer) };
    sign(&pool, copy, &find(&pool, copy).await.unwrap().digest, &eve, now()).await.unwrap();
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
    sqlx::raw_sql(attack).execute(&pool).await.unwrap();
    let report = verify(&pool, None).await.unwrap();
    let named = |finding: &Finding| matches!(finding, Finding::Row(d) if d.table == table && d.field == field);
    assert!(report.findings.iter().any(named), "{report:?}");
}
