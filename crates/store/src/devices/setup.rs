//! Setting devices up.

use chrono::{DateTime, Utc};
use quality::device::Link;
use quality::field::name;
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde::Deserialize;
use serde_json::json;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

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

/// Sets a device up; an ingest device shows a token, of which the hash is given.
///
/// # Errors
/// When a field cannot be as given, or a station is missing.
#[compiled_once]
pub async fn add(
    pool: &PgPool,
    new: &NewDevice,
    token_hash: Option<&[u8]>,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<Uuid, StoreError> {
    let name = checked(new)?;
    let link = serde_json::to_value(&new.link)?;
    let mut act = Act::begin(pool).await?;
    let id = Uuid::new_v4();
    // It signs in nowhere: its login is nobody's, and nothing verifies against an empty hash.
    sqlx::query!(
        "insert into person (id, login, name, role, password_hash, active) values ($1, $2, $3, 'device', '', false)",
        id,
        format!("device:{id}"),
        name
    )
    .execute(act.conn())
    .await?;
    sqlx::query!(
        "insert into device (id, kind, token_hash, settings, created_at) values ($1, $2, $3, $4, $5)",
        id,
        link["kind"].as_str(),
        token_hash,
        link,
        at
    )
    .execute(act.conn())
    .await?;
    set_stations(act.conn(), id, &new.stations).await?;
    let detail = json!({"name": name, "stations": new.stations, "link": new.link});
    let deed = Deed::new(at, Some(person), Action::DeviceSetUp, id, &detail);
    act.did(SITE_CHAIN, deed, News::Plan);
    act.commit().await?;
    Ok(id)
}

/// Changes what a device is called, where it stands and how it is spoken with; its kind stays.
///
/// # Errors
/// When it is missing or revoked, somebody changed it since `seen_version`, or a field cannot be as given.
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    new: &NewDevice,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let name = checked(new)?;
    let link = serde_json::to_value(&new.link)?;
    let mut act = Act::begin(pool).await?;
    let before = sqlx::query!(
        r#"select p.name, d.settings as "link: Json<Link>", d.version,
                  array(select station_id from device_station where device_id = d.id) as "stations!: Vec<Uuid>"
           from device d join person p on p.id = d.id
           where d.id = $1 and d.revoked_at is null for update of d"#,
        id
    )
    .fetch_optional(act.conn())
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Device))?;
    same_version(ObjectKind::Device, seen_version, before.version)?;
    before.link.may_become(&new.link)?;
    sqlx::query!("update person set name = $2 where id = $1", id, name).execute(act.conn()).await?;
    // What a stream has come to belongs to what it was.
    sqlx::query!(
        "update device set settings = $2, version = version + 1, progress = case when settings = $2 then progress end
         where id = $1",
        id,
        link
    )
    .execute(act.conn())
    .await?;
    sqlx::query!("delete from device_station where device_id = $1", id).execute(act.conn()).await?;
    set_stations(act.conn(), id, &new.stations).await?;
    let old = json!({"name": before.name, "stations": before.stations, "link": before.link});
    let new = json!({"name": name, "stations": new.stations, "link": link});
    let deed = Deed::new(at, Some(person), Action::DeviceChanged, id, &json!({"old": old, "new": new}));
    act.did(SITE_CHAIN, deed, News::Plan);
    act.commit().await
}

/// The name, when all else can be as given.
fn checked(new: &NewDevice) -> Result<String, StoreError> {
    let name = name("name", &new.name)?;
    new.link.check()?;
    Ok(name)
}

async fn set_stations(conn: &mut PgConnection, device: Uuid, stations: &[Uuid]) -> Result<(), StoreError> {
    let set = sqlx::query!(
        "insert into device_station (device_id, station_id) select $1, id from station where id = any($2)",
        device,
        stations
    )
    .execute(conn)
    .await?;
    if set.rows_affected() == 0 || set.rows_affected() != stations.len() as u64 {
        return Err(StoreError::Missing(ObjectKind::Station));
    }
    Ok(())
}

/// Takes nothing more from a device.
#[compiled_once]
pub async fn revoke(pool: &PgPool, id: Uuid, person: Uuid, at: DateTime<Utc>) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    let revoked = sqlx::query!("update device set revoked_at = $2 where id = $1 and revoked_at is null", id, at)
        .execute(act.conn())
        .await?;
    if revoked.rows_affected() == 0 {
        return Err(StoreError::Missing(ObjectKind::Device));
    }
    let deed = Deed::new(at, Some(person), Action::DeviceRevoked, id, &json!({}));
    act.did(SITE_CHAIN, deed, News::Plan);
    act.commit().await
}
