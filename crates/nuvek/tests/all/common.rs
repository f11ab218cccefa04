//! The command on a database of a test, and other databases beside it.

use std::process::{Command, Output};

use serde_json::Value;
use sqlx::postgres::PgConnectOptions;
use sqlx::{ConnectOptions, PgPool};
use store::charts::{Asked, PLACES_AT_MOST};
use uuid::Uuid;

#[path = "../../../store/tests/all/common/mod.rs"]
#[allow(dead_code)] // the tests of the store use the rest
pub mod site;

/// The database of a test, as the command is told of it.
pub fn url(pool: &PgPool) -> String {
    let options: &PgConnectOptions = &pool.connect_options();
    options.to_url_lossy().to_string()
}

/// Runs the command on it.
pub fn nuvek(pool: &PgPool, arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_nuvek")).args(arguments).env("DATABASE_URL", url(pool)).output().unwrap()
}

/// All that it printed.
pub fn said(output: &Output) -> String {
    String::from_utf8_lossy(&output.stdout).into_owned() + &String::from_utf8_lossy(&output.stderr)
}

/// What the command says where it succeeds.
pub fn succeeded(pool: &PgPool, arguments: &[&str]) -> String {
    let output = nuvek(pool, arguments);
    assert!(output.status.success(), "{}", said(&output));
    said(&output)
}

/// Databases of tests may come with the tables.
pub async fn without_tables(pool: &PgPool) {
    sqlx::raw_sql("drop schema public cascade; create schema public").execute(pool).await.unwrap();
}

/// Another database of the same cluster, without a table; where it was migrated from the start, without those too.
pub async fn empty(pool: &PgPool) -> PgPool {
    let options: &PgConnectOptions = &pool.connect_options();
    let name = format!("restored_{}", Uuid::new_v4().simple());
    sqlx::raw_sql(sqlx::AssertSqlSafe(format!("create database {name} template template0")))
        .execute(pool)
        .await
        .unwrap();
    PgPool::connect_with(options.clone().database(&name)).await.unwrap()
}

/// Throws it away.
pub async fn gone(pool: &PgPool, restored: PgPool) {
    let name = restored.connect_options().get_database().unwrap().to_owned();
    restored.close().await;
    sqlx::raw_sql(sqlx::AssertSqlSafe(format!("drop database {name} with (force)"))).execute(pool).await.unwrap();
}

/// Every chart as it is sent.
pub async fn charts(pool: &PgPool) -> Vec<Value> {
    let ids: Vec<Uuid> = sqlx::query_scalar("select id from characteristic order by id").fetch_all(pool).await.unwrap();
    let asked = Asked {
        last: PLACES_AT_MOST,
        until: None,
        from: None,
        to: None,
        since: None,
        before: None,
        drawn: PLACES_AT_MOST as usize,
    };
    let mut charts = vec![];
    for id in ids {
        charts.push(serde_json::to_value(store::charts::view(pool, id, &asked).await.unwrap()).unwrap());
    }
    charts
}
