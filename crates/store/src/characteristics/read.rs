//! Characteristics as they are set up, and as entry and judging need them.

use chrono::{DateTime, Utc};
use quality::analyte::level_shows;
use quality::characteristic::{Bounds, Characteristic, DefectKind, NamedRules, Sampling, Specification};
use quality::object::ObjectKind;
use quality::part::Part;
use quality::scale::Scale;
use quality::scheme::{Scheme, Schemes};
use quality::thresholds::Thresholds;
use serde::{Deserialize, Serialize};
use spc::chart::{ChartOptions, Statistic};
use spc::rules::RuleSet;
use sqlx::types::Json;
use sqlx::{PgConnection, PgExecutor};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{StoreError, trail, word};

/// A characteristic with the names around it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct CharacteristicView {
    pub id: Uuid,
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
    /// Schemes that held before the one that it is set up with, and until when.
    #[serde(skip)]
    pub earlier: Vec<(DateTime<Utc>, Scheme)>,
    /// As it is set up.
    #[serde(flatten)]
    pub characteristic: Characteristic,
}

impl CharacteristicView {
    /// Whether its chart has a panel of this statistic.
    pub fn shows(&self, statistic: Statistic) -> bool {
        self.analyte.is_none() || level_shows(statistic)
    }

    /// How it was charted and judged, and is.
    pub fn schemes(&self) -> Schemes {
        Schemes::new(self.earlier.clone(), self.characteristic.scheme())
    }
}

/// The characteristic with this id.
pub async fn find(executor: impl PgExecutor<'_>, id: Uuid) -> Result<CharacteristicView, StoreError> {
    some(executor, Some(id)).await?.pop().ok_or(StoreError::Missing(ObjectKind::Characteristic))
}

/// All characteristics, in the order of their stations.
pub async fn list(executor: impl PgExecutor<'_>) -> Result<Vec<CharacteristicView>, StoreError> {
    some(executor, None).await
}

async fn some(executor: impl PgExecutor<'_>, id: Option<Uuid>) -> Result<Vec<CharacteristicView>, StoreError> {
    let corrupt = |id: Uuid| move |_| StoreError::Corrupt(format!("set-up of characteristic {id}"));
    sqlx::query!(
        r#"select c.*, c.rule_set as "rules: Json<RuleSet>", c.sampling as "plan: Json<Sampling>",
                  c.parts as "all_parts: Json<Vec<Part>>", c.defect_kinds as "kinds: Json<Vec<DefectKind>>", c.options as "chart_options: Json<ChartOptions>",
                  c.scales as "all_scales: Json<Vec<Scale>>", c.thresholds as "able: Json<Thresholds>",
                  s.name as station, p.name as product, v.analyte_id as "analyte?",
                  (select jsonb_agg(jsonb_build_array(e.ends_at, jsonb_build_object('chart', e.chart,
                       'options', e.options, 'rule_set', e.rule_set, 'k', e.k)) order by e.ends_at)
                   from earlier_scheme e where e.characteristic_id = c.id)
                      as "earlier: Json<Vec<(DateTime<Utc>, Scheme)>>"
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
            options: row.chart_options.0,
            rule_set: row.rules.0,
            named_rules: row.rule_set_id.zip(row.rule_set_version).map(|(set, version)| NamedRules { set, version }),
            k: row.k,
            hard_bounds: Bounds { lower: row.hard_lower, upper: row.hard_upper },
            soft_bounds: Bounds { lower: row.soft_lower, upper: row.soft_upper },
            specification: Specification { lsl: row.lsl, target: row.target, usl: row.usl },
            reaction_plan: row.reaction_plan,
            escalates_after: row.escalates_after.try_into().map_err(corrupt(row.id))?,
            asked_tags: row.asked_tags,
            labels: row.labels,
            hidden: row.hidden,
            feature: row.feature,
            components: row.components,
            defect_kinds: row.kinds.0,
            parts: row.all_parts.0,
            phase_events: row.phase_events,
            scales: row.all_scales.0,
            thresholds: row.able.0,
        };
        Ok(CharacteristicView {
            id: row.id,
            station: row.station,
            station_id: row.station_id,
            product: row.product,
            product_id: row.product_id,
            created_at: row.created_at,
            analyte: row.analyte,
            version: row.version,
            earlier: row.earlier.map(|earlier| earlier.0).unwrap_or_default(),
            characteristic,
        })
    })
    .collect()
}

/// A characteristic that is held until the transaction ends: savers of one queue here, so that each is judged with the
/// samples of those before it.
#[derive(Debug, Clone)]
pub(crate) struct Held {
    /// Where its chain ends.
    pub end: trail::End,
    /// How it is set up, and how the site is: others after each change.
    pub set_up: (Uuid, Uuid),
}

/// How it is set up, and how the site is: others after each change.
pub(crate) async fn set_up(conn: &mut PgConnection, id: Uuid) -> Result<(Uuid, Uuid), StoreError> {
    let row = sqlx::query!(
        r#"select set_up, (select set_up from site) as "site!" from sample_head where characteristic_id = $1"#,
        id
    );
    let row = row.fetch_optional(conn).await?.ok_or(StoreError::Missing(ObjectKind::Characteristic))?;
    Ok((row.set_up, row.site))
}

/// Holds the characteristic with this id.
pub(crate) async fn hold(conn: &mut PgConnection, id: Uuid) -> Result<Held, StoreError> {
    let row = sqlx::query!(
        r#"select t.position, t.hash, h.set_up, (select set_up from site) as "site!"
           from sample_head h join trail_head t on t.chain = h.characteristic_id
           where h.characteristic_id = $1 for update of h, t"#,
        id
    );
    let Some(row) = row.fetch_optional(&mut *conn).await? else {
        find(conn, id).await?;
        // Each chain is begun with what it is about; somebody has taken this end away.
        return Err(StoreError::Corrupt(format!("the trail's chain {id} has no end")));
    };
    Ok(Held { end: trail::End { position: row.position, hash: row.hash }, set_up: (row.set_up, row.site) })
}
