//! The site: its clock and shifts, areas, stations and products.

use quality::setup::SetUpRefusal;
use quality::shift::{Calendar, Shift};
use serde::{Deserialize, Serialize};
use sqlx::types::Json;
use sqlx::{PgConnection, PgExecutor};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// The site and its clock.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Site {
    pub name: String,
    /// Time zone of its clocks, by its IANA name.
    pub time_zone: String,
    /// The shifts of a day.
    pub shifts: Vec<Shift>,
}

/// The site.
pub async fn site(executor: impl PgExecutor<'_>) -> Result<Site, StoreError> {
    let row = sqlx::query!(
        r#"select name, time_zone, coalesce((select jsonb_agg(jsonb_build_object('name', s.name, 'begins', s.begins)
               order by s.begins) from shift s), '[]') as "shifts!: Json<Vec<Shift>>"
           from site"#
    )
    .fetch_one(executor)
    .await?;
    Ok(Site { name: row.name, time_zone: row.time_zone, shifts: row.shifts.0 })
}

/// The calendar of shifts.
pub async fn calendar(executor: impl PgExecutor<'_>) -> Result<Calendar, StoreError> {
    let Site { time_zone, shifts, .. } = site(executor).await?;
    let zone = time_zone.parse().map_err(|_| StoreError::Corrupt(format!("time zone {time_zone}")))?;
    Ok(Calendar { zone, shifts })
}

/// Names the site and sets its clock and shifts.
#[compiled_once]
pub async fn set_site(conn: &mut PgConnection, site: &Site) -> Result<(), StoreError> {
    sqlx::query!("update site set name = $1, time_zone = $2", site.name, site.time_zone).execute(&mut *conn).await?;
    sqlx::query!("delete from shift").execute(&mut *conn).await?;
    for shift in &site.shifts {
        sqlx::query!("insert into shift (name, begins) values ($1, $2)", shift.name, shift.begins)
            .execute(&mut *conn)
            .await?;
    }
    Ok(())
}

fn taken(error: sqlx::Error) -> StoreError {
    StoreError::of_constraint(error, |constraint| match constraint {
        "area_name_key" | "station_name_key" | "product_name_key" => Some(SetUpRefusal::Taken("name").into()),
        _ => None,
    })
}

/// Adds an area.
#[compiled_once]
pub async fn add_area(conn: &mut PgConnection, name: &str) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!("insert into area (id, name) values ($1, $2)", id, name).execute(conn).await.map_err(taken)?;
    Ok(id)
}

/// Adds a station to an area; `place` orders stations on the Rounds.
#[compiled_once]
pub async fn add_station(conn: &mut PgConnection, area: Uuid, name: &str, place: i32) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!("insert into station (id, area_id, name, place) values ($1, $2, $3, $4)", id, area, name, place)
        .execute(conn)
        .await
        .map_err(taken)?;
    Ok(id)
}

/// Adds a product.
#[compiled_once]
pub async fn add_product(conn: &mut PgConnection, name: &str) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!("insert into product (id, name) values ($1, $2)", id, name).execute(conn).await.map_err(taken)?;
    Ok(id)
}
