//! Samples that a device sends, many at a time.

use chrono::{DateTime, Utc};
use quality::entry::Tags;
use quality::sample::Content;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use crate::StoreError;
use crate::samples::{NewSample, Saved, Visit, save_in};

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
    let mut outcomes = Vec::with_capacity(samples.len());
    for sample in samples {
        outcomes.push(save_one(&mut tx, device, characteristic, sample, arrived_at).await?);
    }
    tx.commit().await?;
    Ok(outcomes)
}

/// Saves a sample within a transaction; the inner error is a refusal, which leaves the transaction whole.
pub(super) async fn save_one(
    conn: &mut PgConnection,
    device: Uuid,
    characteristic: Uuid,
    sample: &DeviceSample,
    arrived_at: DateTime<Utc>,
) -> Result<Result<Saved, StoreError>, StoreError> {
    let visit = Visit::Taken { content: sample.content.clone(), tags: sample.tags.clone() };
    let DeviceSample { entry, taken_at, .. } = *sample;
    let new = NewSample { characteristic, device, entry, taken_at, arrived_at, person: device, visit };
    match save_in(conn, &new, None).await {
        Err(error @ (StoreError::Database(_) | StoreError::Corrupt(_))) => Err(error),
        outcome => Ok(outcome),
    }
}
