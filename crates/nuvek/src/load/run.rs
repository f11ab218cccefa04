//! The load itself.

use std::process::{Child, Command};
use std::sync::Arc;
use std::time::Duration;

use anyhow::{Result, ensure};
use reqwest::Client;
use tokio::sync::mpsc::unbounded_channel;
use tokio::time::{Instant, sleep};
use uuid::Uuid;

use super::poster::Poster;
use super::size::{BATCH, DEVICES, EVERY, TECHNICIANS};
use super::{closed, report, site};
use crate::serve;

/// Ends the server with the bench.
struct Server(Child);

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

/// Puts the load on a server of its own on `database`, for so long, and reports.
pub async fn run(database: &str, seconds: u64) -> Result<()> {
    let pool = serve::connect_as_owner(database).await?;
    let address = std::net::TcpListener::bind("127.0.0.1:0")?.local_addr()?;
    let program = std::env::current_exe()?;
    println!("Setting up {TECHNICIANS} technicians and {DEVICES} devices …");
    let mut command = Command::new(program);
    command.args(["serve", "--listen", &address.to_string()]).env("DATABASE_URL", database);
    let server = Server(command.spawn()?);
    let url = format!("http://{address}");
    let client = Client::builder().pool_max_idle_per_host(TECHNICIANS).build()?;
    await_server(&client, &url).await?;
    let site = Arc::new(site::build(&pool, &client, &url).await?);
    let before = store::samples::count(&pool).await?;

    println!("Load for {seconds} s …");
    let usage = report::Usage::start(server.0.id())?;
    let begin = Instant::now() + Duration::from_millis(500);
    let end = begin + Duration::from_secs(seconds);
    let (told, mut heard) = unbounded_channel();
    let poster = Poster { client, url, told };
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

async fn await_server(client: &Client, url: &str) -> Result<()> {
    for _ in 0..100 {
        if client.get(format!("{url}/api/terminal")).send().await.is_ok() {
            return Ok(());
        }
        sleep(Duration::from_millis(100)).await;
    }
    anyhow::bail!("the server did not start")
}
