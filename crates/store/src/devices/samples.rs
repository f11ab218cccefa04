//! Samples that a device sends, many at a time.

use chrono::{DateTime, Utc};
use quality::device::Reason;
use quality::entry::Accepted;
use quality::run::RunRefusal;
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::once::compiled_once;
use crate::samples::{NewSample, Saved, Saving, Visit};

/// A sample of a device; what it holds has been accepted.
#[derive(Debug, Clone)]
pub struct DeviceSample {
    /// Made by the device; saving it twice keeps one sample.
    pub entry: Uuid,
    pub taken_at: DateTime<Utc>,
    /// What it recorded, and its tags.
    pub accepted: Accepted,
}

/// Saves samples of one characteristic in one transaction, in their order, each judged as if it had
/// come alone. One that is refused leaves the others alone.
///
/// # Errors
/// When the database fails: then none is saved, and all can be sent again.
#[compiled_once]
pub async fn save_batch(
    pool: &PgPool,
    device: Uuid,
    characteristic: Uuid,
    samples: &[DeviceSample],
    arrived_at: DateTime<Utc>,
) -> Result<Vec<Result<Saved, StoreError>>, StoreError> {
    let mut act = Act::begin(pool).await?;
    let saving = Saving::begin(&mut act, characteristic).await?;
    let mut outcomes = Vec::with_capacity(samples.len());
    for sample in samples {
        match saving.save(&mut act, &sample.entered_by(device, characteristic, arrived_at), None).await {
            Err(error) if error.is_fault() => return Err(error),
            outcome => outcomes.push(outcome),
        }
    }
    if outcomes.iter().flatten().any(|saved| !saved.again) {
        act.commit().await?;
    }
    Ok(outcomes)
}

impl DeviceSample {
    /// As the device enters it, in its own name.
    pub(super) fn entered_by(&self, device: Uuid, characteristic: Uuid, arrived_at: DateTime<Utc>) -> NewSample {
        let visit = Visit::Taken(self.accepted.clone());
        let DeviceSample { entry, taken_at, .. } = *self;
        NewSample { characteristic, device, entry, taken_at, arrived_at, person: device, visit }
    }
}

/// Why a sample of a device was not saved.
pub fn reason_of(refusal: &StoreError) -> Reason {
    match refusal {
        StoreError::EntryReused => Reason::EntryReused,
        StoreError::EventThere => Reason::EventThere,
        StoreError::Run(RunRefusal::InARun) => Reason::InARun,
        _ => Reason::Refused,
    }
}
