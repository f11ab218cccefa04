//! Changing limits. Who changes something names the version that was seen; points that are judged by something else
//! now are judged again, at once or in the background.

use chrono::{DateTime, Utc};
use quality::limits::LimitsRefusal;
use quality::object::ObjectKind;
use quality::version::same_version;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use super::change::{LimitsChange, LimitsChanged};
use super::made::make;
use crate::StoreError;
use crate::act::Act;
use crate::judging::{AT_ONCE, Pending, forget_failed, judge_again, put_off, under_way};
use crate::once::compiled_once;
use crate::phases::phases;

/// The version of a characteristic's limits.
#[compiled_once]
pub async fn version(conn: &mut PgConnection, characteristic: Uuid) -> Result<i32, StoreError> {
    sqlx::query_scalar!("select limits_version from sample_head where characteristic_id = $1", characteristic)
        .fetch_optional(conn)
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Characteristic))
}

/// Changes the limits of a characteristic. Where more points are to be judged again than anybody waits for, the change
/// is made in the background, wholly or not at all.
///
/// # Errors
/// When they have changed since `seen_version`, are being judged again, or the change cannot be.
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    characteristic: Uuid,
    seen_version: i32,
    change: &LimitsChange,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<LimitsChanged, StoreError> {
    let mut act = Act::begin(pool).await?;
    let setup = act.take(characteristic).await?;
    same_version(ObjectKind::Limits, seen_version, version(act.conn(), characteristic).await?)?;
    forget_failed(act.conn(), characteristic).await?;
    if under_way(act.conn(), characteristic).await?.is_some() {
        return Err(LimitsRefusal::Judging.into());
    }
    let before = phases(act.conn(), characteristic).await?;
    let made = make(&mut act, &setup, &before, change, (person, at)).await?;
    let after = phases(act.conn(), characteristic).await?;
    let points = match made.range {
        Some(range) => range.count(act.conn(), &setup, &after).await?,
        None => 0,
    };
    if points > AT_ONCE {
        drop(act);
        let mut act = Act::begin(pool).await?;
        let setup = act.take(characteristic).await?;
        same_version(ObjectKind::Limits, seen_version, version(act.conn(), characteristic).await?)?;
        put_off(&mut act, setup.id, &Pending::Change(change.clone()), (person, at), points).await?;
        act.keep().await?;
        return Ok(LimitsChanged { version: seen_version, judging: points });
    }
    if let Some(range) = made.range {
        judge_again(&mut act, &setup, after, range, made.because(person, at), None).await?;
    }
    let version = settle(&mut act, characteristic, made.counts).await?;
    act.commit().await?;
    Ok(LimitsChanged { version, judging: 0 })
}

/// Ends a change: trial signals that still hold count from now on, and the version goes up.
pub(crate) async fn settle(act: &mut Act, characteristic: Uuid, counts: Option<Uuid>) -> Result<i32, StoreError> {
    sqlx::query!("update signal set trial = false where limits_id = $1 and trial and withdrawn_at is null", counts)
        .execute(act.conn())
        .await?;
    sqlx::query!(
        "update episode e set trial = false where trial and not gone and exists
             (select from signal g where g.episode_id = e.id and g.limits_id = $1 and not g.trial)",
        counts
    )
    .execute(act.conn())
    .await?;
    Ok(sqlx::query_scalar!(
        "update sample_head set limits_version = limits_version + 1 where characteristic_id = $1
         returning limits_version",
        characteristic
    )
    .fetch_one(act.conn())
    .await?)
}
