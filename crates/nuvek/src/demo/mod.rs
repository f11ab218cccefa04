//! The invented site "Tarn Valley Filterworks", with eight weeks of history and stories in it.

mod characteristics;
mod devices;
mod history;
mod laboratory;
mod process;
mod site;

use std::hash::{DefaultHasher, Hash, Hasher};
use std::net::SocketAddr;
use std::path::{Path, PathBuf};

use anyhow::{Context, Result};
use chrono::{DateTime, Utc};
use sqlx::{Connection, Executor, PgConnection, PgPool};

use crate::cluster::{Cluster, Durability, can_be_reached};
use crate::serve;

/// Starts the private cluster, fills it when it is empty, and serves until Ctrl-C.
pub async fn run(address: SocketAddr, data: &Path, reset: bool, with_devices: bool) -> Result<()> {
    // First of all: who cannot serve need not wait for a database.
    let listener = serve::bind(address).await?;
    let folder = reachable(data)?;
    if reset && folder.exists() {
        // Starting takes the lock, so the data of a demo that still runs are not pulled away.
        drop(Cluster::start(&folder, Durability::Full)?);
        std::fs::remove_dir_all(&folder).with_context(|| format!("cannot remove {}", folder.display()))?;
    }
    println!("Starting a private PostgreSQL in {} …", folder.display());
    let cluster = Cluster::start(&folder, Durability::Full)?;
    tokio::select! {
        filled = fill(&cluster) => filled?,
        _ = tokio::signal::ctrl_c() => {
            println!("Stopped while loading; the next make demo starts loading anew.");
            return Ok(());
        }
    }
    // An older demo is brought up to date by the role that owns it; the other serves.
    let owner = serve::connect_as_owner(&cluster.url(DATABASE)).await?;
    let serving = cluster.serving_role(&owner, DATABASE).await?;
    owner.close().await;
    let pool = serve::connect_to_serve(&serving).await?;
    println!("\nNuvek is at http://{}", listener.local_addr()?);
    println!("\nSign in as\n{}\nCtrl-C ends both.", site::sign_ins());
    let simulated = if with_devices { Some(devices::start(&pool, address).await?) } else { None };
    serve::until_signal(listener, pool, serve::Installation::default()).await?;
    drop(simulated);
    drop(cluster);
    println!("Stopped. The data stay in {}; make demo-reset starts over.", folder.display());
    Ok(())
}

/// `data`, or a folder of the system where the user who runs PostgreSQL cannot reach it, as below
/// root's home.
fn reachable(data: &Path) -> Result<PathBuf> {
    let data = std::path::absolute(data)?;
    // What does not exist yet is made so that it can be reached, if only the folder above can.
    let above = data.ancestors().skip(1).find(|folder| folder.exists()).unwrap_or(Path::new("/"));
    if can_be_reached(above) {
        return Ok(data);
    }
    let mut hasher = DefaultHasher::new();
    data.hash(&mut hasher);
    Ok(PathBuf::from(format!("/var/lib/nuvek-demo-{:016x}", hasher.finish())))
}

const DATABASE: &str = "nuvek";
/// The demo is loaded under this name and renamed when complete, so that a load that was cut short
/// is never taken for the whole.
const LOADING: &str = "nuvek_loading";

async fn fill(cluster: &Cluster) -> Result<()> {
    let mut conn =
        PgConnection::connect(&cluster.url("postgres")).await.context("the private database cannot be reached")?;
    let exists: bool = sqlx::query_scalar("select exists (select from pg_database where datname = $1)")
        .bind(DATABASE)
        .fetch_one(&mut conn)
        .await?;
    if exists {
        return Ok(());
    }
    println!("Loading eight weeks of the demonstration site …");
    conn.execute("drop database if exists nuvek_loading").await?;
    conn.execute("create database nuvek_loading").await?;
    // Loading need not wait for the disk at each of some five thousand commits: until the rename
    // nothing counts, and before it everything is written out.
    conn.execute("alter database nuvek_loading set synchronous_commit = off").await?;
    let pool = serve::connect_as_owner(&cluster.url(LOADING)).await?;
    load(&pool, Utc::now()).await?;
    pool.close().await;
    conn.execute("alter database nuvek_loading reset synchronous_commit").await?;
    conn.execute("checkpoint").await?;
    conn.execute("alter database nuvek_loading rename to nuvek").await?;
    Ok(())
}

/// Fills an empty database with the site and its history.
pub async fn load(pool: &PgPool, now: DateTime<Utc>) -> Result<()> {
    let site = site::build(pool, now).await?;
    history::write(pool, &site, now).await?;
    laboratory::write(pool, &site, now).await
}
