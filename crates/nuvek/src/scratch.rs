//! A command with a database that exists only as long as the command runs, for tests.

use std::path::PathBuf;
use std::process::ExitCode;

use anyhow::{Context, Result};
use tokio::process::Command;

use crate::cluster::{Cluster, Durability};
use crate::serve::connect_as_owner;

/// What a scratch cluster may come to need.
const ROOM: u64 = 2 << 30;

/// Memory where there is enough of it, else the folder for temporary files: tests should not wait
/// for a disk to keep what nobody wants kept.
fn quickest_folder() -> PathBuf {
    const MEMORY: &str = "/dev/shm";
    let free = std::process::Command::new("df").args(["-B1", "--output=avail", MEMORY]).output().ok().and_then(|df| {
        let text = String::from_utf8(df.stdout).ok()?;
        text.lines().last()?.trim().parse::<u64>().ok()
    });
    if free.is_some_and(|free| free > ROOM) { MEMORY.into() } else { std::env::temp_dir() }
}

/// Runs the command with `DATABASE_URL` set; gives its exit code. `durable`: on the disk, and commits
/// wait for it. `migrated`: databases that the command creates have the schema, which takes a tenth of the time that
/// migrating each takes.
pub async fn run(command: &[String], (durable, migrated): (bool, bool)) -> Result<ExitCode> {
    let name = format!("nuvek-scratch-{}", std::process::id());
    let (folder, durability) = if durable {
        (std::env::temp_dir().join(name), Durability::Full)
    } else {
        (quickest_folder().join(name), Durability::None)
    };
    let cluster = Cluster::start(&folder, durability)?;
    let status = async {
        if migrated {
            // What PostgreSQL makes new databases from.
            connect_as_owner(&cluster.url("template1")).await?.close().await;
        }
        let mut child = Command::new(&command[0])
            .args(&command[1..])
            .env("DATABASE_URL", cluster.url("postgres"))
            .spawn()
            .with_context(|| format!("cannot run {}", command[0]))?;
        loop {
            tokio::select! {
                status = child.wait() => break anyhow::Ok(status?),
                // The child gets Ctrl-C from the terminal too; wait for it to end.
                _ = tokio::signal::ctrl_c() => {}
            }
        }
    }
    .await;
    drop(cluster);
    std::fs::remove_dir_all(&folder).ok();
    Ok(status?.code().and_then(|code| u8::try_from(code).ok()).map_or(ExitCode::FAILURE, ExitCode::from))
}
