//! Setting up analytes with their levels.

use chrono::{DateTime, Utc};
use quality::analyte::{Assigned, NewAnalyte};
use quality::field::name;
use quality::object::ObjectKind;
use quality::setup::SetUpRefusal;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::characteristics::Belongs;
use crate::limits::{NewPhase, start_given};
use crate::news::News;
use crate::once::compiled_once;
use crate::plan::set_up;
use crate::trail::SITE_CHAIN;

/// Sets up an analyte: each level becomes a characteristic with a Levey-Jennings chart.
///
/// # Errors
/// When a field cannot be as given, station or material are missing, or a name is taken.
#[compiled_once]
pub async fn add_analyte(pool: &PgPool, new: &NewAnalyte, person: Uuid, at: DateTime<Utc>) -> Result<Uuid, StoreError> {
    let name = name("name", &new.name)?;
    let (rules, levels) = (new.rules()?, new.levels()?);
    let mut act = Act::begin(pool).await?;
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into analyte (id, station_id, name, place, rules)
         values ($1, $2, $3, (select count(*) from analyte where station_id = $2), $4)",
        id,
        new.station,
        name,
        serde_json::to_value(rules)?
    )
    .execute(act.conn())
    .await
    .map_err(refusal)?;
    for (place, (level, (level_name, characteristic))) in (1..).zip(new.levels.iter().zip(levels)) {
        let belongs = Belongs { station: new.station, product: level.material, since: at };
        let characteristic = set_up(&mut act, belongs, &characteristic, person).await?;
        sqlx::query!(
            "insert into level (characteristic_id, analyte_id, place, name) values ($1, $2, $3, $4)",
            characteristic,
            id,
            place,
            level_name
        )
        .execute(act.conn())
        .await
        .map_err(refusal)?;
        let phase = NewPhase { characteristic, name: "First control lot", starts_at: at };
        start_assigned(&mut act, phase, level.assigned, person, at).await?;
    }
    let levels: Vec<_> = new.levels.iter().map(|l| json!({"name": l.name, "assigned": l.assigned})).collect();
    let detail = json!({"name": name, "station": new.station, "rules": rules, "levels": levels});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::AnalyteSetUp, id, &detail), News::Plan);
    act.commit().await?;
    Ok(id)
}

/// Assigns another mean and sd to a level, as with a new control lot: a new phase starts.
///
/// # Errors
/// When the figures cannot be, or there is no such level.
#[compiled_once]
pub async fn assign(
    pool: &PgPool,
    level: Uuid,
    assigned: Assigned,
    given: &str,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    assigned.check()?;
    let name = name("name", given)?;
    let mut act = Act::begin(pool).await?;
    if act.take(level).await?.analyte.is_none() {
        return Err(StoreError::Missing(ObjectKind::Level));
    }
    let phase = NewPhase { characteristic: level, name: &name, starts_at: at };
    start_assigned(&mut act, phase, assigned, person, at).await?;
    act.commit().await
}

async fn start_assigned(
    act: &mut Act,
    phase: NewPhase<'_>,
    Assigned { mean, sd }: Assigned,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let level = phase.characteristic;
    let limits = start_given(act.conn(), phase, (mean, sd), "Assigned to the control material", person).await?;
    let detail = json!({"phase": phase.name, "limits": limits, "mean": mean, "sd": sd});
    let deed = Deed::new(at, Some(person), Action::LevelAssigned, level, &detail);
    act.did(level, deed, News::Limits { characteristic: level });
    Ok(())
}

pub(super) fn refusal(error: sqlx::Error) -> StoreError {
    StoreError::of_constraint(error, |constraint| match constraint {
        "analyte_station_id_name_key" | "level_analyte_id_name_key" => Some(SetUpRefusal::Taken("name").into()),
        "analyte_station_id_fkey" => Some(StoreError::Missing(ObjectKind::Station)),
        _ => None,
    })
}
