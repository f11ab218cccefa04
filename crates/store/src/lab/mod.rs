//! The laboratory: analytes with their levels, and the runs that measure them.

mod figures;
mod judge;
mod runs;
mod view;

use chrono::{DateTime, Utc};
use quality::characteristic::{Bounds, Characteristic, Kind, Sampling, Specification, Taken};
use quality::limits::ASSIGNED;
use quality::signal::StepError;
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::json;
use spc::chart::ChartKind;
use spc::multirule::LabRule;
use spc::rules::{Preset, RuleSet};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::characteristics::{self, Belongs};
use crate::news::{News, tell};
use crate::{StoreError, limits, sites, trail};

pub use figures::{LevelFigures, figures};
pub(crate) use judge::judge_again;
pub use judge::{AnalyteJudgement, Judged, foresee};
pub use runs::{NewResult, NewRun, override_verdict, release, save};
pub use view::{Act, Analyte, Bench, Level, RunView, benches, find, levels_of};

/// Levels of an analyte at most.
const LEVELS_AT_MOST: usize = 9;

/// An analyte to set up.
#[derive(Debug, Clone, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewAnalyte {
    /// The bench.
    pub station: Uuid,
    /// What is determined, such as `Silver assay`.
    pub name: String,
    /// Unit of the results.
    pub unit: String,
    /// Decimals of a result.
    pub decimals: u8,
    /// Rules that judge a run; the usual six when left out.
    pub rules: Option<Vec<LabRule>>,
    /// Its control materials, in the order in which neighbouring levels are compared.
    pub levels: Vec<NewLevel>,
    /// The steps to take when a result is out.
    #[serde(default)]
    pub reaction_plan: Vec<String>,
}

/// A level to set up.
#[derive(Debug, Clone, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewLevel {
    /// Its name, such as `low`.
    pub name: String,
    /// The control material: a product of the site.
    pub material: Uuid,
    /// Mean and sd assigned to it.
    pub assigned: Assigned,
}

/// Mean and standard deviation of a control material.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Assigned {
    /// Mean.
    pub mean: f64,
    /// Standard deviation, above 0.
    pub sd: f64,
}

impl Assigned {
    fn check(&self) -> Result<(), StoreError> {
        let refused = |field, expected| Err(StepError::Field { field, expected }.into());
        match self {
            Self { mean, .. } if !mean.is_finite() || mean.abs() > 1e15 => refused("mean", "a number up to 1e15"),
            Self { sd, .. } if !(*sd > 0.0 && *sd <= 1e15) => refused("sd", "a number above 0"),
            _ => Ok(()),
        }
    }
}

/// Sets up an analyte: each level becomes a characteristic with a Levey-Jennings chart.
///
/// # Errors
/// When a field cannot be as given, station or material are missing, or a name is taken.
pub async fn add_analyte(pool: &PgPool, new: &NewAnalyte, person: Uuid, at: DateTime<Utc>) -> Result<Uuid, StoreError> {
    let name = sites::name("name", &new.name)?;
    if new.levels.is_empty() || new.levels.len() > LEVELS_AT_MOST {
        return Err(StepError::Field { field: "levels", expected: "1 to 9 levels" }.into());
    }
    let rules = new.rules.as_deref().unwrap_or(&LabRule::DEFAULT);
    if rules.is_empty() || rules.iter().enumerate().any(|(i, rule)| rules[..i].contains(rule)) {
        return Err(StepError::Field { field: "rules", expected: "at least one rule, each once" }.into());
    }
    let mut tx = pool.begin().await?;
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into analyte (id, station_id, name, place, rules)
         values ($1, $2, $3, (select count(*) from analyte where station_id = $2), $4)",
        id,
        new.station,
        name,
        serde_json::to_value(rules)?
    )
    .execute(&mut *tx)
    .await
    .map_err(known)?;
    for (place, level) in (1..).zip(&new.levels) {
        level.assigned.check()?;
        let level_name = sites::name("levels", &level.name)?;
        let characteristic = characteristic(new, &name, &level_name);
        let wrong = characteristic.wrong();
        if !wrong.is_empty() {
            return Err(StoreError::Wrong(wrong));
        }
        let belongs = Belongs { station: new.station, product: level.material, since: at };
        let characteristic_id = characteristics::insert(&mut tx, belongs, &characteristic).await?;
        sqlx::query!(
            "insert into level (characteristic_id, analyte_id, place, name) values ($1, $2, $3, $4)",
            characteristic_id,
            id,
            place,
            level_name
        )
        .execute(&mut *tx)
        .await
        .map_err(known)?;
        start_assigned(&mut tx, characteristic_id, level.assigned, "First control lot", person, at).await?;
    }
    let detail = json!({"name": name, "station": new.station, "rules": rules,
                        "levels": new.levels.iter().map(|l| json!({"name": l.name, "assigned": l.assigned})).collect::<Vec<_>>()});
    let deed = Deed::new(at, Some(person), Action::AnalyteSetUp, id, &detail);
    trail::append(&mut tx, trail::SITE_CHAIN, &[deed]).await?;
    tell(&mut tx, News::Plan).await?;
    tx.commit().await?;
    Ok(id)
}

/// A level as a characteristic: one result a run, judged by the multirule together with its other
/// levels; alone it is flagged only beyond 3 sd.
fn characteristic(new: &NewAnalyte, analyte: &str, level: &str) -> Characteristic {
    Characteristic {
        name: format!("{analyte}, {level}"),
        kind: Kind::Measured,
        unit: new.unit.clone(),
        decimals: new.decimals,
        chart: ChartKind::IMr,
        subgroup_size: 1,
        varying: false,
        taken: Taken::Consecutive,
        sampling: Sampling::Shift,
        rule_set: RuleSet::Preset(Preset::LimitsOnly),
        hard_bounds: Bounds::default(),
        soft_bounds: Bounds::default(),
        specification: Specification::default(),
        reaction_plan: new.reaction_plan.clone(),
        asked_tags: vec!["reagent lot".into(), "control lot".into()],
        labels: vec![],
        hidden: false,
        feature: None,
        components: vec![],
        defect_kinds: vec![],
    }
}

/// Assigns another mean and sd to a level, as with a new control lot: a new phase starts.
///
/// # Errors
/// When the figures cannot be, or there is no such level.
pub async fn assign(
    pool: &PgPool,
    level: Uuid,
    assigned: Assigned,
    name: &str,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    assigned.check()?;
    let name = sites::name("name", name)?;
    let mut tx = pool.begin().await?;
    let setup = characteristics::lock(&mut tx, level).await?;
    if setup.analyte.is_none() {
        return Err(StoreError::Missing("level"));
    }
    start_assigned(&mut tx, level, assigned, &name, person, at).await?;
    tell(&mut tx, News::Limits { characteristic: level }).await?;
    tx.commit().await?;
    Ok(())
}

async fn start_assigned(
    conn: &mut PgConnection,
    level: Uuid,
    assigned: Assigned,
    name: &str,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let Assigned { mean, sd } = assigned;
    let limits = limits::start_given(conn, level, name, at, (mean, sd, ASSIGNED), person).await?;
    let detail = json!({"phase": name, "limits": limits, "mean": mean, "sd": sd});
    let deed = Deed::new(at, Some(person), Action::LevelAssigned, level, &detail);
    trail::append(conn, level, &[deed]).await
}

fn known(error: sqlx::Error) -> StoreError {
    match error.as_database_error().and_then(|e| e.constraint()) {
        Some("analyte_station_id_name_key" | "level_analyte_id_name_key") => StoreError::Taken("name"),
        Some("analyte_station_id_fkey") => StoreError::Missing("station"),
        _ => error.into(),
    }
}
