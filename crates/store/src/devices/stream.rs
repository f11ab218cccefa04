//! What a stream of values has come to, kept from message to message.

use chrono::{DateTime, Utc};
use quality::device::Reason;
use serde::Serialize;
use serde::de::DeserializeOwned;
use sqlx::PgPool;
use uuid::Uuid;

use super::samples::{DeviceSample, reason_of};
use crate::StoreError;
use crate::act::Act;
use crate::samples::save_in;

/// A step of a stream.
#[derive(Debug, Clone, Copy)]
pub struct StepAt {
    pub device: Uuid,
    /// What it measures.
    pub characteristic: Uuid,
    /// What tells its message from others, where something does.
    pub message: Option<Uuid>,
    /// Now.
    pub at: DateTime<Utc>,
}

/// Takes a stream's progress a step on, and saves the sample that is complete with it: both, with the
/// message noted as taken, or nothing. What a message brings counts once, however often it comes
/// within a day. The inner error is why it is refused.
///
/// # Errors
/// When the database fails; then the step can be tried again.
pub async fn step<P, F>(pool: &PgPool, step: StepAt, on: F) -> Result<Result<(), Reason>, StoreError>
where
    P: Default + Serialize + DeserializeOwned,
    F: FnOnce(&mut P) -> Result<Option<DeviceSample>, Reason>,
{
    let StepAt { device, characteristic, message, at } = step;
    let mut act = Act::begin(pool).await?;
    if let Some(message) = message {
        let noted = sqlx::query!(
            "insert into stream_message (device_id, message, at) values ($1, $2, $3) on conflict do nothing",
            device,
            message,
            at
        )
        .execute(act.conn())
        .await?;
        if noted.rows_affected() == 0 {
            return Ok(Err(Reason::SentBefore));
        }
    }
    let before = sqlx::query_scalar!("select progress from device where id = $1 for update", device)
        .fetch_one(act.conn())
        .await?;
    let mut progress: P = before.clone().map(serde_json::from_value).transpose()?.unwrap_or_default();
    let made = on(&mut progress);
    let after = serde_json::to_value(&progress)?;
    if message.is_none() && matches!(made, Ok(None)) && before.as_ref() == Some(&after) {
        // Time alone has passed.
        return Ok(Ok(()));
    }
    let mut saved = 0;
    let outcome = match made {
        Ok(Some(sample)) => {
            forget_old_messages(act.conn(), device, at).await?;
            match save_in(&mut act, &sample.entered_by(device, characteristic, at), None).await {
                Ok(_) => {
                    saved = 1;
                    Ok(())
                }
                Err(fault) if fault.is_fault() => return Err(fault),
                Err(refusal) => Err(reason_of(&refusal)),
            }
        }
        Ok(None) => Ok(()),
        Err(reason) => Err(reason),
    };
    sqlx::query!(
        "update device set progress = $2, heard_at = greatest(heard_at, $3), accepted = accepted + $4 where id = $1",
        device,
        after,
        at,
        saved
    )
    .execute(act.conn())
    .await?;
    act.keep().await?;
    Ok(outcome)
}

/// No broker delivers a message again a day later.
async fn forget_old_messages(conn: &mut sqlx::PgConnection, device: Uuid, at: DateTime<Utc>) -> Result<(), StoreError> {
    sqlx::query!(
        "delete from stream_message where device_id = $1 and at < $2::timestamptz - interval '1 day'",
        device,
        at
    )
    .execute(conn)
    .await?;
    Ok(())
}
