//! Samples that a device sends, many at a time.

use chrono::{DateTime, Utc};
use quality::entry::Tags;
use quality::sample::Content;
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::samples::{NewSample, Saved, Saving, Visit};

/// A sample of a device; what it holds has been accepted.
#[derive(Debug, Clone)]
pub struct DeviceSample {
    /// Made by the device; saving it twice keeps one sample.
    pub entry: Uuid,
    /// When it was taken.
    pub taken_at: DateTime<Utc>,
    /// What it recorded.
    pub content: Content,
    /// Its tags.
    pub tags: Tags,
}

/// Saves samples of one characteristic in one transaction, in their order, each judged as if it had
/// come alone. One that is refused leaves the others alone.
///
/// # Errors
/// When the database fails: then none is saved, and all can be sent again.
pub async fn save_batch(
    pool: &PgPool,
    device: Uuid,
    characteristic: Uuid,
    samples: &[DeviceSample],
    arrived_at: DateTime<Utc>,
) -> Result<Vec<Result<Saved, StoreError>>, StoreError> {
    let mut tx = pool.begin().await?;
    let mut saving = Saving::begin(&mut tx, characteristic).await?;
    let mut outcomes = Vec::with_capacity(samples.len());
    for sample in samples {
        match saving.save(&mut tx, &sample.entered_by(device, characteristic, arrived_at), None).await {
            Err(error @ (StoreError::Database(_) | StoreError::Corrupt(_))) => return Err(error),
            outcome => outcomes.push(outcome),
        }
    }
    saving.finish(&mut tx).await?;
    tx.commit().await?;
    Ok(outcomes)
}

impl DeviceSample {
    /// As the device enters it, in its own name.
    pub(super) fn entered_by(&self, device: Uuid, characteristic: Uuid, arrived_at: DateTime<Utc>) -> NewSample {
        let visit = Visit::Taken { content: self.content.clone(), tags: self.tags.clone() };
        let DeviceSample { entry, taken_at, .. } = *self;
        NewSample { characteristic, device, entry, taken_at, arrived_at, person: device, visit }
    }
}
