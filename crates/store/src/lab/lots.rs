//! A new control lot beside the old one: measured in the same runs, judged by none, until it has figures of its own and
//! takes over.

use chrono::{DateTime, Utc};
use quality::analyte::OWN_FROM;
use quality::characteristic::Characteristic;
use quality::field::name;
use quality::limits::LimitsRefusal;
use quality::object::ObjectKind;
use quality::run::Summary;
use quality::setup::SetUpRefusal;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use super::setup::refusal;
use crate::StoreError;
use crate::act::Act;
use crate::bench::rejected;
use crate::characteristics::Belongs;
use crate::limits::{NewPhase, begin_phase, start_given};
use crate::news::News;
use crate::once::compiled_once;
use crate::plan::set_up;
use crate::trail::SITE_CHAIN;

/// Begins to run a new control lot beside a level; gives the characteristic that its results belong to.
///
/// # Errors
/// When there is no such level, one runs beside it already, or the name cannot be or is taken.
#[compiled_once]
pub async fn begin_lot(
    pool: &PgPool,
    level: Uuid,
    lot: &str,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let lot = name("lot", lot)?;
    let mut act = Act::begin(pool).await?;
    let main = crate::characteristics::find(act.conn(), level).await?;
    let row = sqlx::query!("select analyte_id, name from level where characteristic_id = $1 and beside is null", level)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Level))?;
    let characteristic =
        Characteristic { name: format!("{}, {lot}", main.characteristic.name), ..main.characteristic.clone() };
    let belongs = Belongs { station: main.station_id, product: main.product_id, since: at };
    let id = set_up(&mut act, belongs, &characteristic, person).await?;
    sqlx::query!(
        "insert into level (characteristic_id, analyte_id, place, name, beside, lot)
         values ($1, $2, (select max(place) + 1 from level where analyte_id = $2), $3, $4, $5)",
        id,
        row.analyte_id,
        format!("{}, {lot}", row.name),
        level,
        lot
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        let beside = error.as_database_error().is_some_and(|error| error.constraint() == Some("level_beside"));
        if beside { SetUpRefusal::Taken("lot").into() } else { refusal(error) }
    })?;
    let phase = NewPhase { characteristic: id, name: &lot, starts_at: at };
    begin_phase(&mut act, &characteristic, phase, (Some(person), at)).await?;
    let detail = json!({"lot": lot, "beside": level});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::ControlLotBegun, id, &detail), News::Plan);
    act.tell(News::Run { station: main.station_id });
    act.commit().await?;
    Ok(id)
}

/// Lets a lot that ran beside a level take over: the level goes on with the mean and sd of its accepted results.
///
/// # Errors
/// When no such lot runs beside a level, or it has fewer accepted results than figures of one's own need.
#[compiled_once]
pub async fn take_over(pool: &PgPool, beside: Uuid, (person, at): (Uuid, DateTime<Utc>)) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    let row = sqlx::query!(
        r#"select beside as "level!", lot as "lot!" from level
           where characteristic_id = $1 and beside is not null and took_over_at is null for update"#,
        beside
    )
    .fetch_optional(act.conn())
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Level))?;
    let rejected = rejected(act.conn(), beside).await?;
    let results = sqlx::query!(
        r#"select id, readings[1] as "value!" from sample where characteristic_id = $1 and not gap and not aside"#,
        beside
    );
    let results = results.fetch_all(act.conn()).await?;
    let accepted: Vec<f64> =
        results.iter().filter(|result| !rejected.contains(&result.id)).map(|result| result.value).collect();
    let own = Summary::of(&accepted);
    let (Some(mean), Some(sd)) = (own.mean, own.sd.filter(|sd| accepted.len() >= OWN_FROM && *sd > 0.0)) else {
        return Err(LimitsRefusal::TooFewPoints { needed: OWN_FROM, found: accepted.len() }.into());
    };
    let main = act.take(row.level).await?;
    let source = format!("{} results of its own beside the lot before", accepted.len());
    let phase = NewPhase { characteristic: row.level, name: &row.lot, starts_at: at };
    let limits = start_given(act.conn(), phase, (mean, sd), &source, person).await?;
    sqlx::query!("update level set took_over_at = $2 where characteristic_id = $1", beside, at)
        .execute(act.conn())
        .await?;
    let detail = json!({"phase": row.lot, "limits": limits, "mean": mean, "sd": sd, "results": accepted.len()});
    let deed = Deed::new(at, Some(person), Action::LevelAssigned, row.level, &detail);
    act.did(row.level, deed, News::Limits { characteristic: row.level });
    let detail = json!({"lot": row.lot, "level": row.level});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::ControlLotTookOver, beside, &detail), News::Plan);
    act.tell(News::Run { station: main.station_id });
    act.commit().await
}
