//! Areas, stations and products.

use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;

/// Adds an area.
pub async fn add_area(conn: &mut PgConnection, name: &str) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!("insert into area (id, name) values ($1, $2)", id, name).execute(conn).await?;
    Ok(id)
}

/// Adds a station to an area; `place` orders stations on the Rounds.
pub async fn add_station(conn: &mut PgConnection, area: Uuid, name: &str, place: i32) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!("insert into station (id, area_id, name, place) values ($1, $2, $3, $4)", id, area, name, place)
        .execute(conn)
        .await?;
    Ok(id)
}

/// Adds a product.
pub async fn add_product(conn: &mut PgConnection, name: &str) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!("insert into product (id, name) values ($1, $2)", id, name).execute(conn).await?;
    Ok(id)
}
