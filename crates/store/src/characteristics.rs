//! Characteristics, as they are set up and as entry and judging need them.

use chrono::{DateTime, Utc};
use quality::characteristic::{Bounds, Characteristic};
use serde::{Deserialize, Serialize};
use spc::chart::ChartKind;
use spc::rules::RuleSet;
use sqlx::types::Json;
use sqlx::{PgConnection, PgExecutor};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{StoreError, word};

/// A characteristic with the names around it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Setup {
    /// Identity.
    pub id: Uuid,
    /// What is measured.
    pub name: String,
    /// Where.
    pub station: String,
    /// On what.
    pub product: String,
    /// Unit of the readings.
    pub unit: String,
    /// Decimals that the unit allows.
    pub decimals: u8,
    /// The chart it is watched on.
    pub chart: ChartKind,
    /// Pieces in a sample.
    pub subgroup_size: usize,
    /// The rules that judge it.
    pub rule_set: RuleSet,
    /// Minutes from one sample to the next.
    pub interval_minutes: u32,
    /// Refused outside.
    pub hard_bounds: Bounds,
    /// Asked outside.
    pub soft_bounds: Bounds,
    /// The steps to take when a signal comes.
    pub reaction_plan: Vec<String>,
    /// Since when it exists.
    pub created_at: DateTime<Utc>,
}

impl Setup {
    /// What entry and judging need of it.
    pub fn characteristic(&self) -> Characteristic {
        Characteristic {
            id: self.id,
            decimals: self.decimals,
            chart: self.chart,
            subgroup_size: self.subgroup_size,
            rule_set: self.rule_set.clone(),
            hard_bounds: self.hard_bounds,
            soft_bounds: self.soft_bounds,
            interval_minutes: self.interval_minutes,
        }
    }
}

/// The characteristic with this id.
pub async fn find(executor: impl PgExecutor<'_>, id: Uuid) -> Result<Setup, StoreError> {
    let row = sqlx::query!(
        r#"select c.*, c.rule_set as "rules: Json<RuleSet>", s.name as station, p.name as product
           from characteristic c
           join station s on s.id = c.station_id
           join product p on p.id = c.product_id
           where c.id = $1"#,
        id
    )
    .fetch_optional(executor)
    .await?
    .ok_or(StoreError::Missing("characteristic"))?;
    let corrupt = |_| StoreError::Corrupt(format!("set-up of characteristic {id}"));
    Ok(Setup {
        id: row.id,
        name: row.name,
        station: row.station,
        product: row.product,
        unit: row.unit,
        decimals: row.decimals.try_into().map_err(corrupt)?,
        chart: word::value(row.chart)?,
        subgroup_size: row.subgroup_size.try_into().map_err(corrupt)?,
        rule_set: row.rules.0,
        interval_minutes: row.interval_minutes.try_into().map_err(corrupt)?,
        hard_bounds: Bounds { lower: row.hard_lower, upper: row.hard_upper },
        soft_bounds: Bounds { lower: row.soft_lower, upper: row.soft_upper },
        reaction_plan: row.reaction_plan,
        created_at: row.created_at,
    })
}

/// The characteristic with this id, held until the transaction ends: savers of one characteristic
/// queue here, so that each is judged with the samples of those before it.
pub async fn lock(conn: &mut PgConnection, id: Uuid) -> Result<Setup, StoreError> {
    sqlx::query!("select 1 as one from characteristic where id = $1 for no key update", id)
        .fetch_optional(&mut *conn)
        .await?
        .ok_or(StoreError::Missing("characteristic"))?;
    find(conn, id).await
}

/// What a new characteristic is made from.
#[derive(Debug, Clone)]
pub struct NewCharacteristic {
    /// Where.
    pub station: Uuid,
    /// On what.
    pub product: Uuid,
    /// What is measured.
    pub name: String,
    /// Unit of the readings.
    pub unit: String,
    /// Decimals that the unit allows.
    pub decimals: u8,
    /// Its chart.
    pub chart: ChartKind,
    /// Pieces in a sample.
    pub subgroup_size: u16,
    /// Its rules.
    pub rule_set: RuleSet,
    /// Minutes from one sample to the next.
    pub interval_minutes: u16,
    /// Refused outside.
    pub hard_bounds: Bounds,
    /// Asked outside.
    pub soft_bounds: Bounds,
    /// The steps to take when a signal comes.
    pub reaction_plan: Vec<String>,
    /// Since when it exists; its first phase starts then.
    pub created_at: DateTime<Utc>,
}

/// Adds a characteristic, with a first phase on trial limits at 3 sigma.
pub async fn add(conn: &mut PgConnection, new: &NewCharacteristic) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into characteristic (id, station_id, product_id, name, unit, decimals, chart, subgroup_size, rule_set,
             interval_minutes, hard_lower, hard_upper, soft_lower, soft_upper, reaction_plan, created_at)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16)",
        id,
        new.station,
        new.product,
        new.name,
        new.unit,
        i16::from(new.decimals),
        word::word(new.chart)?,
        i32::from(new.subgroup_size),
        serde_json::to_value(&new.rule_set)?,
        i32::from(new.interval_minutes),
        new.hard_bounds.lower,
        new.hard_bounds.upper,
        new.soft_bounds.lower,
        new.soft_bounds.upper,
        &new.reaction_plan,
        new.created_at
    )
    .execute(&mut *conn)
    .await?;
    crate::limits::start_phase(conn, id, "First limits", new.created_at).await?;
    Ok(id)
}
