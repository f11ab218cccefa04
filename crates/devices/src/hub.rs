//! Keeps the connections of all devices. Of several instances on one database one does it; when that
//! one ends, another takes over.

use std::collections::HashMap;
use std::time::Duration;

use quality::device::Link;
use store::devices::{Device, linked};
use store::turn::{Task, Turn};
use store::{PgPool, StoreError};
use tokio::task::JoinHandle;
use tokio::time::sleep;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

use crate::folder::{Folders, watch};
use crate::meet::{Speech, meet};
use crate::networks::Networks;
use crate::not_there::not_there;
use crate::once::compiled_once;
use crate::sensor::Stream;
use crate::sink::Sink;

/// How often devices are looked at again, and how often an instance asks whether it is its turn.
const AGAIN: Duration = Duration::from_secs(1);

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
#[compiled_once]
pub async fn run(pool: PgPool, networks: Networks, folders: Folders, shutdown: CancellationToken) {
    // Outlives a lost database: what a device has sent waits for it to come back.
    let mut running: HashMap<Uuid, Running> = HashMap::new();
    shutdown
        .run_until_cancelled(async {
            loop {
                if let Err(error) = keep(&pool, (&networks, &folders), &mut running).await {
                    tracing::warn!(%error, "devices are without connections; trying again");
                }
                sleep(AGAIN).await;
            }
        })
        .await;
}

/// Keeps the connections as long as it is this instance's turn.
async fn keep(
    pool: &PgPool,
    reach: (&Networks, &Folders),
    running: &mut HashMap<Uuid, Running>,
) -> Result<(), StoreError> {
    let mut turn = Turn::wait(pool, Task::Devices).await?;
    loop {
        if turn.has_come().await? {
            renew(pool, reach, running, linked(pool).await?);
        } else {
            // Another instance speaks with them now.
            running.clear();
        }
        sleep(AGAIN).await;
    }
}

/// Begins what is new, ends what is gone or was set up anew.
fn renew(
    pool: &PgPool,
    (networks, folders): (&Networks, &Folders),
    running: &mut HashMap<Uuid, Running>,
    devices: Vec<Device>,
) {
    running.retain(|id, run| {
        devices
            .iter()
            .any(|d| d.id == *id && d.link == run.link && d.stations == run.stations && !run.task.is_finished())
    });
    for device in devices {
        let Device { id, stations, link, .. } = device.clone();
        running.entry(id).or_insert_with(|| {
            let sink = Sink { pool: pool.clone(), device };
            let task = tokio::spawn(speak(sink, (networks.clone(), folders.clone()), link.clone()));
            Running { link, stations, task }
        });
    }
}

async fn speak(sink: Sink, (networks, folders): (Networks, Folders), link: Link) {
    match link {
        // They come to the server.
        Link::Ingest | Link::Display { .. } | Link::Program => {}
        Link::Folder(link) => watch(sink, folders, link).await,
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
