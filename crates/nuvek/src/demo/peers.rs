//! A peer group of the demonstration laboratory, with what it was given and told of the history.
//!
//! Own turbidity lies above the group's on all three levels: a matter of the calibrator, which no chart of one's own
//! shows. One result was taken back.

use anyhow::{Context, Result};
use chrono::{DateTime, Duration, Utc};
use devices::simulate::{Peers, PeersLevel};
use quality::peer::group::{PeerGroup, PeerLevel};
use sqlx::PgPool;
use store::peers::{GivenFilter, given, hand_over, list, set_up, take_in, to_hand_over, withdraw};
use tokio::net::TcpListener;
use tokio::sync::mpsc::unbounded_channel;
use tokio_util::task::AbortOnDropHandle;
use uuid::Uuid;

use super::site::Site;

/// Where the stand-in listens as long as the demo runs.
pub const ADDRESS: &str = "127.0.0.1:8434";

const TOKEN: &str = "tarn-valley-shows-this";

/// So many days of history are given.
const DAYS: i64 = 200;

/// So far the group's means lie below one's own, in own sd.
fn below(analyte: &str, place: usize) -> f64 {
    match (analyte, place) {
        ("Turbidity", _) => 1.5,
        (_, 0) => 0.3,
        _ => -0.2,
    }
}

/// Sets the group up; what was reviewed is given and told of as it would have been over the network.
pub async fn write(pool: &PgPool, site: &Site, now: DateTime<Utc>) -> Result<()> {
    let levels = levels(pool).await?;
    let of = |level: &Level| PeerLevel { characteristic: level.characteristic, code: level.compared.code.clone() };
    let group = PeerGroup {
        name: "Fell and Tarn Comparison".into(),
        laboratory: "Laboratory 17".into(),
        url: Some(format!("http://{ADDRESS}")),
        levels: levels.iter().map(of).collect(),
        since: now - Duration::days(DAYS),
        active: true,
    };
    let id = set_up(pool, group, Some(TOKEN), (site.engineer, now)).await?;
    let peers = with_levels(levels);
    let taken = peers.take(to_hand_over(pool, id, true).await?);
    hand_over(pool, id, &taken.taken, now).await?;
    let old = given(pool, id, GivenFilter::default(), 40).await?.pop().context("a result that was given")?;
    let because = "Measured with the calibrator of the month before; found at the balance check.";
    withdraw(pool, (id, old.id), because, (site.supervisor, now)).await?;
    take_in(pool, id, &peers.statistics(), now).await?;
    Ok(())
}

/// Plays the group, which knows what it was given before, until what comes back is dropped. Where its address is taken
/// there is none, and what is reviewed waits.
pub async fn play(pool: &PgPool) -> Result<Option<AbortOnDropHandle<()>>> {
    let Ok(listener) = TcpListener::bind(ADDRESS).await else {
        println!("{ADDRESS} is taken: the peer group cannot be reached meanwhile.");
        return Ok(None);
    };
    let peers = with_levels(levels(pool).await?);
    for group in list(pool).await? {
        peers.take(to_hand_over(pool, group.id, false).await?);
    }
    let playing = async move {
        if let Err(error) = peers.run(listener).await {
            tracing::warn!(%error, "the peer group has ended");
        }
    };
    Ok(Some(AbortOnDropHandle::new(tokio::spawn(playing))))
}

fn with_levels(levels: Vec<Level>) -> Peers {
    Peers::new(TOKEN.into(), levels.into_iter().map(|level| level.compared).collect(), unbounded_channel().0)
}

/// A level of the laboratory, and what the group compares it with.
struct Level {
    characteristic: Uuid,
    compared: PeersLevel,
}

async fn levels(pool: &PgPool) -> Result<Vec<Level>> {
    let mut all = Vec::new();
    for analyte in store::lab::benches(pool, Uuid::nil()).await?.into_iter().flat_map(|bench| bench.analytes) {
        for (place, level) in analyte.levels.iter().enumerate() {
            let Some((mean, sd)) = level.mean.zip(level.sd) else { continue };
            let letters: String = analyte.name.chars().take(2).collect();
            let code = format!("{}-{}", letters.to_uppercase(), place + 1);
            let mean = mean - below(&analyte.name, place) * sd;
            let compared = PeersLevel { code, unit: analyte.unit.clone(), mean, sd };
            all.push(Level { characteristic: level.characteristic, compared });
        }
    }
    Ok(all)
}
