//! Devices: what they are, whether they are heard, what of theirs was refused.

mod offers;
mod samples;

use chrono::{DateTime, Duration, Utc};
use quality::device::{Link, SILENT_AFTER_MINUTES};
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::PgPool;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::news::{News, tell};
use crate::{StoreError, sites, trail};

pub use offers::{NewOffer, Offer, offer, open_offers, take};
pub use samples::{DeviceSample, save_batch};

/// A device to set up.
#[derive(Debug, Clone, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewDevice {
    /// Its name, which stands on what it sends.
    pub name: String,
    /// Stations it may send for.
    pub stations: Vec<Uuid>,
    /// How it sends.
    pub link: Link,
}

/// A device as Plan shows it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct DeviceView {
    /// Identity; samples name it as the one who entered them.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// Names of its stations.
    pub stations: Vec<String>,
    /// How it sends.
    pub link: Link,
    /// Since when it exists.
    pub created_at: DateTime<Utc>,
    /// Since when nothing more is taken from it.
    pub revoked_at: Option<DateTime<Utc>>,
    /// When it last sent anything.
    pub heard_at: Option<DateTime<Utc>>,
    /// Since when it has been silent, when that is too long.
    pub silent_since: Option<DateTime<Utc>>,
    /// Values or samples taken from it.
    pub accepted: i64,
    /// Values it offered that nobody took.
    pub untaken: i64,
    /// What was refused, by reason.
    pub refusals: Vec<DeviceRefusal>,
}

/// What was refused of a device for one reason.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DeviceRefusal {
    /// The reason, as a stable code.
    pub reason: String,
    /// How often.
    pub count: i64,
    /// When last.
    pub last_at: DateTime<Utc>,
    /// What came last.
    pub last: String,
}

/// A device that may send.
#[derive(Debug, Clone)]
pub struct Device {
    /// Identity.
    pub id: Uuid,
    /// Its stations.
    pub stations: Vec<Uuid>,
    /// How it sends.
    pub link: Link,
}

/// Sets a device up; an ingest device shows a token, of which the hash is given.
///
/// # Errors
/// When a field cannot be as given, a station is missing, or the name is taken.
pub async fn add(
    pool: &PgPool,
    new: &NewDevice,
    token_hash: Option<&[u8]>,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Uuid, StoreError> {
    let name = sites::name("name", &new.name)?;
    let wrong = new.link.wrong();
    if !wrong.is_empty() {
        return Err(StoreError::Wrong(wrong));
    }
    let link = serde_json::to_value(&new.link)?;
    let mut tx = pool.begin().await?;
    let id = Uuid::new_v4();
    // It signs in nowhere: its login is nobody's, and nothing verifies against an empty hash.
    sqlx::query!(
        "insert into person (id, login, name, role, password_hash, active) values ($1, $2, $3, 'device', '', false)",
        id,
        format!("device:{id}"),
        name
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!(
        "insert into device (id, kind, token_hash, settings, created_at) values ($1, $2, $3, $4, $5)",
        id,
        link["kind"].as_str(),
        token_hash,
        link,
        at
    )
    .execute(&mut *tx)
    .await?;
    let stations = sqlx::query!(
        "insert into device_station (device_id, station_id) select $1, id from station where id = any($2)",
        id,
        &new.stations
    )
    .execute(&mut *tx)
    .await?;
    if stations.rows_affected() == 0 || stations.rows_affected() != new.stations.len() as u64 {
        return Err(StoreError::Missing("station"));
    }
    let detail = json!({"name": name, "stations": new.stations, "link": new.link});
    let deed = Deed::new(at, Some(person), Action::DeviceSetUp, id, &detail);
    trail::append(&mut tx, trail::SITE_CHAIN, &[deed]).await?;
    tell(&mut tx, News::Plan).await?;
    tx.commit().await?;
    Ok(id)
}

/// Takes nothing more from a device.
pub async fn revoke(pool: &PgPool, id: Uuid, person: Uuid, at: DateTime<Utc>) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let revoked = sqlx::query!("update device set revoked_at = $2 where id = $1 and revoked_at is null", id, at)
        .execute(&mut *tx)
        .await?;
    if revoked.rows_affected() == 0 {
        return Err(StoreError::Missing("device"));
    }
    let deed = Deed::new(at, Some(person), Action::DeviceRevoked, id, &json!({}));
    trail::append(&mut tx, trail::SITE_CHAIN, &[deed]).await?;
    tell(&mut tx, News::Plan).await?;
    tx.commit().await?;
    Ok(())
}

/// All devices as they stand at `now`, those that send first.
pub async fn list(pool: &PgPool, now: DateTime<Utc>) -> Result<Vec<DeviceView>, StoreError> {
    let silent = now - Duration::minutes(SILENT_AFTER_MINUTES);
    sqlx::query!(
        r#"select d.id, p.name, d.settings as "link: Json<Link>", d.created_at, d.revoked_at, d.heard_at, d.accepted,
                  array(select s.name from device_station x join station s on s.id = x.station_id
                        where x.device_id = d.id order by s.place, s.name) as "stations!: Vec<String>",
                  (select count(*) from offer o where o.device_id = d.id and o.taken_at is null
                   and o.arrived_at < $1::timestamptz - interval '1 minute') as "untaken!",
                  coalesce((select jsonb_agg(jsonb_build_object('reason', reason, 'count', count, 'last_at', last_at,
                                'last', last) order by count desc, reason)
                            from device_refusal r where r.device_id = d.id), '[]') as "refusals!: Json<Vec<DeviceRefusal>>"
           from device d join person p on p.id = d.id
           order by d.revoked_at is not null, p.name"#,
        now
    )
    .fetch_all(pool)
    .await?
    .into_iter()
    .map(|row| {
        let silent_since = row.heard_at.filter(|heard| *heard < silent && row.revoked_at.is_none());
        Ok(DeviceView {
            id: row.id,
            name: row.name,
            stations: row.stations,
            link: row.link.0,
            created_at: row.created_at,
            revoked_at: row.revoked_at,
            heard_at: row.heard_at,
            silent_since,
            accepted: row.accepted,
            untaken: row.untaken,
            refusals: row.refusals.0,
        })
    })
    .collect()
}

/// Devices that the server itself speaks with.
pub async fn linked(pool: &PgPool) -> Result<Vec<Device>, StoreError> {
    Ok(sqlx::query!(
        r#"select id, settings as "link: Json<Link>",
                  array(select station_id from device_station where device_id = d.id) as "stations!: Vec<Uuid>"
           from device d where revoked_at is null and kind <> 'ingest'"#
    )
    .fetch_all(pool)
    .await?
    .into_iter()
    .map(|row| Device { id: row.id, stations: row.stations, link: row.link.0 })
    .collect())
}

/// The device with this token, unless it was revoked.
pub async fn by_token(pool: &PgPool, token_hash: &[u8]) -> Result<Option<Device>, StoreError> {
    let row = sqlx::query!(
        r#"select id, settings as "link: Json<Link>",
                  array(select station_id from device_station where device_id = d.id) as "stations!: Vec<Uuid>"
           from device d where token_hash = $1 and revoked_at is null"#,
        token_hash
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|row| Device { id: row.id, stations: row.stations, link: row.link.0 }))
}

/// A device was heard, and so many values or samples were taken from it.
pub async fn heard(pool: &PgPool, device: Uuid, at: DateTime<Utc>, accepted: usize) -> Result<(), StoreError> {
    sqlx::query!(
        "update device set heard_at = greatest(heard_at, $2), accepted = accepted + $3 where id = $1",
        device,
        at,
        accepted as i64
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Longest text of a refusal that is kept.
const LAST_AT_MOST: usize = 200;

/// Counts what was refused of a device.
pub async fn refuse(
    pool: &PgPool,
    device: Uuid,
    at: DateTime<Utc>,
    reason: &str,
    count: usize,
    last: &str,
) -> Result<(), StoreError> {
    // The database keeps no zero character, and what cannot be shown says nothing.
    let shown: String = last.chars().map(|c| if c.is_control() { '·' } else { c }).take(LAST_AT_MOST).collect();
    sqlx::query!(
        "insert into device_refusal as old (device_id, reason, count, last_at, last) values ($1, $2, $3, $4, $5)
         on conflict (device_id, reason) do update
         set count = old.count + excluded.count, last_at = excluded.last_at, last = excluded.last",
        device,
        reason,
        count as i64,
        at,
        shown
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// The stable code of a refusal, as JSON tags it.
pub fn reason_of(refusal: &impl Serialize) -> String {
    let code = serde_json::to_value(refusal).ok().and_then(|value| Some(value.get("code")?.as_str()?.to_owned()));
    code.unwrap_or_else(|| "refused".into())
}
