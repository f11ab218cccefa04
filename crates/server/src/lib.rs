//! The web server: one module a capability, and what they share.
//!
//! | module | what it serves |
//! |---|---|
//! | [`access`] | sign in, sign out, who is signed in; shared terminals |
//! | [`plan`] | stations, products and characteristics are set up |
//! | [`rounds`] | what is due, and what happens at the stations |
//! | [`came_in`] | everything that came in, as a list |
//! | [`entry`] | the point in pencil, saving a sample, skipping one |
//! | [`corrections`] | correcting a sample, or withdrawing it |
//! | [`charts`], [`notes`] | control charts, notes on their points |
//! | [`limits`] | the life of limits |
//! | [`devices`], [`ingest`] | devices: set up, offering values, sending samples |
//! | [`lab`] | control runs of the laboratory |
//! | [`episodes`], [`answers`], [`signatures`] | episodes of signals, answers, reviews, signatures |
//! | [`handover`] | what one shift hands over to the next |
//! | [`notices`] | what somebody is told who does not look |
//! | [`people`], [`accounts`] | people, what they keep, and their accounts |
//! | [`learn`] | what a period of episodes teaches |
//! | [`reports`] | what happened in a period, to be printed or as files |
//! | [`trail`] | who did what |
//! | [`analyze`] | the analysis interface |
//! | [`wall`] | the wall view of a display |
//! | [`live`] | news as server-sent events |
//! | [`web`] | the shipped interface |

pub mod access;
mod accounts;
mod analyses;
pub mod analyze;
pub mod answers;
mod app;
mod background;
pub mod came_in;
pub mod cause_trees;
pub mod causes;
mod changes;
mod chart_table;
pub mod charts;
mod client;
mod concerned;
mod connections;
pub mod corrections;
mod created;
pub mod data;
mod devices;
pub mod entry;
pub mod episodes;
mod failure;
pub mod files;
mod gate;
mod guard;
mod handed_out;
pub mod handover;
pub mod ingest;
mod json;
pub mod lab;
mod layout;
pub mod learn;
pub mod limits;
mod listener;
pub mod live;
pub mod notes;
pub mod notices;
mod passwords;
pub mod peers;
pub mod people;
pub mod plan;
mod problem;
mod refusals;
mod report_table;
pub mod reports;
pub mod rounds;
mod routes;
pub mod rule_sets;
mod sessions;
mod settings;
pub mod signatures;
mod studies;
pub mod tokens;
mod told;
pub mod trail;
pub mod wall;
mod web;

use std::sync::Arc;

use sqlx::PgPool;
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;

pub use app::App;
pub use client::place;
pub use passwords::hash_password;
pub use problem::Problem;
pub use routes::{openapi, router};
pub use settings::Settings;

/// Serves until `shutdown`; requests under way are answered, for a while, and event streams are ended.
///
/// # Errors
/// When the system has no threads left.
// Compiled here, once, instead of wherever it is awaited; see the crate `store`.
#[async_recursion::async_recursion]
pub async fn serve(
    listener: TcpListener,
    pool: PgPool,
    settings: Settings,
    shutdown: CancellationToken,
) -> std::io::Result<()> {
    let app = App::new(pool.clone(), settings, shutdown.clone())?;
    let settings = Arc::clone(&app.settings);
    tokio::spawn(sessions::clear_expired(pool.clone(), shutdown.clone()));
    tokio::spawn(background::escalate(pool.clone(), shutdown.clone()));
    tokio::spawn(background::run(pool, shutdown.clone()));
    connections::serve(listener, router(app), settings, shutdown).await;
    Ok(())
}
