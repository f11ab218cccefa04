//! Checking the trail, and sealing it.

use std::fs::File;
use std::io::{BufReader, BufWriter, Write};
use std::path::Path;
use std::process::ExitCode;

use anyhow::{Context, Result, bail};
use chrono::Utc;
use sqlx::PgPool;
use store::trail::{Difference, Finding, Report, Seal};

use crate::serve;

/// A pool for looking: whoever may read may look, and nothing is brought up to date.
pub async fn look(database: &str) -> Result<PgPool> {
    let pool = serve::connect(database).await?;
    if !store::roles::up_to_date(&pool).await? {
        bail!("the database is not of this version; bring it up to date with: nuvek migrate");
    }
    Ok(pool)
}

/// Checks the trail and says what does not agree; exit code 1 when anything does not.
pub async fn verify(database: &str, against: Option<&Path>) -> Result<ExitCode> {
    let seal: Option<Seal> = against
        .map(|path| {
            let file = File::open(path).with_context(|| format!("cannot read {}", path.display()))?;
            serde_json::from_reader(BufReader::new(file)).with_context(|| format!("{} is no seal", path.display()))
        })
        .transpose()?;
    verified(&look(database).await?, seal.as_ref()).await
}

/// Checks the trail of a database, and says so.
pub async fn verified(pool: &PgPool, against: Option<&Seal>) -> Result<ExitCode> {
    let report = store::trail::verify(pool, against).await?;
    say(&report, against);
    Ok(if report.is_whole() { ExitCode::SUCCESS } else { ExitCode::FAILURE })
}

fn say(report: &Report, seal: Option<&Seal>) {
    let Report { chains, entries, rows, findings, found } = report;
    let sealed = seal.map_or_else(String::new, |seal| format!(", and goes on from the seal of {}", seal.sealed_at));
    if report.is_whole() {
        println!("The trail is whole: {entries} entries in {chains} chains, {rows} rows as it tells them{sealed}.");
        return;
    }
    println!("The trail is broken, or what it tells was changed: {found} findings.");
    for finding in findings {
        match finding {
            Finding::Broken { chain, position } => println!("  chain {chain}: entry {position} does not agree"),
            Finding::Chain { chain, listed: true } => println!("  chain {chain}: listed, and not there"),
            Finding::Chain { chain, listed: false } => println!("  chain {chain}: there, and not listed"),
            Finding::NotAsSealed { chain, position } => {
                println!("  chain {chain}: entry {position} is not the one that was sealed");
            }
            Finding::Row(Difference { table, row, field, trail, holds }) => {
                println!("  {table} {row}: {field} is {holds}, and {trail} by the trail");
            }
        }
    }
    let more = found - findings.len();
    if more > 0 {
        println!("  and {more} more");
    }
}

/// Writes where all chains end.
pub async fn seal(database: &str, path: &Path) -> Result<()> {
    let seal = store::trail::seal(&look(database).await?, Utc::now()).await?;
    let file = File::create_new(path).with_context(|| format!("cannot write {}", path.display()))?;
    let mut file = BufWriter::new(file);
    serde_json::to_writer_pretty(&mut file, &seal)?;
    writeln!(file)?;
    file.flush()?;
    println!(
        "{} chains sealed in {}; keep it where who can write the database cannot.",
        seal.chains.len(),
        path.display()
    );
    Ok(())
}
