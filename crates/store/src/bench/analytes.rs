//! What is determined at a bench, and in which control materials.

use std::collections::HashSet;

use chrono::Utc;
use serde::{Deserialize, Serialize};
use spc::multirule::LabRule;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::assigned::Assignments;
use crate::StoreError;
use crate::once::compiled_once;

/// What is determined in control materials.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Analyte {
    pub id: Uuid,
    pub name: String,
    /// Unit of the results.
    pub unit: String,
    /// Decimals of a result.
    pub decimals: i16,
    /// Rules that judge it.
    pub rules: Vec<LabRule>,
    /// Its levels in order.
    pub levels: Vec<Level>,
    /// The reagent lot used last.
    pub reagent_lot: Option<String>,
    /// The control lot used last.
    pub control_lot: Option<String>,
}

/// A control material with its own mean and sd.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Level {
    pub characteristic: Uuid,
    pub name: String,
    pub material: String,
    /// Mean now.
    pub mean: Option<f64>,
    /// Standard deviation now.
    pub sd: Option<f64>,
    /// The result before.
    pub last: Option<f64>,
    /// The level that it runs beside: a new control lot, which no run is judged by yet.
    pub beside: Option<Uuid>,
    /// That lot.
    pub lot: Option<String>,
}

impl Analyte {
    /// The levels that its runs are judged by.
    pub fn judged(&self) -> impl Iterator<Item = &Level> {
        self.levels.iter().filter(|level| level.beside.is_none())
    }
}

/// Characteristics of the levels of a station.
#[compiled_once]
pub async fn levels_of(pool: &PgPool, station: Uuid) -> Result<Vec<Uuid>, StoreError> {
    Ok(sqlx::query_scalar!(
        "select v.characteristic_id from level v join analyte a on a.id = v.analyte_id where a.station_id = $1",
        station
    )
    .fetch_all(pool)
    .await?)
}

/// Results of a level whose runs were rejected for its analyte, and not overridden.
pub(crate) async fn rejected(conn: &mut PgConnection, level: Uuid) -> Result<HashSet<Uuid>, StoreError> {
    let rows = sqlx::query_scalar!(
        "select s.id from sample s
         join run r on r.id = s.run_id
         join level v on v.characteristic_id = s.characteristic_id
         where s.characteristic_id = $1 and r.overridden_at is null and exists (
             select from jsonb_array_elements(r.judgements) j
             where j->>'analyte' = v.analyte_id::text and j->>'verdict' = 'rejected')",
        level
    );
    Ok(rows.fetch_all(conn).await?.into_iter().collect())
}

/// Takes all levels of a bench in one order, before any of them by itself: a run judges them together.
pub(crate) async fn hold_levels(conn: &mut PgConnection, station: Uuid) -> Result<(), StoreError> {
    let levels = sqlx::query_scalar!(
        "select h.characteristic_id from sample_head h
         join level v on v.characteristic_id = h.characteristic_id join analyte a on a.id = v.analyte_id
         where a.station_id = $1 order by h.characteristic_id for update of h",
        station
    );
    levels.fetch_all(conn).await?;
    Ok(())
}

/// The same from one of them; nothing where it is no level.
pub(crate) async fn hold_levels_beside(conn: &mut PgConnection, level: Uuid) -> Result<(), StoreError> {
    let bench = sqlx::query_scalar!(
        "select a.station_id from level v join analyte a on a.id = v.analyte_id where v.characteristic_id = $1",
        level
    );
    match bench.fetch_optional(&mut *conn).await? {
        Some(station) => hold_levels(conn, station).await,
        None => Ok(()),
    }
}

/// The analytes of a bench with their levels as they stand now.
pub(crate) async fn analytes(conn: &mut PgConnection, station: Uuid) -> Result<Vec<Analyte>, StoreError> {
    let rows = sqlx::query!(
        r#"select a.id, a.name, a.rules as "rules: Json<Vec<LabRule>>", c.unit, c.decimals, v.characteristic_id,
                  v.name as level, v.beside, v.lot, p.name as material, s.value as "last?",
                  s.tags->>'reagent lot' as reagent_lot, s.tags->>'control lot' as control_lot
           from analyte a
           join level v on v.analyte_id = a.id
           join characteristic c on c.id = v.characteristic_id
           join product p on p.id = c.product_id
           left join lateral (
               select readings[1] as value, tags from sample
               where characteristic_id = c.id and not gap order by taken_at desc, number desc limit 1
           ) s on true
           where a.station_id = $1 and v.took_over_at is null
           order by a.place, a.name, v.place"#,
        station
    )
    .fetch_all(&mut *conn)
    .await?;
    let levels: Vec<Uuid> = rows.iter().map(|row| row.characteristic_id).collect();
    let assigned = Assignments::of(conn, &levels).await?;
    let now = Utc::now();
    let mut analytes: Vec<Analyte> = Vec::new();
    for row in rows {
        let held = assigned.at(row.characteristic_id, now);
        let level = Level {
            characteristic: row.characteristic_id,
            name: row.level,
            material: row.material,
            mean: held.map(|held| held.mean),
            sd: held.map(|held| held.sd),
            last: row.last,
            beside: row.beside,
            lot: row.lot,
        };
        match analytes.last_mut().filter(|analyte| analyte.id == row.id) {
            Some(analyte) => analyte.levels.push(level),
            None => analytes.push(Analyte {
                id: row.id,
                name: row.name,
                unit: row.unit,
                decimals: row.decimals,
                rules: row.rules.0,
                levels: vec![level],
                reagent_lot: row.reagent_lot,
                control_lot: row.control_lot,
            }),
        }
    }
    Ok(analytes)
}
