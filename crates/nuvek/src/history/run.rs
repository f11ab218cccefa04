//! Two sites are filled, asked by turns, archived, and taken out of their archives.

use std::time::Instant;

use anyhow::Result;
use store::databases;

use super::asked::{ASKED, Answering};
use super::fill::{Filled, fill};
use super::moved::{Moved, moved};
use super::report::{Both, Measured, median, write};
use crate::serve::connect_as_owner;

/// The short history is so many times shorter.
const SHORTER: usize = 100;

/// Measures a history of so many samples, and one of a hundredth of them, in databases of their own of a cluster.
pub async fn run(cluster: &str, samples: usize) -> Result<()> {
    let many = Both { short: samples / SHORTER, long: samples };
    let (short, short_filled) = filled(cluster, "history_short", many.short).await?;
    let (long, long_filled) = filled(cluster, "history_long", many.long).await?;
    let short = Answering::start(&named(cluster, "history_short"), short).await?;
    let long = Answering::start(&named(cluster, "history_long"), long).await?;
    let mut answered = vec![];
    for asked in &ASKED {
        let mut times = Both { short: vec![], long: vec![] };
        for _ in 0..asked.times {
            times.short.push(short.ask(asked).await?);
            times.long.push(long.ask(asked).await?);
        }
        println!("{}: {:.1} ms and {:.1} ms", asked.what, median(&times.short)?, median(&times.long)?);
        answered.push((asked, times));
    }
    let started = Both { short: short.server.started_in, long: long.server.started_in };
    drop((short, long));
    let started = Both { short: started.short.as_secs_f64() * 1e3, long: started.long.as_secs_f64() * 1e3 };
    let moved =
        Both { short: archived(cluster, "history_short").await?, long: archived(cluster, "history_long").await? };
    let filled = Both { short: short_filled, long: long_filled };
    write(&Measured { samples: many, filled, started, moved, answered })
}

/// The address of another database of the cluster.
fn named(cluster: &str, name: &str) -> String {
    let end = cluster.rfind('/').unwrap_or(cluster.len());
    format!("{}/{name}", &cluster[..end])
}

async fn filled(cluster: &str, name: &str, samples: usize) -> Result<(Filled, f64)> {
    println!("Filling {name} with {samples} samples …");
    const FILLING: &str = "history_filling";
    databases::begin(cluster, FILLING).await?;
    let pool = connect_as_owner(&named(cluster, FILLING)).await?;
    let begun = Instant::now();
    let site = fill(&pool, samples).await?;
    let seconds = begun.elapsed().as_secs_f64();
    println!("… in {seconds:.0} s");
    pool.close().await;
    databases::complete(cluster, FILLING, name).await?;
    Ok((site, seconds))
}

async fn archived(cluster: &str, name: &str) -> Result<Moved> {
    println!("Archiving {name} …");
    const RESTORED: &str = "history_restored";
    databases::begin(cluster, RESTORED).await?;
    let archive = std::env::temp_dir().join(format!("{name}-{}.zip", std::process::id()));
    moved(&named(cluster, name), &named(cluster, RESTORED), &archive).await
}
