//! Devices as Plan shows them, and as their samples find them.

use chrono::{DateTime, Duration, Utc};
use quality::device::{Link, Reason, SILENT_AFTER_MINUTES};
use quality::role::Role;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;
use crate::people::Person;

/// A device as Plan shows it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct DeviceView {
    /// Identity; samples name it as the one who entered them.
    pub id: Uuid,
    pub name: String,
    /// Its stations, in the order of the site.
    pub stations: Vec<DeviceStation>,
    /// How it sends.
    pub link: Link,
    /// Counts its changes.
    pub version: i32,
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

/// A station that a device may send for.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct DeviceStation {
    pub id: Uuid,
    pub name: String,
}

/// What was refused of a device for one reason.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DeviceRefusal {
    pub reason: Reason,
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
    pub id: Uuid,
    pub name: String,
    pub stations: Vec<Uuid>,
    /// How it sends.
    pub link: Link,
}

impl Device {
    /// Who it is where it does what people do, in a part of that name.
    pub fn person(self, role: Role) -> Person {
        let Self { id, name, stations, .. } = self;
        Person { id, login: String::new(), name, role, stations, bound: false, password_is_first: false }
    }
}

/// All devices as they stand at `now`, those that send first.
#[compiled_once]
pub async fn list(pool: &PgPool, now: DateTime<Utc>) -> Result<Vec<DeviceView>, StoreError> {
    let silent = now - Duration::minutes(SILENT_AFTER_MINUTES);
    sqlx::query!(
        r#"select d.id, p.name, d.settings as "link: Json<Link>", d.created_at, d.version, d.revoked_at, d.heard_at,
                  d.accepted,
                  coalesce((select jsonb_agg(jsonb_build_object('id', s.id, 'name', s.name) order by s.place, s.name)
                            from device_station x join station s on s.id = x.station_id
                            where x.device_id = d.id), '[]') as "stations!: Json<Vec<DeviceStation>>",
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
        let speaks = row.revoked_at.is_none() && row.link.speaks_all_the_time();
        let silent_since = row.heard_at.filter(|heard| *heard < silent && speaks);
        Ok(DeviceView {
            id: row.id,
            name: row.name,
            stations: row.stations.0,
            link: row.link.0,
            version: row.version,
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
#[compiled_once]
pub async fn linked(pool: &PgPool) -> Result<Vec<Device>, StoreError> {
    Ok(sqlx::query!(
        r#"select d.id, p.name, d.settings as "link: Json<Link>",
                  array(select station_id from device_station where device_id = d.id) as "stations!: Vec<Uuid>"
           from device d join person p on p.id = d.id where revoked_at is null and token_hash is null"#
    )
    .fetch_all(pool)
    .await?
    .into_iter()
    .map(|row| Device { id: row.id, name: row.name, stations: row.stations, link: row.link.0 })
    .collect())
}

/// The device with this token, unless it was revoked.
#[compiled_once]
pub async fn by_token(pool: &PgPool, token_hash: &[u8]) -> Result<Option<Device>, StoreError> {
    let row = sqlx::query!(
        r#"select d.id, p.name, d.settings as "link: Json<Link>",
                  array(select station_id from device_station where device_id = d.id) as "stations!: Vec<Uuid>"
           from device d join person p on p.id = d.id where token_hash = $1 and revoked_at is null"#,
        token_hash
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(|row| Device { id: row.id, name: row.name, stations: row.stations, link: row.link.0 }))
}
