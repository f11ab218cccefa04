//! What the database itself refuses, and a trail that shows when it was touched.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod common;

use common::{save_wall, site};
use rstest::rstest;
use sqlx::PgPool;
use store::trail::{Verdict, verify};

#[sqlx::test]
async fn everything_that_is_done_stands_in_the_trail(pool: PgPool) {
    let site = site(&pool, "").await;
    let saved = save_wall(&pool, &site, 0, 5.9).await;
    store::notes::write(&pool, saved.sample, site.technician, site.since, " dropped ").await.unwrap();
    let entries = store::trail::list(&pool, Some(site.wall), None, 10).await.unwrap();
    let deeds: Vec<String> = entries.iter().rev().map(|e| format!("{:?} {}", e.action, e.detail["text"])).collect();
    assert_eq!(deeds, ["SampleSaved null", "SignalRaised null", "NoteWritten \"dropped\""]);
    assert_eq!(entries[2].detail["readings"][1], 5.9);
}

#[rstest]
#[case::changed("update trail set detail = '{}' where position = 2")]
#[case::removed("delete from trail where position = 2")]
#[case::emptied("truncate trail")]
#[sqlx::test]
async fn the_trail_is_append_only(#[ignore] pool: PgPool, #[case] attack: &'static str) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.9).await;
    let refused = sqlx::query(attack).execute(&pool).await.unwrap_err().to_string();
    assert!(refused.contains("append-only"), "{refused}");
}

#[rstest]
#[case::changed("update trail set detail = replace(detail, '5.9', '5.1') where position = 1", 1)]
#[case::removed("delete from trail where position = 2", 2)]
#[case::cut_off("delete from trail where position > 2", 3)]
#[case::moved("update trail set at = at + interval '1 microsecond' where position = 3", 3)]
#[sqlx::test]
async fn who_gets_around_the_lock_is_seen(#[ignore] pool: PgPool, #[case] attack: &'static str, #[case] at: i64) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.9).await;
    save_wall(&pool, &site, 1, 5.0).await;
    assert_eq!(verify(&pool).await.unwrap(), Verdict::Whole { chains: 1, entries: 3 });
    sqlx::raw_sql("alter table trail disable trigger user").execute(&pool).await.unwrap();
    sqlx::query(attack).execute(&pool).await.unwrap();
    assert_eq!(verify(&pool).await.unwrap(), Verdict::Broken { chain: site.wall, position: at });
}

#[rstest]
#[case::all_readings_missing("update sample set readings = array[null, null]::float8[]", "sample_readings")]
#[case::no_readings("update sample set readings = '{}'", "sample_readings")]
#[case::nothing_recorded("update sample set readings = null", "sample_content")]
#[case::readings_and_a_count("update sample set count = 1, inspected = 2", "sample_content")]
#[case::count_without_inspected("update sample set readings = null, count = 1", "sample_count")]
#[case::withdrawn_by_nobody("update sample set withdrawn_at = now()", "sample_withdrawn")]
#[case::lot_without_a_beginning("update station set lot = 'K-1'", "station_lot_began")]
#[case::chart_of_another_kind("update characteristic set chart = 'p' where kind = 'measured'", "characteristic_chart")]
#[case::spec("update characteristic set lsl = 2, usl = 1", "characteristic_spec")]
#[case::unknown_characteristic(
    "update sample set characteristic_id = gen_random_uuid()",
    "sample_characteristic_id_fkey"
)]
#[case::number_twice("update sample set number = 1", "sample_characteristic_id_number_key")]
#[case::entry_twice("update sample set entry = '00000000-0000-0000-0000-000000000001'", "sample_entry_once")]
#[case::state("update signal set state = 'closed'", "signal_state_check")]
#[case::withdrawn_without_reason("update signal set withdrawn_at = now()", "signal_check1")]
#[case::limits_without_figures("update limits set put_in_force_at = null where state = 'in_force'", "limits_in_force")]
#[case::subgroup_of_individuals(
    "update characteristic set subgroup_size = 1 where chart = 'xbar_r'",
    "characteristic_chart"
)]
#[sqlx::test]
async fn the_database_refuses(#[ignore] pool: PgPool, #[case] attack: &'static str, #[case] constraint: &'static str) {
    let site = site(&pool, "").await;
    save_wall(&pool, &site, 0, 5.9).await;
    save_wall(&pool, &site, 1, 5.0).await;
    let error = sqlx::query(attack).execute(&pool).await.unwrap_err();
    assert_eq!(error.as_database_error().unwrap().constraint(), Some(constraint), "{error}");
}

#[sqlx::test(migrations = false)]
async fn instances_that_start_at_once_migrate_once(pool: PgPool) {
    let (one, two) = futures::join!(store::migrate(&pool), store::migrate(&pool));
    one.unwrap();
    two.unwrap();
    let tables: i64 =
        sqlx::query_scalar("select count(*) from pg_tables where tablename = 'sample'").fetch_one(&pool).await.unwrap();
    assert_eq!(tables, 1);
}
