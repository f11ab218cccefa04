//! Runs are marked as reviewed, and what was done about them is written down.

use chrono::{DateTime, Utc};
use quality::field::{optional_text, text};
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use quality::version::{Changed, same_version};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use super::runs::hold;
use super::view::{RunView, find};
use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::peers::give_of_run;
use crate::trail::SITE_CHAIN;

/// Marks a run as reviewed, as it was seen; what counts of it is given to peer groups.
///
/// # Errors
/// When it is missing, has changed since `seen_version` or was reviewed so already, is one's own, or somebody still
/// works on it.
#[compiled_once]
pub async fn review(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    remark: Option<&str>,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<RunView, StoreError> {
    let remark = optional_text("remark", remark)?;
    let mut act = Act::begin(pool).await?;
    let held = hold(act.conn(), id).await?;
    held.stage.may_be_reviewed(person)?;
    same_version(ObjectKind::Run, seen_version, held.version)?;
    let review = Uuid::new_v4();
    sqlx::query!(
        "insert into run_review (id, run_id, person_id, at, version, remark) values ($1, $2, $3, $4, $5, $6)",
        review,
        id,
        person,
        at,
        held.version,
        remark
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        let once = |name: &str| (name == "run_review_once").then_some(Changed(ObjectKind::Run).into());
        StoreError::of_constraint(error, once)
    })?;
    let detail = json!({"review": review, "number": held.number, "version": held.version, "remark": remark});
    let deed = Deed::new(at, Some(person), Action::RunReviewed, id, &detail);
    act.did(SITE_CHAIN, deed, News::Run { station: held.station });
    give_of_run(&mut act, id, (person, at)).await?;
    act.commit().await?;
    find(pool, person, id).await
}

/// What was done about a result, or about a run.
#[derive(Debug, Clone)]
pub struct NewRunAction {
    /// The level it is about; the whole run where there is none.
    pub characteristic: Option<Uuid>,
    pub text: String,
    /// Made by the device.
    pub entry: Uuid,
}

/// Writes down what was done; the same entry twice keeps one. A run that was reviewed waits for another review.
///
/// # Errors
/// When the run is missing or has no result of the level, the text cannot be, or the entry id was used for another.
#[compiled_once]
pub async fn act_on(
    pool: &PgPool,
    run: Uuid,
    new: &NewRunAction,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<RunView, StoreError> {
    let text = text("text", &new.text)?;
    let mut act = Act::begin(pool).await?;
    let held = hold(act.conn(), run).await?;
    let before = sqlx::query!("select run_id, characteristic_id, text from run_action where entry = $1", new.entry)
        .fetch_optional(act.conn())
        .await?;
    if let Some(before) = before {
        let same = before.run_id == run && before.characteristic_id == new.characteristic && before.text == text;
        return if same { find(pool, person, run).await } else { Err(StoreError::EntryReused) };
    }
    if let Some(characteristic) = new.characteristic {
        let measured = sqlx::query_scalar!(
            r#"select exists (select from sample where run_id = $1 and characteristic_id = $2) as "measured!""#,
            run,
            characteristic
        );
        if !measured.fetch_one(act.conn()).await? {
            return Err(StoreError::Missing(ObjectKind::Level));
        }
    }
    let id = Uuid::new_v4();
    sqlx::query!(
        "with changed as (update run set version = version + 1 where id = $2)
         insert into run_action (id, run_id, characteristic_id, person_id, at, text, entry)
         values ($1, $2, $3, $4, $5, $6, $7)",
        id,
        run,
        new.characteristic,
        person,
        at,
        text,
        new.entry
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        StoreError::of_constraint(error, |name| (name == "run_action_entry_once").then_some(StoreError::EntryReused))
    })?;
    let detail = json!({"action": id, "number": held.number, "characteristic": new.characteristic, "text": text});
    let deed = Deed::new(at, Some(person), Action::RunActedOn, run, &detail);
    act.did(SITE_CHAIN, deed, News::Run { station: held.station });
    act.commit().await?;
    find(pool, person, run).await
}
