//! What is due, station by station.

use chrono::{DateTime, Utc};
use quality::due::{DueState, due};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;

/// A station with what is sampled there.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Station {
    /// Identity.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// The area it stands in.
    pub area: String,
    /// What is sampled there.
    pub characteristics: Vec<Stop>,
}

/// One characteristic on the round.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Stop {
    /// Identity of the characteristic.
    pub id: Uuid,
    /// What is measured.
    pub name: String,
    /// On what.
    pub product: String,
    /// Pieces in a sample.
    pub subgroup_size: u32,
    /// Minutes from one sample to the next.
    pub interval_minutes: u32,
    /// When the last sample was taken.
    pub last_taken_at: Option<DateTime<Utc>>,
    /// When the next one is due.
    pub due_at: DateTime<Utc>,
    /// How that stands.
    pub state: DueState,
    /// Signals that wait for an answer.
    pub open_signals: u32,
}

/// All stations in order, as they stand at `now`.
pub async fn list(pool: &PgPool, now: DateTime<Utc>) -> Result<Vec<Station>, StoreError> {
    let rows = sqlx::query!(
        r#"select s.id as station_id, s.name as station, a.name as area, c.id, c.name, p.name as product,
                  c.subgroup_size, c.interval_minutes, c.created_at, last.taken_at as "last_taken_at?",
                  (select count(*) from signal g
                   where g.characteristic_id = c.id and g.state = 'open' and g.withdrawn_at is null) as "open_signals!"
           from characteristic c
           join station s on s.id = c.station_id
           join area a on a.id = s.area_id
           join product p on p.id = c.product_id
           left join lateral (select taken_at from sample where characteristic_id = c.id
                              order by taken_at desc, number desc limit 1) last on true
           order by s.place, s.name, c.name"#
    )
    .fetch_all(pool)
    .await?;
    let mut stations: Vec<Station> = Vec::new();
    for row in rows {
        let interval_minutes = row.interval_minutes.unsigned_abs();
        let due = due(row.last_taken_at, row.created_at, interval_minutes, now);
        let stop = Stop {
            id: row.id,
            name: row.name,
            product: row.product,
            subgroup_size: row.subgroup_size.unsigned_abs(),
            interval_minutes,
            last_taken_at: row.last_taken_at,
            due_at: due.at,
            state: due.state,
            open_signals: row.open_signals.try_into().unwrap_or(u32::MAX),
        };
        match stations.last_mut() {
            Some(station) if station.id == row.station_id => station.characteristics.push(stop),
            _ => stations.push(Station {
                id: row.station_id,
                name: row.station,
                area: row.area,
                characteristics: vec![stop],
            }),
        }
    }
    Ok(stations)
}
