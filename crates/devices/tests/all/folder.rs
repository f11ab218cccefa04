//! Watched folders: tables that come whole, in halves, wrong, twice; and instances that end in the middle.

use std::path::Path;

use chrono::{Duration, Utc};
use devices::folder::Folders;
use devices::simulate::{Tables, Values};
use devices::{Networks, hub};
use quality::device::{Link, Reason, WatchedFolder};
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use sqlx::postgres::PgPoolOptions;
use store::devices::{DeviceView, NewDevice};
use store::recipes::ToKeep;
use tempfile::TempDir;
use tokio::fs;
use tokio::task::JoinHandle;
use tokio_util::sync::{CancellationToken, DropGuard};

use crate::common::{Site, site};
use crate::waiting::until;

struct Kiln {
    pool: PgPool,
    site: Site,
    root: TempDir,
}

fn recipe() -> Value {
    json!({"read": {"format": "csv"}, "shape": {"kind": "across", "values": ["value"]},
           "time": {"column": "taken", "format": "%Y-%m-%d %H:%M"}})
}

async fn kiln(pool: &PgPool, more: impl FnOnce(&mut WatchedFolder)) -> Kiln {
    kiln_known_by(pool, &[], more).await
}

async fn kiln_known_by(pool: &PgPool, key: &[String], more: impl FnOnce(&mut WatchedFolder)) -> Kiln {
    store::migrate(pool).await.unwrap();
    let site = site(pool, "").await;
    let to_keep = ToKeep { name: "Kiln log", recipe: &recipe(), key };
    let recipe = store::recipes::keep(pool, to_keep, (site.engineer, Utc::now())).await.unwrap();
    let mut link = WatchedFolder {
        folder: "kiln".into(),
        recipe,
        characteristic: site.viscosity,
        list: None,
        without_tags: vec![],
        only_right: false,
        follows: false,
    };
    more(&mut link);
    let new = NewDevice { name: "Kiln".into(), stations: vec![site.station], link: Link::Folder(link) };
    store::devices::add(pool, &new, None, site.engineer, Utc::now()).await.unwrap();
    let root = tempfile::tempdir().unwrap();
    fs::create_dir(root.path().join("kiln")).await.unwrap();
    Kiln { pool: pool.clone(), site, root }
}

/// What a process in control might give: no rule is broken by it, since raising signals is not what takes time here.
const QUIET: [i64; 17] = [0, 3, -1, 1, -4, 0, 2, -2, 4, 0, -3, 1, 0, -1, 5, -2, 1];

/// A line a minute, from a line on.
fn lines(site: &Site, from: i64, many: i64) -> String {
    let line = |i: i64| {
        let taken = site.since + Duration::minutes(i);
        let quiet = QUIET[usize::try_from(i).unwrap() % QUIET.len()];
        format!("{},{}\n", taken.format("%Y-%m-%d %H:%M"), 330 + quiet)
    };
    (from..from + many).map(line).collect()
}

const HEADER: &str = "taken,value\n";

impl Kiln {
    /// With connections of its own, as a process has them: what it breaks off in the middle is nobody else's.
    fn instance(&self) -> DropGuard {
        let options = self.pool.connect_options().as_ref().clone();
        let (pool, stop) =
            (PgPoolOptions::new().max_connections(4).connect_lazy_with(options), CancellationToken::new());
        let folders = Folders::below(self.root.path().into());
        tokio::spawn(hub::run(pool, Networks::default(), folders, stop.clone()));
        stop.drop_guard()
    }

    fn folder(&self) -> std::path::PathBuf {
        self.root.path().join("kiln")
    }

    async fn comes(&self, name: &str, content: &str) {
        fs::write(self.folder().join(name), content).await.unwrap();
    }

    async fn view(&self) -> DeviceView {
        store::devices::list(&self.pool, Utc::now()).await.unwrap().remove(0)
    }

    /// What is reported of a table, once it is there.
    async fn report(&self, place: &str, name: &str) -> Value {
        let path = self.folder().join(place).join(format!("{name}.report.json"));
        let report = until(async || fs::read(&path).await).await;
        // The table is moved after its report was written.
        until(async || fs::metadata(self.folder().join(place).join(name)).await).await;
        serde_json::from_slice(&report).unwrap()
    }

    async fn stored(&self) -> i64 {
        sqlx::query_scalar("select count(*) from sample").fetch_one(&self.pool).await.unwrap()
    }

    async fn is_counted(&self, accepted: i64, refused: &[(Reason, i64)]) {
        until(async || {
            let DeviceView { accepted: taken, refusals, .. } = self.view().await;
            let counted: Vec<_> = refusals.into_iter().map(|it| (it.reason, it.count)).collect();
            if (taken, counted.as_slice()) == (accepted, refused) { Ok(()) } else { Err((taken, counted)) }
        })
        .await;
    }
}

/// Judges aside as the server does.
fn judging(pool: &PgPool) -> JoinHandle<()> {
    let pool = pool.clone();
    tokio::spawn(async move {
        loop {
            store::background::make_waiting(&pool).await.unwrap();
            tokio::time::sleep(std::time::Duration::from_millis(20)).await;
        }
    })
}

#[sqlx::test]
async fn a_table_is_brought_in_when_it_is_whole(pool: PgPool) {
    let kiln = kiln(&pool, |_| {}).await;
    let _instance = kiln.instance();
    kiln.comes("log.csv.part", "no table yet").await;
    // It is written in two goes, and ends in the middle of a line between them.
    let whole = format!("{HEADER}{}", lines(&kiln.site, 0, 40));
    kiln.comes("log.csv", &whole[..whole.len() / 2]).await;
    tokio::time::sleep(std::time::Duration::from_secs(2)).await;
    kiln.comes("log.csv", &whole).await;
    let report = kiln.report("done", "log.csv").await;
    let told = ["rows", "into", "list", "recipe", "refused"].map(|field| report[field].clone());
    assert_eq!(json!(told), json!([40, "Viscosity", "log.csv", "Kiln log", null]));
    assert_eq!(report["imports"][0]["stored"], 40);
    assert_eq!(report["imports"].as_array().map(Vec::len), Some(1), "it was not taken before it was whole");
    kiln.is_counted(40, &[]).await;
    assert_eq!(kiln.stored().await, 40);
    assert!(fs::metadata(kiln.folder().join("log.csv")).await.is_err());
    assert!(fs::metadata(kiln.folder().join("log.csv.part")).await.is_ok());
    // Tables come when they come: it is not silent, however long ago the last one was.
    sqlx::query("update device set heard_at = now() - interval '3 days'").execute(&pool).await.unwrap();
    assert_eq!(kiln.view().await.silent_since, None);
}

#[sqlx::test]
async fn a_list_that_grows_brings_what_is_new(pool: PgPool) {
    let kiln = kiln(&pool, |link| link.list = Some("kiln log".into())).await;
    let _instance = kiln.instance();
    kiln.comes("monday.csv", &format!("{HEADER}{}", lines(&kiln.site, 0, 30))).await;
    kiln.report("done", "monday.csv").await;
    kiln.comes("tuesday.csv", &format!("{HEADER}{}", lines(&kiln.site, 0, 35))).await;
    let report = kiln.report("done", "tuesday.csv").await;
    assert_eq!((&report["imports"][0]["stored"], &report["imports"][0]["known"]), (&json!(5), &json!(30)));
    // Under a name that another one took.
    kiln.comes("monday.csv", &format!("{HEADER}{}", lines(&kiln.site, 0, 36))).await;
    kiln.is_counted(36, &[]).await;
    let mut names = vec![];
    let mut done = fs::read_dir(kiln.folder().join("done")).await.unwrap();
    while let Some(entry) = done.next_entry().await.unwrap() {
        names.push(entry.file_name().into_string().unwrap());
    }
    assert_eq!(names.iter().filter(|name| name.starts_with("monday.") && name.ends_with(".csv")).count(), 2);
    // Another list under the same name.
    kiln.comes("other.csv", &format!("{HEADER}{}", lines(&kiln.site, 3, 36))).await;
    assert_eq!(kiln.report("refused", "other.csv").await["refused"], "another_list");
    kiln.is_counted(36, &[(Reason::AnotherList, 1)]).await;
}

/// Newest first, as some programs write: each row is known by its time, wherever it stands.
#[sqlx::test]
async fn rows_that_move_are_known_by_their_key(pool: PgPool) {
    let kiln = kiln_known_by(&pool, &["taken".into()], |link| link.list = Some("kiln log".into())).await;
    let _instance = kiln.instance();
    let newest_first = |from, many| {
        let lines = lines(&kiln.site, from, many);
        lines.lines().rev().fold(HEADER.to_owned(), |table, line| table + line + "\n")
    };
    kiln.comes("monday.csv", &newest_first(0, 30)).await;
    kiln.report("done", "monday.csv").await;
    kiln.comes("tuesday.csv", &newest_first(10, 25)).await;
    let made = kiln.report("done", "tuesday.csv").await["imports"][0].clone();
    assert_eq!((&made["stored"], &made["known"], &made["changed"]), (&json!(5), &json!(20), &json!(0)));
    kiln.is_counted(35, &[]).await;
    // Two rows of one time cannot be told apart by it.
    kiln.comes("twice.csv", &format!("{HEADER}{0}{0}", lines(&kiln.site, 50, 1))).await;
    let report = kiln.report("refused", "twice.csv").await;
    assert_eq!((&report["refused"], &report["wrong_recipe"]["path"]), (&json!("table"), &json!("key")));
}

#[rstest]
#[case::a_cell("2026-05-04 06:00,331\n2026-05-04 06:01,wet\n", "cells", Reason::Cells)]
#[case::a_row("2026-05-04 06:00,331\n2999-05-04 06:01,332\n", "rows", Reason::Rows)]
#[sqlx::test]
async fn a_table_is_taken_whole_or_not_at_all(
    #[ignore] pool: PgPool,
    #[case] rows: &str,
    #[case] refused: &str,
    #[case] reason: Reason,
    #[values(false, true)] only_right: bool,
) {
    let kiln = kiln(&pool, |link| link.only_right = only_right).await;
    let _instance = kiln.instance();
    kiln.comes("log.csv", &format!("{HEADER}{rows}")).await;
    let report = kiln.report(if only_right { "done" } else { "refused" }, "log.csv").await;
    assert_eq!(report["refused"], if only_right { Value::Null } else { refused.into() });
    assert_eq!(json!([report["refused_cells"], report["refused_rows"]]).to_string().matches('1').count(), 1);
    let said = [&report["cells"], &report["row_refusals"]].map(|all| all[0]["row"].clone());
    assert!(said.contains(&json!(3)), "{said:?}");
    let counted = [(reason, 1)];
    kiln.is_counted(i64::from(only_right), if only_right { &[] } else { &counted }).await;
    assert_eq!(kiln.stored().await, i64::from(only_right));
}

#[sqlx::test]
async fn what_its_recipe_is_not_for_is_refused_with_what_is_wrong(pool: PgPool) {
    let kiln = kiln(&pool, |_| {}).await;
    let _instance = kiln.instance();
    kiln.comes("moulds.csv", "mould,weight\n3,7.1\n").await;
    let report = kiln.report("refused", "moulds.csv").await;
    assert_eq!((&report["refused"], &report["wrong_recipe"]["path"]), (&json!("table"), &json!("time.column")));
    kiln.is_counted(0, &[(Reason::Table, 1)]).await;
    let last = kiln.view().await.refusals.remove(0).last;
    assert_eq!(last, "moulds.csv");
}

/// The stand-in writes each table in two goes.
#[sqlx::test]
async fn a_program_that_logs_is_followed(pool: PgPool) {
    let kiln = kiln(&pool, |_| {}).await;
    let _instance = kiln.instance();
    let values = Values { mean: 330.0, sigma: 4.0, decimals: 0 };
    let tables = Tables { folder: kiln.folder(), values, rows: 12, every: std::time::Duration::from_secs(3600) };
    let logs = tokio::spawn(async move { tables.run(|_| {}).await });
    kiln.is_counted(12, &[]).await;
    logs.abort();
    assert_eq!(kiln.stored().await, 12);
}

/// A row that was mended is corrected where the folder is followed, in the device's name; elsewhere it stays.
#[rstest]
#[sqlx::test]
async fn samples_follow_their_rows_where_that_is_wanted(#[ignore] pool: PgPool, #[values(false, true)] follows: bool) {
    let kiln = kiln(&pool, |link| (link.follows, link.list) = (follows, Some("kiln log".into()))).await;
    let _instance = kiln.instance();
    kiln.comes("monday.csv", &format!("{HEADER}{}", lines(&kiln.site, 0, 30))).await;
    kiln.report("done", "monday.csv").await;
    let mended = lines(&kiln.site, 0, 35).replacen(",331\n", ",391\n", 1);
    kiln.comes("tuesday.csv", &format!("{HEADER}{mended}")).await;
    let report = kiln.report("done", "tuesday.csv").await;
    assert_eq!((&report["corrected"], &report["imports"][0]["stored"]), (&json!(usize::from(follows)), &json!(5)));
    let value: f64 =
        sqlx::query_scalar("select readings[1] from sample where number = 4").fetch_one(&pool).await.unwrap();
    assert_eq!(value, if follows { 391.0 } else { 331.0 });
    let told: Vec<(String, String)> =
        sqlx::query_as("select p.name, c.reason from correction c join person p on p.id = c.person_id")
            .fetch_all(&pool)
            .await
            .unwrap();
    let expected = [("Kiln".to_owned(), "tuesday.csv: Kiln".to_owned())];
    assert_eq!(told, if follows { &expected[..] } else { &[] });
    // The same once more changes nothing.
    kiln.comes("wednesday.csv", &format!("{HEADER}{mended}")).await;
    assert_eq!(kiln.report("done", "wednesday.csv").await["corrected"], 0);
    assert!(store::trail::verify(&pool, None).await.unwrap().findings.is_empty());
}

#[sqlx::test]
async fn a_folder_that_is_not_there_is_counted(pool: PgPool) {
    let kiln = kiln(&pool, |link| link.folder = "elsewhere".into()).await;
    let _instance = kiln.instance();
    kiln.is_counted(0, &[(Reason::Folder, 1)]).await;
}

/// What it began is not told as stored.
#[sqlx::test]
async fn what_an_instance_left_while_it_copied_is_taken_by_the_next(pool: PgPool) {
    let kiln = kiln(&pool, |_| {}).await;
    let judging = judging(&pool);
    let mut held = pool.begin().await.unwrap();
    sqlx::query("lock table sample in share mode").execute(&mut *held).await.unwrap();
    let first = kiln.instance();
    // So many that they are copied apart from what says that they come.
    kiln.comes("log.csv", &format!("{HEADER}{}", lines(&kiln.site, 0, 1_500))).await;
    until(async || {
        let copies = "select count(*) from import, pg_stat_activity
                      where import.state = 'staged' and datname = current_database() and wait_event_type = 'Lock'";
        let copies = sqlx::query_scalar::<_, i64>(copies).fetch_one(&pool);
        if copies.await.unwrap() == 1 { Ok(()) } else { Err("copies nothing") }
    })
    .await;
    drop(first);
    // As its process ends: whatever waits for the table goes with it.
    let ends = "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'";
    sqlx::query(ends).execute(&pool).await.unwrap();
    held.rollback().await.unwrap();
    let _second = kiln.instance();
    let report = kiln.report("done", "log.csv").await;
    judging.abort();
    let made: Vec<_> = report["imports"].as_array().unwrap().iter().map(|it| (&it["state"], &it["stored"])).collect();
    assert_eq!(made, [(&json!("done"), &json!(1_500)), (&json!("staged"), &json!(0))]);
    assert_eq!(kiln.stored().await, 1_500);
}

/// Two instances at once, which end in the middle time and again: each sample is stored once, each table moved once.
#[sqlx::test]
async fn instances_that_end_in_the_middle_store_everything_once(pool: PgPool) {
    let kiln = kiln(&pool, |_| {}).await;
    let judging = judging(&pool);
    // The last are so many that they are judged aside.
    let tables = [("a.csv", 0, 200), ("b.csv", 1_000, 300), ("c.csv", 2_000, 1_500)];
    for (name, from, many) in tables {
        kiln.comes(name, &format!("{HEADER}{}", lines(&kiln.site, from, many))).await;
    }
    let left = async |folder: &Path| {
        let all = tables.map(|(name, ..)| folder.join(name));
        let mut left = 0;
        for path in all {
            left += usize::from(fs::try_exists(path).await.unwrap());
        }
        left
    };
    let mut ended = 0_u64;
    while left(&kiln.folder()).await > 0 {
        let _two = (kiln.instance(), kiln.instance());
        // Later each time: the first ends before anything is whole, some while a table is brought in.
        tokio::time::sleep(std::time::Duration::from_millis(3_500 + 500 * ended)).await;
        ended += 1;
        assert!(ended < 40, "nothing comes to an end");
    }
    judging.abort();
    assert_eq!(kiln.stored().await, 2_000);
    for (name, _, many) in tables {
        let report = kiln.report("done", name).await;
        let stored: i64 = report["imports"].as_array().unwrap().iter().filter_map(|made| made["stored"].as_i64()).sum();
        assert_eq!((stored, &report["rows"]), (many, &json!(many)), "{name}");
    }
    assert!(store::trail::verify(&pool, None).await.unwrap().findings.is_empty());
}
