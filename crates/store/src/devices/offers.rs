//! Values that a device offers to whoever enters a sample or a run.

use chrono::{DateTime, Duration, Utc};
use quality::object::ObjectKind;
use quality::reading::number;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::{StoreError, characteristics};

/// An offer older than this is no longer shown: whoever measured it has gone.
fn stands_for() -> Duration {
    Duration::hours(24)
}

/// A value to offer.
#[derive(Debug, Clone)]
pub struct NewOffer {
    pub device: Uuid,
    /// Where it stands.
    pub station: Uuid,
    /// The level that an analyser means; nothing for a gauge.
    pub characteristic: Option<Uuid>,
    /// What tells its message from others.
    pub message: Option<String>,
    /// As it came, 1 to 64 characters.
    pub value: String,
    /// When it was measured.
    pub measured_at: DateTime<Utc>,
}

/// A value that waits to be taken.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Offer {
    pub id: Uuid,
    /// Name of the device.
    pub device: String,
    /// The level that an analyser means; nothing for a gauge.
    pub characteristic: Option<Uuid>,
    /// As it came.
    pub value: String,
    /// When it was measured.
    pub measured_at: DateTime<Utc>,
}

/// Offers a value; `false` when the same message offered it before.
#[compiled_once]
pub async fn offer(pool: &PgPool, new: &NewOffer, at: DateTime<Utc>) -> Result<bool, StoreError> {
    let mut act = Act::begin(pool).await?;
    let id = Uuid::new_v4();
    let offered = sqlx::query!(
        "insert into offer (id, device_id, station_id, characteristic_id, message, value, measured_at, arrived_at)
         values ($1, $2, $3, $4, $5, $6, $7, $8) on conflict do nothing",
        id,
        new.device,
        new.station,
        new.characteristic,
        new.message,
        new.value,
        new.measured_at,
        at
    )
    .execute(act.conn())
    .await?;
    if offered.rows_affected() == 0 {
        return Ok(false);
    }
    act.tell(News::Offer { station: new.station, offer: id });
    act.keep().await?;
    Ok(true)
}

/// Offers of an analyser that wait at a station, the newest of each level.
#[compiled_once]
pub async fn open_offers(pool: &PgPool, station: Uuid, now: DateTime<Utc>) -> Result<Vec<Offer>, StoreError> {
    Ok(sqlx::query_as!(
        Offer,
        r#"select distinct on (o.characteristic_id) o.id, p.name as device, o.characteristic_id as characteristic,
                  o.value, o.measured_at
           from offer o join person p on p.id = o.device_id
           where o.station_id = $1 and o.taken_at is null and o.arrived_at > $2 and o.characteristic_id is not null
           order by o.characteristic_id, o.measured_at desc, o.arrived_at desc"#,
        station,
        now - stands_for()
    )
    .fetch_all(pool)
    .await?)
}

/// Takes an offer into an entry of `characteristic`; the first who takes it has it.
///
/// # Errors
/// When there is no such offer at the characteristic's station, it cannot be a reading of it, or
/// somebody took it before.
#[compiled_once]
pub async fn take(
    pool: &PgPool,
    id: Uuid,
    characteristic: Uuid,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<String, StoreError> {
    let setup = characteristics::find(pool, characteristic).await?;
    let mut act = Act::begin(pool).await?;
    let value = sqlx::query_scalar!(
        "select value from offer where id = $1 and station_id = $2 and taken_at is null for update skip locked",
        id,
        setup.station_id
    )
    .fetch_optional(act.conn())
    .await?
    .filter(|value| number(&setup.characteristic, 1, value).is_ok())
    .ok_or(StoreError::Missing(ObjectKind::Offer))?;
    sqlx::query!("update offer set taken_at = $2, taken_by = $3 where id = $1", id, at, person)
        .execute(act.conn())
        .await?;
    act.keep().await?;
    Ok(value)
}
