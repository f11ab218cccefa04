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

use crate::networks::NotThere;
use crate::peer::{Speech, meet};
use crate::sensor::Stream;
use crate::{Networks, Sink};

/// How often devices are looked at again, and how often an instance asks whether it is its turn.
const AGAIN: Duration = Duration::from_secs(1);

/// Before an address that is not allowed is looked at again: its name may stand for another by then.
const NOT_ALLOWED: Duration = Duration::from_secs(60);

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
pub async fn run(pool: PgPool, networks: Networks, shutdown: CancellationToken) {
    // Outlives a lost database: what a device has sent waits for it to come back.
    let mut running: HashMap<Uuid, Running> = HashMap::new();
    shutdown
        .run_until_cancelled(async {
            loop {
                if let Err(error) = keep(&pool, &networks, &mut running).await {
                    tracing::warn!(%error, "devices are without connections; trying again");
                }
                sleep(AGAIN).await;
            }
        })
        .await;
}

/// Keeps the connections as long as the lock is held.
async fn keep(pool: &PgPool, networks: &Networks, running: &mut HashMap<Uuid, Running>) -> Result<(), StoreError> {
    // A connection of its own: the lock goes when it goes.
    let mut conn = PgConnection::connect_with(&pool.connect_options()).await?;
    let mut held = false;
    loop {
        if held {
            conn.ping().await?;
            renew(pool, networks, running, linked(pool).await?);
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
fn renew(pool: &PgPool, networks: &Networks, running: &mut HashMap<Uuid, Running>, devices: Vec<Device>) {
    running.retain(|id, run| {
        devices
            .iter()
            .any(|d| d.id == *id && d.link == run.link && d.stations == run.stations && !run.task.is_finished())
    });
    for device in devices {
        let Device { id, stations, link } = device.clone();
        running.entry(id).or_insert_with(|| {
            let task = tokio::spawn(speak(Sink { pool: pool.clone(), device }, networks.clone(), link.clone()));
            Running { link, stations, task }
        });
    }
}

async fn speak(sink: Sink, networks: Networks, link: Link) {
    match link {
        Link::Ingest => {}
        Link::Gauge { address } => meet(sink, networks, address, Speech::Gauge).await,
        Link::Analyser { address, results } => meet(sink, networks, address, Speech::Analyser(results.into())).await,
        Link::Sensor { broker, topic, payload, characteristic, make, round } => {
            let stream = Stream { sink, topic, payload, characteristic, round, make };
            match networks.find(&broker).await {
                Ok(at) => stream.run(&at.ip().to_string(), at.port()).await,
                Err(why) => not_there(&stream.sink, why).await,
            }
        }
    }
}

/// Says that a device is where the server does not connect, and lets some time pass.
pub(crate) async fn not_there(sink: &Sink, why: NotThere) {
    match why {
        NotThere::Unknown => sleep(AGAIN).await,
        NotThere::Elsewhere(host) => {
            sink.refuse("address_not_allowed", &host.to_string()).await;
            sleep(NOT_ALLOWED).await;
        }
    }
}
