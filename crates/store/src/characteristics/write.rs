//! Writing characteristics.

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use quality::object::ObjectKind;
use quality::scheme::Scheme;
use quality::setup::SetUpRefusal;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::{StoreError, trail, word};

/// Where a new characteristic belongs.
#[derive(Debug, Clone, Copy)]
pub struct Belongs {
    pub station: Uuid,
    /// On what.
    pub product: Uuid,
    /// Since when it exists; its first phase starts then.
    pub since: DateTime<Utc>,
}

/// Adds a characteristic without any phase, and begins its chain of the trail.
pub(crate) async fn insert(conn: &mut PgConnection, at: Belongs, new: &Characteristic) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    write(conn, id, at, new).await?;
    sqlx::query!("insert into sample_head (characteristic_id) values ($1)", id).execute(&mut *conn).await?;
    trail::begin_chain(conn, id).await?;
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
             target, usl, reaction_plan, asked_tags, labels, hidden, feature, components, defect_kinds, options, k,
             parts, rule_set_id, rule_set_version, phase_events, escalates_after,
             scales, thresholds)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, $22,
             $23, $24, $25, $26, $27, $28, $29, $30, $31, $32, $33, $34, $35, $36, $37)
         on conflict (id) do update set name = excluded.name, unit = excluded.unit, decimals = excluded.decimals,
             kind = excluded.kind, chart = excluded.chart, subgroup_size = excluded.subgroup_size,
             varying = excluded.varying, taken = excluded.taken, sampling = excluded.sampling,
             rule_set = excluded.rule_set, hard_lower = excluded.hard_lower, hard_upper = excluded.hard_upper,
             soft_lower = excluded.soft_lower, soft_upper = excluded.soft_upper, lsl = excluded.lsl,
             target = excluded.target, usl = excluded.usl, reaction_plan = excluded.reaction_plan,
             asked_tags = excluded.asked_tags, labels = excluded.labels, hidden = excluded.hidden,
             feature = excluded.feature, components = excluded.components, defect_kinds = excluded.defect_kinds,
             options = excluded.options, k = excluded.k, parts = excluded.parts,
             rule_set_id = excluded.rule_set_id, rule_set_version = excluded.rule_set_version, phase_events = excluded.phase_events,
             escalates_after = excluded.escalates_after, scales = excluded.scales,
             thresholds = excluded.thresholds,
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
        serde_json::to_value(&new.defect_kinds)?,
        serde_json::to_value(&new.options)?,
        new.k,
        serde_json::to_value(&new.parts)?,
        new.named_rules.map(|named| named.set),
        new.named_rules.map(|named| named.version),
        &new.phase_events,
        i16::try_from(new.escalates_after).unwrap_or(i16::MAX),
        serde_json::to_value(&new.scales)?,
        serde_json::to_value(new.thresholds)?
    )
    .execute(conn)
    .await
    .map_err(|error| {
        StoreError::of_constraint(error, |constraint| match constraint {
            "characteristic_station_id_product_id_name_key" => Some(SetUpRefusal::Taken("name").into()),
            "characteristic_station_id_fkey" => Some(StoreError::Missing(ObjectKind::Station)),
            "characteristic_product_id_fkey" => Some(StoreError::Missing(ObjectKind::Product)),
            _ => None,
        })
    })?;
    Ok(())
}

/// Keeps the scheme that held until `ends_at`, since points keep what they were judged by.
pub(crate) async fn keep_scheme(
    conn: &mut PgConnection,
    id: Uuid,
    ends_at: DateTime<Utc>,
    scheme: &Scheme,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into earlier_scheme (characteristic_id, ends_at, chart, options, rule_set, k)
         values ($1, $2, $3, $4, $5, $6)",
        id,
        ends_at,
        word::word(scheme.chart)?,
        serde_json::to_value(&scheme.options)?,
        serde_json::to_value(&scheme.rule_set)?,
        scheme.k
    )
    .execute(conn)
    .await?;
    Ok(())
}
