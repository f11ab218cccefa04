//! The catalogue of causes.

use serde::{Deserialize, Serialize};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;

/// A cause that answers can name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Cause {
    pub id: Uuid,
    /// In words.
    pub name: String,
}

/// The causes that fit a characteristic: those of its area and those of all areas, what was named most often
/// there first. Without a characteristic all, in the order of the catalogue.
pub async fn list(pool: &PgPool, characteristic: Option<Uuid>) -> Result<Vec<Cause>, StoreError> {
    Ok(sqlx::query_as!(
        Cause,
        r#"with here as (select s.area_id from characteristic c join station s on s.id = c.station_id where c.id = $1)
           select k.id, k.name from cause k
           left join lateral (
               select count(*) as n from answer a
               join lateral (select signal_id from answer_of where answer_id = a.id limit 1) o on true
               join signal g on g.id = o.signal_id
               join characteristic c on c.id = g.characteristic_id
               join station s on s.id = c.station_id
               where a.cause_id = k.id and s.area_id = (select area_id from here) and a.at > now() - interval '1 year'
           ) used on true
           where $1::uuid is null or k.area_id is null or k.area_id = (select area_id from here)
           order by used.n desc, k.place, k.name"#,
        characteristic
    )
    .fetch_all(pool)
    .await?)
}

/// Adds a cause, of one area or of all.
pub async fn add(conn: &mut PgConnection, name: &str, place: i32, area: Option<Uuid>) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!("insert into cause (id, name, place, area_id) values ($1, $2, $3, $4)", id, name, place, area)
        .execute(conn)
        .await?;
    Ok(id)
}
