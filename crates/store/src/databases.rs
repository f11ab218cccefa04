//! Databases of a cluster: one is made and filled under another name, and takes its own when it is complete.

use sqlx::{AssertSqlSafe, Connection, PgConnection};

use crate::StoreError;
use crate::once::compiled_once;

/// Whether a cluster, reached by the address of any of its databases, has one of this name.
///
/// # Errors
/// When it cannot be reached.
#[compiled_once]
pub async fn exists(cluster: &str, name: &str) -> Result<bool, StoreError> {
    let mut conn = PgConnection::connect(cluster).await?;
    Ok(sqlx::query_scalar("select exists (select from pg_database where datname = $1)")
        .bind(name)
        .fetch_one(&mut conn)
        .await?)
}

/// Makes an empty database to be filled, in the place of one that was not completed. Filling it does not wait for
/// the disk at each commit: until it is complete nothing counts.
///
/// # Errors
/// When the cluster cannot be reached, or somebody is connected to the one before.
#[compiled_once]
pub async fn begin(cluster: &str, name: &str) -> Result<(), StoreError> {
    for statement in
        ["drop database if exists %I", "create database %I", "alter database %I set synchronous_commit = off"]
    {
        run(cluster, statement, &[name]).await?;
    }
    Ok(())
}

/// Writes a database out to the disk and gives it its name.
///
/// # Errors
/// As [`begin`].
#[compiled_once]
pub async fn complete(cluster: &str, name: &str, complete: &str) -> Result<(), StoreError> {
    run(cluster, "alter database %I reset synchronous_commit", &[name]).await?;
    run(cluster, "checkpoint", &[]).await?;
    run(cluster, "alter database %I rename to %I", &[name, complete]).await
}

async fn run(cluster: &str, statement: &str, names: &[&str]) -> Result<(), StoreError> {
    let mut conn = PgConnection::connect(cluster).await?;
    // Names are quoted by the database itself.
    let statement: String = sqlx::query_scalar("select format($1, variadic $2::text[])")
        .bind(statement)
        .bind(names)
        .fetch_one(&mut conn)
        .await?;
    sqlx::raw_sql(AssertSqlSafe(statement)).execute(&mut conn).await?;
    Ok(())
}
