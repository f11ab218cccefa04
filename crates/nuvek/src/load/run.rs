//! The load itself.

use std::sync::Arc;
use std::time::Duration;

use anyhow::{Result, ensure};
use reqwest::Client;
use tokio::sync::mpsc::unbounded_channel;
use tokio::time::Instant;
use uuid::Uuid;

use super::poster::Poster;
use super::size::{BATCH, DEVICES, EVERY, TECHNICIANS};
use super::{closed, report, site};
use crate::bench::Server;
use crate::serve;

/// Puts the load on a server of its own on `database`, for so long, and reports.
pub async fn run(database: &str, seconds: u64) -> Result<()> {
    let pool = serve::connect_as_owner(database).await?;
    println!("Setting up {TECHNICIANS} technicians and {DEVICES} devices …");
    let client = Client::builder().pool_max_idle_per_host(TECHNICIANS).build()?;
    let server = Server::start(database, &client).await?;
    let site = Arc::new(site::build(&pool, &client, &server.url).await?);
    let before = store::samples::count(&pool).await?;

    println!("Load for {seconds} s …");
    let usage = report::Usage::start(server.pid())?;
    let begin = Instant::now() + Duration::from_millis(500);
    let end = begin + Duration::from_secs(seconds);
    let (told, mut heard) = unbounded_channel();
    let poster = Poster { client, url: server.url.clone(), told };
    for (place, technician) in site.technicians.iter().cloned().enumerate() {
        tokio::spawn(poster.clone().technician(technician, place, begin, end));
    }
    for device in 0..DEVICES {
        tokio::spawn(poster.clone().device(Arc::clone(&site), device, begin, end));
    }
    let one_by_one = poster.telling(&unbounded_channel().0);
    drop(poster);
    let mut all = Vec::new();
    while let Some(done) = heard.recv().await {
        all.push(done);
    }
    let usage = usage.stop()?;
    let offered = seconds as usize * (TECHNICIANS / EVERY.as_secs() as usize + DEVICES * BATCH);
    let confirmed: Vec<Uuid> = all.iter().flat_map(|done| done.confirmed.iter().copied()).collect();
    let stored = store::samples::count(&pool).await? - before;
    // Each confirmed entry is there, and nothing else is; the database itself keeps entries unique.
    let there = store::samples::count_entries(&pool, &confirmed).await?;
    let lost = confirmed.len() as i64 - there;
    let closed = closed::run(&one_by_one, &site, database).await?;
    report::write(&all, &usage, seconds, (offered, stored, lost), &closed)?;
    ensure!(lost == 0 && stored == confirmed.len() as i64, "{} confirmed, {stored} stored", confirmed.len());
    ensure!(all.iter().all(|done| done.error.is_none()), "there were errors");
    Ok(())
}
