//! Keeps the connections of all devices. Of several instances on one database one does it; when that
//! one ends, another takes over.

use std::collections::HashMap;
use std::time::Duration;

use quality::device::Link;
use sqlx::{Connection, PgConnection};
use store::devices::{Device, linked};
use store::{PgPool, StoreError};
use tokio::task::JoinHandle;
use tokio::time::sleep;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

use crate::Sink;
use crate::peer::{Speech, meet};
use crate::sensor::Stream;

/// How often devices are looked at again, and how often an instance asks whether it is its turn.
const AGAIN: Duration = Duration::from_secs(1);

/// The lock that the instance holds which keeps the connections.
const LOCK: i64 = 0x6e75_7665_6b00_0001;

/// Ends its task when it is dropped.
struct Running {
    link: Link,
    stations: Vec<Uuid>,
    task: JoinHandle<()>,
}

impl Drop for Running {
    fn drop(&mut self) {
        self.task.abort();
    }
}

/// Keeps the connections of all devices until `shutdown`.
pub async fn run(pool: PgPool, shutdown: CancellationToken) {
    // Outlives a lost database: what a device has sent waits for it to come back.
    let mut running: HashMap<Uuid, Running> = HashMap::new();
    shutdown
        .run_until_cancelled(async {
            loop {
                if let Err(error) = keep(&pool, &mut running).await {
                    tracing::warn!(%error, "devices are without connections; trying again");
                }
                sleep(AGAIN).await;
            }
        })
        .await;
}

/// Keeps the connections as long as the lock is held.
async fn keep(pool: &PgPool, running: &mut HashMap<Uuid, Running>) -> Result<(), StoreError> {
    // A connection of its own: the lock goes when it goes.
    let mut conn = PgConnection::connect_with(&pool.connect_options()).await?;
    let mut held = false;
    loop {
        if held {
            conn.ping().await?;
            renew(pool, running, linked(pool).await?);
        } else {
            held = sqlx::query_scalar("select pg_try_advisory_lock($1)").bind(LOCK).fetch_one(&mut conn).await?;
            if !held {
                // Another instance speaks with them now.
                running.clear();
            }
        }
        sleep(AGAIN).await;
    }
}

/// Begins what is new, ends what is gone or was set up anew.
fn renew(pool: &PgPool, running: &mut HashMap<Uuid, Running>, devices: Vec<Device>) {
    running.retain(|id, run| {
        devices
            .iter()
            .any(|d| d.id == *id && d.link == run.link && d.stations == run.stations && !run.task.is_finished())
    });
    for device in devices {
        let Device { id, stations, link } = device.clone();
        running.entry(id).or_insert_with(|| {
            let task = tokio::spawn(speak(Sink { pool: pool.clone(), device }, link.clone()));
            Running { link, stations, task }
        });
    }
}

async fn speak(sink: Sink, link: Link) {
    match link {
        Link::Ingest => {}
        Link::Gauge { address } => meet(sink, address, Speech::Gauge).await,
        Link::Analyser { address, results } => meet(sink, address, Speech::Analyser(results.into())).await,
        Link::Sensor { broker, topic, payload, characteristic, make, round } => {
            let Some((host, Ok(port))) = broker.rsplit_once(':').map(|(host, port)| (host, port.parse())) else {
                return;
            };
            Stream { sink, topic, payload, characteristic, round, make }.run(host, port).await;
        }
    }
}
