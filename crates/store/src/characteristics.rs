//! Characteristics, as they are set up and as entry and judging need them.

use chrono::{DateTime, Utc};
use quality::characteristic::{Bounds, Characteristic, DefectKind, Sampling, Specification};
use serde::{Deserialize, Serialize};
use spc::rules::RuleSet;
use sqlx::types::Json;
use sqlx::{PgConnection, PgExecutor};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{StoreError, trail, word};

/// A characteristic with the names around it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Setup {
    /// Identity.
    pub id: Uuid,
    /// Where.
    pub station: String,
    /// Identity of the station.
    pub station_id: Uuid,
    /// On what.
    pub product: String,
    /// Identity of the product.
    pub product_id: Uuid,
    /// Since when it exists.
    pub created_at: DateTime<Utc>,
    /// The analyte whose level it is; its samples come in runs.
    pub analyte: Option<Uuid>,
    /// Counts its changes; a change names the version it was made on.
    pub version: i32,
    /// As it is set up.
    #[serde(flatten)]
    pub characteristic: Characteristic,
}

/// The characteristic with this id.
pub async fn find(executor: impl PgExecutor<'_>, id: Uuid) -> Result<Setup, StoreError> {
    some(executor, Some(id)).await?.pop().ok_or(StoreError::Missing("characteristic"))
}

/// All characteristics, in the order of their stations.
pub async fn list(executor: impl PgExecutor<'_>) -> Result<Vec<Setup>, StoreError> {
    some(executor, None).await
}

async fn some(executor: impl PgExecutor<'_>, id: Option<Uuid>) -> Result<Vec<Setup>, StoreError> {
    let corrupt = |id: Uuid| move |_| StoreError::Corrupt(format!("set-up of characteristic {id}"));
    sqlx::query!(
        r#"select c.*, c.rule_set as "rules: Json<RuleSet>", c.sampling as "plan: Json<Sampling>",
                  c.defect_kinds as "kinds: Json<Vec<DefectKind>>", s.name as station, p.name as product,
                  v.analyte_id as "analyte?"
           from characteristic c
           join station s on s.id = c.station_id
           join product p on p.id = c.product_id
           left join level v on v.characteristic_id = c.id
           where $1::uuid is null or c.id = $1
           order by s.place, s.name, p.name, c.name"#,
        id
    )
    .fetch_all(executor)
    .await?
    .into_iter()
    .map(|row| {
        let characteristic = Characteristic {
            name: row.name,
            kind: word::value(row.kind)?,
            unit: row.unit,
            decimals: row.decimals.try_into().map_err(corrupt(row.id))?,
            chart: word::value(row.chart)?,
            subgroup_size: row.subgroup_size.try_into().map_err(corrupt(row.id))?,
            varying: row.varying,
            taken: word::value(row.taken)?,
            sampling: row.plan.0,
            rule_set: row.rules.0,
            hard_bounds: Bounds { lower: row.hard_lower, upper: row.hard_upper },
            soft_bounds: Bounds { lower: row.soft_lower, upper: row.soft_upper },
            specification: Specification { lsl: row.lsl, target: row.target, usl: row.usl },
            reaction_plan: row.reaction_plan,
            asked_tags: row.asked_tags,
            labels: row.labels,
            hidden: row.hidden,
            feature: row.feature,
            components: row.components,
            defect_kinds: row.kinds.0,
        };
        Ok(Setup {
            id: row.id,
            station: row.station,
            station_id: row.station_id,
            product: row.product,
            product_id: row.product_id,
            created_at: row.created_at,
            analyte: row.analyte,
            version: row.version,
            characteristic,
        })
    })
    .collect()
}

/// The characteristic with this id, held until the transaction ends: savers of one characteristic
/// queue here, so that each is judged with the samples of those before it.
pub async fn lock(conn: &mut PgConnection, id: Uuid) -> Result<Setup, StoreError> {
    sqlx::query!("select 1 as one from sample_head where characteristic_id = $1 for update", id)
        .fetch_optional(&mut *conn)
        .await?
        .ok_or(StoreError::Missing("characteristic"))?;
    find(conn, id).await
}

/// Where a new characteristic belongs.
#[derive(Debug, Clone, Copy)]
pub struct Belongs {
    /// Where.
    pub station: Uuid,
    /// On what.
    pub product: Uuid,
    /// Since when it exists; its first phase starts then.
    pub since: DateTime<Utc>,
}

/// Adds a characteristic, with a first phase on trial limits at 3 sigma.
pub async fn add(conn: &mut PgConnection, at: Belongs, new: &Characteristic) -> Result<Uuid, StoreError> {
    let id = insert(conn, at, new).await?;
    crate::limits::start_phase(conn, id, "First limits", at.since).await?;
    Ok(id)
}

/// Adds a characteristic without any phase.
pub(crate) async fn insert(conn: &mut PgConnection, at: Belongs, new: &Characteristic) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    write(conn, id, at, new).await?;
    sqlx::query!("insert into sample_head (characteristic_id) values ($1)", id).execute(&mut *conn).await?;
    trail::begin(conn, id, Utc::now()).await?;
    Ok(id)
}

/// Writes the set-up of a characteristic, all of it; one that exists stays where it belongs.
pub(crate) async fn write(
    conn: &mut PgConnection,
    id: Uuid,
    at: Belongs,
    new: &Characteristic,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into characteristic as old (id, station_id, product_id, created_at, name, unit, decimals, kind, chart,
             subgroup_size, varying, taken, sampling, rule_set, hard_lower, hard_upper, soft_lower, soft_upper, lsl,
             target, usl, reaction_plan, asked_tags, labels, hidden, feature, components, defect_kinds)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, $22,
             $23, $24, $25, $26, $27, $28)
         on conflict (id) do update set name = excluded.name, unit = excluded.unit, decimals = excluded.decimals,
             kind = excluded.kind, chart = excluded.chart, subgroup_size = excluded.subgroup_size,
             varying = excluded.varying, taken = excluded.taken, sampling = excluded.sampling,
             rule_set = excluded.rule_set, hard_lower = excluded.hard_lower, hard_upper = excluded.hard_upper,
             soft_lower = excluded.soft_lower, soft_upper = excluded.soft_upper, lsl = excluded.lsl,
             target = excluded.target, usl = excluded.usl, reaction_plan = excluded.reaction_plan,
             asked_tags = excluded.asked_tags, labels = excluded.labels, hidden = excluded.hidden,
             feature = excluded.feature, components = excluded.components, defect_kinds = excluded.defect_kinds,
             version = old.version + 1",
        id,
        at.station,
        at.product,
        at.since,
        new.name.trim(),
        new.unit.trim(),
        i16::from(new.decimals),
        word::word(new.kind)?,
        word::word(new.chart)?,
        i32::try_from(new.subgroup_size).unwrap_or(i32::MAX),
        new.varying,
        word::word(new.taken)?,
        serde_json::to_value(new.sampling)?,
        serde_json::to_value(&new.rule_set)?,
        new.hard_bounds.lower,
        new.hard_bounds.upper,
        new.soft_bounds.lower,
        new.soft_bounds.upper,
        new.specification.lsl,
        new.specification.target,
        new.specification.usl,
        &new.reaction_plan,
        &new.asked_tags,
        &new.labels,
        new.hidden,
        new.feature,
        &new.components,
        serde_json::to_value(&new.defect_kinds)?
    )
    .execute(conn)
    .await
    .map_err(known)?;
    Ok(())
}

/// A refusal of the database that says something about what was given.
fn known(error: sqlx::Error) -> StoreError {
    match error.as_database_error().and_then(|e| e.constraint()) {
        Some("characteristic_station_id_product_id_name_key") => StoreError::Taken("name"),
        Some("characteristic_station_id_fkey") => StoreError::Missing("station"),
        Some("characteristic_product_id_fkey") => StoreError::Missing("product"),
        _ => error.into(),
    }
}
