//! The private database of the demo, filled when it is empty, and served.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::net::SocketAddr;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use anyhow::{Context, Result};
use chrono::{DateTime, Utc};
use sqlx::PgPool;
use store::databases;

use super::{cause_tree, devices, history, laboratory, peers, signatures, site, studies};
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
    let peers = peers::play(&pool).await?;
    serve::until_signal(listener, pool, serve::Installation::default()).await?;
    drop((simulated, peers));
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
    let postgres = cluster.url("postgres");
    if databases::exists(&postgres, DATABASE).await.context("the private database cannot be reached")? {
        return Ok(());
    }
    println!("Loading eight weeks of the demonstration site …");
    databases::begin(&postgres, LOADING).await?;
    let pool = serve::connect_as_owner(&cluster.url(LOADING)).await?;
    load(&pool, Utc::now()).await?;
    pool.close().await;
    Ok(databases::complete(&postgres, LOADING, DATABASE).await?)
}

/// Fills an empty database with the site and its history.
pub async fn load(pool: &PgPool, now: DateTime<Utc>) -> Result<()> {
    let site = Arc::new(site::build(pool, now).await?);
    tokio::try_join!(history::write(pool, &site, now), laboratory::write(pool, &site, now))?;
    peers::write(pool, &site, now).await?;
    signatures::write(pool, site.supervisor, now).await?;
    studies::write(pool, &site, now).await?;
    cause_tree::write(pool, &site, now).await
}
