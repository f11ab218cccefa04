//! What is due, station by station.

use chrono::{DateTime, Utc};
use quality::characteristic::{Kind, Sampling};
use quality::due::{DueState, Facts, due};
use quality::object::ObjectKind;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::{StoreError, episodes, sites, word};

/// A station with what is sampled there.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct RoundStation {
    pub id: Uuid,
    pub name: String,
    /// The area it stands in.
    pub area: String,
    /// Pinned by who asks.
    pub pinned: bool,
    /// The lot that is worked on.
    pub lot: Option<String>,
    /// What is sampled there.
    pub characteristics: Vec<Stop>,
}

/// One characteristic on the round.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Stop {
    /// Identity of the characteristic.
    pub id: Uuid,
    /// What is sampled.
    pub name: String,
    /// On what.
    pub product: String,
    /// What a sample records.
    pub kind: Kind,
    /// Pieces in a sample, or units inspected.
    pub subgroup_size: u32,
    /// The number inspected is asked each time.
    pub varying: bool,
    /// A level: measured in a run of the laboratory.
    pub in_runs: bool,
    /// When samples are due.
    pub sampling: Sampling,
    /// When the last sample was taken or skipped.
    pub last_taken_at: Option<DateTime<Utc>>,
    /// When the next one is due, where a clock tells.
    pub due_at: Option<DateTime<Utc>>,
    /// Pieces still to be made until then; below 0 how many have been made since.
    pub pieces_left: Option<i64>,
    /// How that stands.
    pub state: DueState,
    /// Signals that wait for an answer.
    pub open_episodes: u32,
}

/// All stations in order, as they stand at `now`, with the pins of `person`.
#[compiled_once]
pub async fn list(pool: &PgPool, person: Option<Uuid>, now: DateTime<Utc>) -> Result<Vec<RoundStation>, StoreError> {
    let turn = sites::calendar(pool).await?.at(now);
    let waiting = episodes::how_many_wait(pool).await?;
    let rows = sqlx::query!(
        r#"select s.id as station_id, s.name as station, a.name as area, s.lot, s.lot_began, s.pieces_made,
                  exists (select from pinned_station where person_id = $1 and station_id = s.id) as "pinned!",
                  c.id, c.name, p.name as product, exists (select from level where characteristic_id = c.id) as "in_runs!",
                  c.kind, c.subgroup_size, c.varying,
                  c.sampling as "sampling: Json<Sampling>", c.created_at, h.newest_at as last_taken_at,
                  h.newest_pieces as pieces_then
           from characteristic c
           join station s on s.id = c.station_id
           join area a on a.id = s.area_id
           join product p on p.id = c.product_id
           join sample_head h on h.characteristic_id = c.id
           -- A control lot that took over is its level now.
           where not c.hidden and not exists (select from level where characteristic_id = c.id and took_over_at is not null)
           order by s.place, s.name, p.name, c.name"#,
        person
    )
    .fetch_all(pool)
    .await?;
    let mut stations: Vec<RoundStation> = Vec::new();
    for row in rows {
        let facts = Facts {
            last: row.last_taken_at,
            exists_since: row.created_at,
            pieces_since: row.pieces_made - row.pieces_then.unwrap_or(0),
            lot_began: row.lot_began,
            turn: turn.clone(),
        };
        let due = due(row.sampling.0, &facts, now);
        let stop = Stop {
            id: row.id,
            name: row.name,
            product: row.product,
            kind: word::value(row.kind)?,
            subgroup_size: row.subgroup_size.unsigned_abs(),
            varying: row.varying,
            in_runs: row.in_runs,
            sampling: row.sampling.0,
            last_taken_at: row.last_taken_at,
            due_at: due.at,
            pieces_left: due.pieces_left,
            state: due.state,
            open_episodes: waiting.get(&row.id).map_or(0, |many| u32::try_from(*many).unwrap_or(u32::MAX)),
        };
        match stations.last_mut() {
            Some(station) if station.id == row.station_id => station.characteristics.push(stop),
            _ => stations.push(RoundStation {
                id: row.station_id,
                name: row.station,
                area: row.area,
                pinned: row.pinned,
                lot: row.lot,
                characteristics: vec![stop],
            }),
        }
    }
    Ok(stations)
}

/// Pins a station to the top of a person's round, or takes the pin away.
#[compiled_once]
pub async fn pin(pool: &PgPool, person: Uuid, station: Uuid, pinned: bool) -> Result<(), StoreError> {
    if pinned {
        sqlx::query!(
            "insert into pinned_station (person_id, station_id) values ($1, $2) on conflict do nothing",
            person,
            station
        )
        .execute(pool)
        .await
        .map_err(|error| {
            StoreError::of_constraint(error, |name| {
                (name == "pinned_station_station_id_fkey").then_some(StoreError::Missing(ObjectKind::Station))
            })
        })?;
    } else {
        sqlx::query!("delete from pinned_station where person_id = $1 and station_id = $2", person, station)
            .execute(pool)
            .await?;
    }
    Ok(())
}
