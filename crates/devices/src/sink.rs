//! Where links put what they receive.

use quality::device::Reason;
use std::time::Duration;

use chrono::Utc;
use store::devices::{Device, NewOffer};
use store::{PgPool, StoreError};
use tokio::time::sleep;
use uuid::Uuid;

/// The store, in the name of one device.
#[derive(Debug, Clone)]
pub struct Sink {
    /// The store.
    pub pool: PgPool,
    pub device: Device,
}

/// Between tries while the database is away.
const AGAIN: Duration = Duration::from_millis(500);

/// Does it until the database lets it: what a device sent is not lost to a restart.
pub(crate) async fn insist<T, F>(mut deed: impl FnMut() -> F) -> Result<T, StoreError>
where
    F: Future<Output = Result<T, StoreError>>,
{
    loop {
        match deed().await {
            Err(StoreError::Database(error)) => {
                tracing::warn!(%error, "a device has to wait for the database");
                sleep(AGAIN).await;
            }
            outcome => return outcome,
        }
    }
}

impl Sink {
    /// Counts a refusal; the device was heard all the same.
    pub async fn refuse(&self, reason: Reason, last: &str) {
        let (now, id) = (Utc::now(), self.device.id);
        if let Err(error) = insist(|| store::devices::refuse(&self.pool, id, now, reason, 1, last)).await {
            tracing::error!(%error, "a refusal could not be counted");
        }
        self.heard(0).await;
    }

    /// Something sensible came, and so much of it was taken.
    pub async fn heard(&self, accepted: usize) {
        let now = Utc::now();
        if let Err(error) = insist(|| store::devices::heard(&self.pool, self.device.id, now, accepted)).await {
            tracing::error!(%error, "a device was heard and it could not be told");
        }
    }

    /// Offers a value; one that was offered before is counted as such.
    pub async fn offer(&self, new: &NewOffer) -> Result<(), StoreError> {
        let now = Utc::now();
        match insist(|| store::devices::offer(&self.pool, new, now)).await? {
            true => self.heard(1).await,
            false => self.refuse(Reason::SentBefore, &new.value).await,
        }
        Ok(())
    }

    /// Whether the device may send for a station.
    pub fn may_send_for(&self, station: Uuid) -> bool {
        self.device.stations.contains(&station)
    }
}
