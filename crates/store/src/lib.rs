//! Nuvek's objects in PostgreSQL. One module an object; each function is one question or one deed.
//!
//! Queries are checked against the schema when the crate is compiled, from the cache in `.sqlx`.

pub mod access;
mod act;
pub mod answers;
pub mod archive;
pub mod background;
pub mod bench;
pub mod came_in;
pub mod cause_trees;
pub mod causes;
pub mod changes;
pub mod characteristics;
pub mod charts;
pub mod databases;
pub mod devices;
pub mod drawn;
pub mod episodes;
mod error;
pub mod events;
pub mod files;
pub mod filters;
pub mod handover;
pub mod imports;
pub mod judging;
pub mod lab;
pub mod learn;
pub mod limits;
pub mod look;
pub mod looking;
pub mod news;
pub mod notes;
pub mod notices;
mod once;
pub mod peers;
pub mod people;
pub mod phases;
pub mod places;
pub mod plan;
pub mod recipes;
pub mod replay;
pub mod reports;
pub mod roles;
pub mod rounds;
pub mod rule_sets;
pub mod samples;
pub mod series;
mod signals;
pub mod signatures;
pub mod sites;
pub mod studies;
mod sums;
pub mod terminals;
pub mod trail;
pub mod turn;
pub mod wall;
mod word;

pub use error::StoreError;
pub use sqlx::postgres::PgPool;

use crate::once::compiled_once;

/// Brings the schema up to date; safe when several instances start at once.
///
/// # Errors
/// When the database cannot be reached, or was written by a newer program.
#[compiled_once]
pub async fn migrate(pool: &PgPool) -> Result<(), StoreError> {
    MIGRATIONS.run(pool).await.map_err(sqlx::Error::from)?;
    trail::record_state(pool).await?;
    episodes::gather_older(pool).await
}

/// Plans made for empty tables read whole tables once these fill up. PostgreSQL notices within minutes; a load that
/// fills a database is over sooner.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn refresh_statistics(pool: &PgPool) -> Result<(), StoreError> {
    sqlx::raw_sql("analyze sample, signal, episode, answer, answer_of, trail").execute(pool).await?;
    Ok(())
}

static MIGRATIONS: sqlx::migrate::Migrator = sqlx::migrate!();
