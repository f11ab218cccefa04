//! Closed loop: each technician enters the next sample as soon as the last is answered, beside what the database can do
//! with the barest of inserts.

use std::fs;

use anyhow::{Context, Result, ensure};
use tokio::process::Command;
use tokio::sync::mpsc::unbounded_channel;
use tokio::time::Instant;

use super::done::Done;
use super::poster::Poster;
use super::site::Site;
use super::size::{CLOSED_FOR, TECHNICIANS_EACH};
use crate::cluster::binaries;

/// What came of so many technicians.
pub struct Closed {
    pub many: usize,
    /// Saved in a second.
    pub saves: f64,
    /// From sending to the answer, in ms.
    pub median: f64,
    /// Rows in a second that pgbench inserts on as many connections.
    pub bare: f64,
}

/// One after another, and so many at once, each at a characteristic of their own.
pub async fn run(poster: &Poster, site: &Site, database: &str) -> Result<Vec<Closed>> {
    pgbench(database, TABLE, &["-t", "1"]).await?;
    let mut all = vec![];
    for many in [1, 32] {
        let (told, mut heard) = unbounded_channel();
        let end = Instant::now() + CLOSED_FOR;
        for who in site.technicians.iter().step_by(TECHNICIANS_EACH).take(many).cloned() {
            tokio::spawn(poster.telling(&told).one_after_another(who, end));
        }
        drop(told);
        let mut done: Vec<Done> = vec![];
        while let Some(one) = heard.recv().await {
            ensure!(one.error.is_none(), "{:?}", one.error);
            done.push(one);
        }
        done.sort_by_key(|one| one.took);
        let median = done.get(done.len() / 2).context("nothing was saved")?.took.as_secs_f64() * 1e3;
        let saves = done.len() as f64 / CLOSED_FOR.as_secs_f64();
        all.push(Closed { many, saves, median, bare: bare(database, many).await? });
    }
    Ok(all)
}

/// What pgbench runs.
const TABLE: &str = include_str!("bare_table.sql");
const INSERT: &str = include_str!("bare_insert.sql");

/// Rows that pgbench inserts in a second, each in a transaction of its own.
async fn bare(database: &str, many: usize) -> Result<f64> {
    let (clients, threads) = (many.to_string(), many.min(2).to_string());
    let seconds = CLOSED_FOR.as_secs().to_string();
    let said = pgbench(database, INSERT, &["-M", "prepared", "-c", &clients, "-j", &threads, "-T", &seconds]).await?;
    let tps = said.lines().find_map(|line| line.strip_prefix("tps = ")).with_context(|| format!("pgbench: {said}"))?;
    Ok(tps.split_whitespace().next().context("no figure")?.parse()?)
}

async fn pgbench(database: &str, script: &str, options: &[&str]) -> Result<String> {
    let file = std::env::temp_dir().join(format!("nuvek-bare-{}.sql", std::process::id()));
    fs::write(&file, script)?;
    let mut command = Command::new(binaries()?.join("pgbench"));
    command.arg("-n").args(options).arg("-f").arg(&file).arg(database);
    let output = command.output().await.context("pgbench does not run")?;
    fs::remove_file(&file).ok();
    let (said, failed) = (String::from_utf8_lossy(&output.stdout), String::from_utf8_lossy(&output.stderr));
    ensure!(output.status.success(), "pgbench: {failed}");
    Ok(said.into_owned())
}
