//! Samples that are brought in: known again, judged as if they had been entered, told by the trail in one entry.

use std::collections::BTreeSet;
use std::sync::Arc;

use chrono::{DateTime, Duration, SubsecRound, Utc};
use quality::characteristic::Characteristic;
use quality::import::{Checked, ImportEntry, ImportSource, RefusedRow, RowRefusal};
use quality::sample::Content;
use rstest::rstest;
use serde_json::json;
use spc::chart::ChartKind;
use spc::rules::{Preset, RuleSet};
use sqlx::{AssertSqlSafe, Connection, PgConnection, PgPool};
use store::background::make_waiting;
use store::imports::{Import, ImportState, ImportView, Started, cancel, end_abandoned, import, start};
use store::samples::{NewSample, Visit, save};
use store::trail::{Finding, verify};
use tokio::task::JoinHandle;
use uuid::Uuid;

use crate::common::{Site, accepted, sample, site};
use crate::whole::{
    Chance, Plain, add, characteristic, content, gathered, in_episodes, in_force, plain, series, standing, whole,
};

const LIST: &str = "kiln.csv";

/// Entries of a list, a minute apart from `from` on, each with the number of its row.
fn entries(site: &Site, of: Uuid, from: i64, contents: impl IntoIterator<Item = Option<Content>>) -> Checked {
    let source = ImportSource { name: LIST, characteristic: of };
    let entries = contents.into_iter().zip(0..).map(|(content, i)| ImportEntry {
        row: Some(i + 2),
        entry: Uuid::new_v5(&source.device(), &i.to_le_bytes()),
        digest: Uuid::new_v5(&Uuid::NAMESPACE_OID, format!("{content:?}").as_bytes()).into_bytes(),
        taken_at: site.since.trunc_subsecs(6) + Duration::minutes(from + i64::from(i)),
        taken: content.map(accepted),
    });
    Checked { entries: entries.collect(), refused: vec![] }
}

fn readings(many: usize) -> Vec<Option<Content>> {
    // Every fiftieth is far away.
    let reading = |i: usize| if i % 50 == 49 { 5.9 } else { 5.0 + 0.02 * ((i % 5) as f64 - 2.0) };
    (0..many).map(|i| Some(Content::readings([reading(i)]))).collect()
}

fn of(site: &Site, characteristic: Uuid, at: DateTime<Utc>) -> Import {
    Import {
        characteristic,
        file: ("kiln.csv".into(), "ab".repeat(32)),
        source: LIST.into(),
        recipe: json!({"read": {"format": "csv"}}),
        key: vec![],
        recipe_id: None,
        stated: None,
        same_list: false,
        person: site.engineer,
        at,
    }
}

async fn brought_in(pool: &PgPool, site: &Site, characteristic: Uuid, checked: &Checked) -> ImportView {
    let of = of(site, characteristic, site.since + Duration::days(20));
    let Started { id, left } = start(pool, &of, Arc::new(checked.clone())).await.unwrap();
    if let Some(left) = left {
        left.bring_in(pool).await.unwrap();
    }
    import(pool, id).await.unwrap()
}

async fn stands(pool: &PgPool, site: &Site, id: Uuid, of: &Characteristic) -> (BTreeSet<Plain>, BTreeSet<Plain>) {
    let series = series(pool, id, of).await;
    let standing = standing(pool, id, &series).await;
    assert_eq!(in_episodes(&standing), gathered(&series, &standing, &[]));
    let whole = whole(of, &[(site.since, in_force(of.chart))], &series);
    let found = whole.signals.iter().map(plain).collect();
    (standing.iter().map(|stands| plain(&stands.finding)).collect(), found)
}

async fn individuals(pool: &PgPool, site: &Site) -> (Uuid, Characteristic) {
    let it = characteristic(ChartKind::IMr, RuleSet::Preset(Preset::Nelson), "Density".into());
    (add(pool, site, &it, Some(in_force(ChartKind::IMr))).await, it)
}

async fn is_whole(pool: &PgPool) {
    let report = verify(pool, None).await.unwrap();
    assert!(report.findings.is_empty(), "{:?}", report.findings);
}

/// While another import is brought in straight away, others are staged.
async fn another_is_brought_in(pool: &PgPool) -> PgConnection {
    let mut another = PgConnection::connect_with(&pool.connect_options()).await.unwrap();
    sqlx::query("select pg_advisory_lock($1)").bind(0x6e75_7665_6b00_0003_i64).execute(&mut another).await.unwrap();
    another
}

/// Before what is there, in the middle of it, and behind it, or behind all of it, by itself and beside another; at once,
/// straight away in pieces, and aside in pieces.
#[rstest]
#[case::individuals(ChartKind::IMr)]
#[case::means(ChartKind::XbarS)]
#[case::remembering(ChartKind::Ewma)]
#[case::shares(ChartKind::P)]
#[case::flaws(ChartKind::U)]
#[case::events_counted(ChartKind::G)]
#[case::events_by_time(ChartKind::T)]
#[sqlx::test]
async fn what_stands_is_what_the_whole_chart_finds(#[ignore] pool: PgPool, #[case] chart: ChartKind) {
    let site = site(&pool, "").await;
    // Minutes at which samples were entered before; behind them a signal may go on, which is no longer straight away.
    let (early, none) = (20..60, 0..0);
    let cases = [
        (60, 0, false, early.clone(), Some(ImportState::Done)),
        (1_050, 0, false, early.clone(), Some(ImportState::Waiting)),
        (1_050, 60, false, early.clone(), None),
        (1_050, 60, false, none, Some(ImportState::Done)),
        (1_050, 60, true, early, Some(ImportState::Waiting)),
    ];
    for (many, from, beside_another, before, state) in cases {
        let _another = if beside_another { Some(another_is_brought_in(&pool).await) } else { None };
        let it = characteristic(
            chart,
            RuleSet::Preset(Preset::Nelson),
            format!("{chart:?} {many} {from} {beside_another} {before:?}"),
        );
        let id = add(&pool, &site, &it, Some(in_force(chart))).await;
        let mut chance = Chance::new(7);
        for minutes in before.step_by(4) {
            let taken_at = site.since + Duration::minutes(minutes) + Duration::seconds(30);
            let visit = Visit::Taken(accepted(content(&it, &mut chance)));
            save(&pool, &NewSample { visit, taken_at, arrived_at: taken_at, ..sample(&site, id, 0, &[]) })
                .await
                .unwrap();
        }
        let contents = (0..many).map(|i| (i % 9 != 4).then(|| content(&it, &mut chance)));
        let view = brought_in(&pool, &site, id, &entries(&site, id, from, contents)).await;
        assert_eq!(view.stored, many);
        assert_eq!(view.state, state.unwrap_or(view.state));
        make_waiting(&pool).await.unwrap();
        assert_eq!(import(&pool, view.id).await.unwrap().state, ImportState::Done);
        let (stand, found) = stands(&pool, &site, id, &it).await;
        assert!(!found.is_empty());
        assert_eq!(stand, found, "{chart:?} {many} {from}");
    }
    is_whole(&pool).await;
}

#[sqlx::test]
async fn a_list_is_known_again_and_only_what_is_new_is_stored(pool: PgPool) {
    let site = site(&pool, "").await;
    let (id, _) = individuals(&pool, &site).await;
    let first = brought_in(&pool, &site, id, &entries(&site, id, 0, readings(40))).await;
    assert_eq!((first.stored, first.known, first.changed), (40, 0, 0));
    let again = brought_in(&pool, &site, id, &entries(&site, id, 0, readings(40))).await;
    assert_eq!((again.state, again.stored, again.known), (ImportState::Done, 0, 40));
    let mut grown = entries(&site, id, 0, readings(45));
    grown.entries[3] = ImportEntry { digest: [9; 16], ..grown.entries[3].clone() };
    grown.refused.push(RefusedRow { row: Some(99), refusal: RowRefusal::NoTime });
    let more = brought_in(&pool, &site, id, &grown).await;
    assert_eq!((more.stored, more.known, more.changed, more.refused), (5, 39, 1, 1));
    let samples: i64 = sqlx::query_scalar("select count(*) from sample where characteristic_id = $1")
        .bind(id)
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(samples, 45);
    is_whole(&pool).await;
}

#[sqlx::test]
async fn two_that_bring_in_the_same_at_once_store_it_once(pool: PgPool) {
    let site = site(&pool, "").await;
    let (id, _) = individuals(&pool, &site).await;
    let list = entries(&site, id, 0, readings(30));
    let (one, other) = futures::join!(brought_in(&pool, &site, id, &list), brought_in(&pool, &site, id, &list));
    assert_eq!((one.stored + other.stored, one.known + other.known), (30, 30));
}

#[sqlx::test]
async fn what_waits_can_be_cancelled_and_nothing_of_it_is_there(pool: PgPool) {
    let site = site(&pool, "").await;
    let (id, _) = individuals(&pool, &site).await;
    let _another = another_is_brought_in(&pool).await;
    let view = brought_in(&pool, &site, id, &entries(&site, id, 0, readings(1_200))).await;
    assert_eq!((view.state, view.to_do), (ImportState::Waiting, Some(1_200)));
    // Entries go on meanwhile.
    save(&pool, &sample(&site, id, 5_000, &[5.0])).await.unwrap();
    cancel(&pool, view.id).await.unwrap();
    assert_eq!(make_waiting(&pool).await.unwrap(), 0);
    assert_eq!(import(&pool, view.id).await.unwrap().state, ImportState::Cancelled);
    assert!(cancel(&pool, view.id).await.is_err(), "cancelled already");
    let left: i64 = sqlx::query_scalar(
        "select (select count(*) from import_sample) + (select count(*) from sample where import_id is not null)",
    )
    .fetch_one(&pool)
    .await
    .unwrap();
    assert_eq!(left, 0);
    let again = brought_in(&pool, &site, id, &entries(&site, id, 0, readings(1_200))).await;
    make_waiting(&pool).await.unwrap();
    assert_eq!(import(&pool, again.id).await.unwrap().state, ImportState::Done);
    is_whole(&pool).await;
}

/// Begins an import of many samples; what is left of it goes on, or is judged aside where another is brought in.
async fn goes_on(pool: &PgPool, site: &Site, of_characteristic: Uuid, many: usize) -> (Uuid, JoinHandle<()>) {
    let of = of(site, of_characteristic, site.since + Duration::days(20));
    let checked = entries(site, of_characteristic, 0, readings(many));
    let Started { id, left } = start(pool, &of, Arc::new(checked)).await.unwrap();
    let pool = pool.clone();
    let going = tokio::spawn(async move {
        left.unwrap().bring_in(&pool).await.unwrap();
        make_waiting(&pool).await.unwrap();
    });
    (id, going)
}

/// Whoever cancels does not wait until all is judged: then it would be too late. What is cancelled ends soon.
#[rstest]
#[case::straight_away(false)]
#[case::judged_aside(true)]
#[sqlx::test]
async fn what_is_under_way_is_cancelled_at_once(#[ignore] pool: PgPool, #[case] beside_another: bool) {
    let site = site(&pool, "").await;
    let (id, _) = individuals(&pool, &site).await;
    let _another = if beside_another { Some(another_is_brought_in(&pool).await) } else { None };
    let (began, going) = goes_on(&pool, &site, id, 25_000).await;
    // The first are there, more are to come.
    let view = loop {
        let view = import(&pool, began).await.unwrap();
        assert!(!going.is_finished(), "{:?}", going.await);
        if view.done > Some(0) {
            break view;
        }
        tokio::task::yield_now().await;
    };
    assert_eq!(view.to_do, Some(if beside_another { 25_000 } else { 50_000 }));
    cancel(&pool, began).await.unwrap();
    going.await.unwrap();
    let left: i64 = sqlx::query_scalar(
        "select (select count(*) from sample) + (select count(*) from import_sample)
             + (select count(*) from import_progress) + (select count(*) from judging_again)",
    )
    .fetch_one(&pool)
    .await
    .unwrap();
    let view = import(&pool, began).await.unwrap();
    assert_eq!((left, view.state, view.done), (0, ImportState::Cancelled, None));
    is_whole(&pool).await;
}

/// Undisturbed, samples are written once; where another one writes in the same chain meanwhile, they are written again
/// behind it.
#[rstest]
#[case::undisturbed(false, false)]
#[case::disturbed(true, false)]
#[case::aside_undisturbed(false, true)]
#[case::aside_disturbed(true, true)]
#[sqlx::test]
async fn an_import_is_kept_where_it_was_tried_unless_somebody_was_there(
    #[ignore] pool: PgPool,
    #[case] disturbed: bool,
    #[case] beside_another: bool,
) {
    let site = site(&pool, "").await;
    let (id, _) = individuals(&pool, &site).await;
    let _another = if beside_another { Some(another_is_brought_in(&pool).await) } else { None };
    let mut other = pool.begin().await.unwrap();
    let of = of(&site, id, site.since + Duration::days(20));
    let Started { id: began, left } =
        start(&pool, &of, Arc::new(entries(&site, id, 0, readings(1_200)))).await.unwrap();
    if disturbed {
        let writes = "update trail_head set position = position where chain = $1";
        sqlx::query(writes).bind(id).execute(&mut *other).await.unwrap();
    }
    let going = tokio::spawn({
        let pool = pool.clone();
        async move {
            left.unwrap().bring_in(&pool).await.unwrap();
            make_waiting(&pool).await.unwrap()
        }
    });
    if disturbed {
        let waits = "select exists (select from pg_stat_activity where datname = current_database()
                         and wait_event_type = 'Lock')";
        while !sqlx::query_scalar::<_, bool>(waits).fetch_one(&pool).await.unwrap() {
            assert!(!going.is_finished(), "{:?}", going.await);
            tokio::task::yield_now().await;
        }
    }
    other.commit().await.unwrap();
    let waited = going.await.unwrap();
    assert_eq!(waited, usize::from(disturbed || beside_another));
    assert_eq!(import(&pool, began).await.unwrap().state, ImportState::Done);
    let first_block: i64 =
        sqlx::query_scalar("select min((ctid::text::point)[0])::bigint from sample where import_id = $1")
            .bind(began)
            .fetch_one(&pool)
            .await
            .unwrap();
    assert_eq!(first_block > 0, disturbed, "written again behind what was taken back");
    is_whole(&pool).await;
}

/// What cannot be made is said at once, straight away as aside.
#[rstest]
#[case::straight_away(false)]
#[case::judged_aside(true)]
#[sqlx::test]
async fn events_of_one_moment_end_an_import(#[ignore] pool: PgPool, #[case] beside_another: bool) {
    let site = site(&pool, "").await;
    let it = characteristic(ChartKind::T, RuleSet::Preset(Preset::Nelson), "Stops".into());
    let id = add(&pool, &site, &it, Some(in_force(ChartKind::T))).await;
    let _another = if beside_another { Some(another_is_brought_in(&pool).await) } else { None };
    let mut chance = Chance::new(3);
    let mut twice = entries(&site, id, 0, (0..1_200).map(|_| Some(content(&it, &mut chance))));
    twice.entries[700].taken_at = twice.entries[699].taken_at;
    let view = brought_in(&pool, &site, id, &twice).await;
    make_waiting(&pool).await.unwrap();
    let stored: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!((stored, import(&pool, view.id).await.unwrap().state), (0, ImportState::Failed));
}

/// A server that ends between keeping an import and forgetting that it waited does not make it again.
#[sqlx::test]
async fn what_is_made_and_still_waits_is_forgotten(pool: PgPool) {
    let site = site(&pool, "").await;
    let (id, _) = individuals(&pool, &site).await;
    let _another = another_is_brought_in(&pool).await;
    let view = brought_in(&pool, &site, id, &entries(&site, id, 0, readings(1_200))).await;
    sqlx::query("create table waited as select * from judging_again").execute(&pool).await.unwrap();
    make_waiting(&pool).await.unwrap();
    let again = "insert into judging_again overriding system value select * from waited";
    sqlx::query(again).execute(&pool).await.unwrap();
    assert_eq!(make_waiting(&pool).await.unwrap(), 1);
    let left: i64 = sqlx::query_scalar("select count(*) from judging_again").fetch_one(&pool).await.unwrap();
    assert_eq!((left, import(&pool, view.id).await.unwrap().state), (0, ImportState::Done));
    is_whole(&pool).await;
}

/// An import whose server ended while it copied is given up; one that is being copied is not.
#[sqlx::test]
async fn what_nobody_copies_any_more_is_given_up(pool: PgPool) {
    let site = site(&pool, "").await;
    let (id, _) = individuals(&pool, &site).await;
    let mut held = pool.begin().await.unwrap();
    sqlx::query("lock table sample in share mode").execute(&mut *held).await.unwrap();
    let (began, going) = goes_on(&pool, &site, id, 1_200).await;
    let copies =
        "select exists (select from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock')";
    while !sqlx::query_scalar::<_, bool>(copies).fetch_one(&pool).await.unwrap() {
        assert!(!going.is_finished(), "{:?}", going.await);
        tokio::task::yield_now().await;
    }
    sqlx::query("insert into import_progress values ($1, 400)").bind(began).execute(&pool).await.unwrap();
    let view = import(&pool, began).await.unwrap();
    assert_eq!((view.state, view.done, view.to_do), (ImportState::Staged, Some(400), Some(2_400)));
    let later = |seconds| view.at + Duration::seconds(seconds);
    assert_eq!(end_abandoned(&pool, later(90)).await.unwrap(), 0, "it is being copied");
    // As its server ends: what it copies through and what says so go with it.
    let ends = "select pg_terminate_backend(pid, 10000) from (
                    select pid from pg_locks where locktype = 'advisory'
                    union select pid from pg_stat_activity where wait_event_type = 'Lock') its
                join pg_stat_activity using (pid) where datname = current_database()";
    sqlx::query(ends).execute(&pool).await.unwrap();
    held.rollback().await.unwrap();
    assert!(going.await.is_err());
    assert_eq!(end_abandoned(&pool, later(59)).await.unwrap(), 0, "it has only just begun");
    assert_eq!(end_abandoned(&pool, later(90)).await.unwrap(), 1);
    let left: i64 = sqlx::query_scalar("select (select count(*) from sample) + (select count(*) from import_progress)")
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!((left, import(&pool, began).await.unwrap().state), (0, ImportState::Failed));
    is_whole(&pool).await;
}

/// A sample that was brought in is corrected, set aside and withdrawn like any other.
#[sqlx::test]
async fn what_happens_to_them_later_is_told_as_of_others(pool: PgPool) {
    let site = site(&pool, "").await;
    let (id, _) = individuals(&pool, &site).await;
    brought_in(&pool, &site, id, &entries(&site, id, 0, readings(60))).await;
    let ids: Vec<Uuid> = sqlx::query_scalar("select id from sample where characteristic_id = $1 order by number")
        .bind(id)
        .fetch_all(&pool)
        .await
        .unwrap();
    let engineer = crate::common::person(site.engineer, quality::role::Role::Engineer);
    let now = Utc::now();
    for (value, version) in [(5.01, 1), (5.02, 2)] {
        let content = accepted(Content::readings([value]));
        store::samples::correct(&pool, ids[49], version, &engineer, now, &content, "misread").await.unwrap();
    }
    store::samples::withdraw(&pool, ids[3], 1, &engineer, now, "wrong part").await.unwrap();
    is_whole(&pool).await;
}

#[rstest]
#[case::a_reading("update sample set readings[1] = 5.03 where import_id is not null and number % 20 = 7", "import")]
#[case::a_time(
    "update sample set taken_at = taken_at + interval '1 second' where import_id is not null and number % 20 = 7",
    "import"
)]
#[case::one_gone(
    "delete from sample where id = (select id from sample s where import_id is not null and not exists (select from signal where s.id in (from_sample, at_sample, to_sample, withdrawn_because)) limit 1)",
    "import"
)]
#[case::one_that_came_otherwise(
    "alter table sample disable trigger sample_stays;
     update sample set import_id = null, source_digest = null where import_id is not null and number % 20 = 7",
    "sample"
)]
#[case::where_it_came_from("update import set source = 'another.csv'", "import")]
#[case::whose_it_is("update import set person_id = (select id from person where login = 'sue')", "import")]
#[case::what_its_rows_are_known_by("update import set key = '{taken}'", "import")]
#[sqlx::test]
async fn what_was_done_behind_the_trail_is_found(#[ignore] pool: PgPool, #[case] attack: &str, #[case] table: &str) {
    let site = site(&pool, "").await;
    let (id, _) = individuals(&pool, &site).await;
    brought_in(&pool, &site, id, &entries(&site, id, 0, readings(40))).await;
    is_whole(&pool).await;
    sqlx::raw_sql(AssertSqlSafe(attack)).execute(&pool).await.unwrap();
    let report = verify(&pool, None).await.unwrap();
    let tables: BTreeSet<_> = report
        .findings
        .iter()
        .filter_map(|finding| match finding {
            Finding::Row(difference) => Some(difference.table),
            _ => None,
        })
        .collect();
    assert!(tables.contains(table), "{:?}", report.findings);
}
