//! The whole site into an archive, and out of it into an empty database.

use std::path::Path;
use std::process::ExitCode;
use std::time::Instant;

use anyhow::{Result, ensure};

use crate::backup::{backup, restore};

/// How long both take, in seconds, and how long the archive is, in bytes.
pub struct Moved {
    pub out: f64,
    pub back: f64,
    pub bytes: u64,
}

/// Moves a site into `to`, an empty database; every row and the trail are held against it.
pub async fn moved(from: &str, to: &str, archive: &Path) -> Result<Moved> {
    let begun = Instant::now();
    backup(from, archive).await?;
    let out = begun.elapsed().as_secs_f64();
    println!("… in {out:.0} s");
    let bytes = std::fs::metadata(archive)?.len();
    let begun = Instant::now();
    ensure!(restore(to, archive).await? == ExitCode::SUCCESS, "it is not as it was");
    let back = begun.elapsed().as_secs_f64();
    std::fs::remove_file(archive)?;
    Ok(Moved { out, back, bytes })
}
