//! Saving a run, releasing it, overriding its verdict.

use quality::object::ObjectKind;
use std::collections::BTreeSet;

use chrono::{DateTime, SubsecRound, Utc};
use quality::entry::Accepted;
use quality::field::text;
use quality::notice::NoticeKind;
use quality::run::{RunRefusal, Stage};
use quality::signal::WithdrawnReason;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde_json::json;
use spc::multirule::Verdict;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use super::view::{RunView, find};
use crate::act::Act;
use crate::bench::{analytes, hold_levels, judge_again};
use crate::news::News;
use crate::notices::{About, NewNotice, raise};
use crate::once::compiled_once;
use crate::samples::{NewSample, Visit, save_in};
use crate::signals::Because;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// A run to save; its results have been accepted.
#[derive(Debug, Clone)]
pub struct NewRun {
    /// The bench.
    pub station: Uuid,
    /// The device it was entered on.
    pub device: Uuid,
    /// Made by the device; saving it twice keeps one run.
    pub entry: Uuid,
    /// When it was measured.
    pub taken_at: DateTime<Utc>,
    /// When it reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Who entered it.
    pub person: Uuid,
    /// The run that it repeats.
    pub repeats: Option<Uuid>,
    /// One for each level measured.
    pub results: Vec<NewResult>,
    /// Offers of a device that it confirms.
    pub offers: Vec<Uuid>,
}

/// A result of a level.
#[derive(Debug, Clone)]
pub struct NewResult {
    /// The level's characteristic.
    pub characteristic: Uuid,
    /// The reading, with reagent and control lot as tags.
    pub accepted: Accepted,
}

impl NewRun {
    /// The sample of a result; sent again with its run it is the same.
    fn sample(&self, result: &NewResult) -> NewSample {
        NewSample {
            characteristic: result.characteristic,
            device: self.device,
            entry: Uuid::new_v5(&self.entry, result.characteristic.as_bytes()),
            taken_at: self.taken_at,
            arrived_at: self.arrived_at,
            person: self.person,
            visit: Visit::Taken(result.accepted.clone()),
        }
    }
}

/// Saves a run with its samples and judges it; `true` when it had been saved before.
///
/// # Errors
/// When the results do not fit the station's levels, the run it repeats cannot be repeated, or the
/// entry id was used for another run.
#[compiled_once]
pub async fn save(pool: &PgPool, new: &NewRun) -> Result<(RunView, bool), StoreError> {
    let new = &NewRun { taken_at: new.taken_at.trunc_subsecs(6), ..new.clone() };
    let mut act = Act::begin(pool).await?;
    // Runs of a bench queue here, so that they have numbers in order.
    sqlx::query!("select 1 as one from station where id = $1 for no key update", new.station)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Station))?;
    if let Some(before) = saved_before(&mut act, new).await? {
        return Ok((find(pool, new.person, before).await?, true));
    }
    hold_levels(act.conn(), new.station).await?;
    let measured = measured(act.conn(), new).await?;
    let id = Uuid::new_v4();
    let number = sqlx::query_scalar!(
        r#"insert into run (id, station_id, number, device, entry, taken_at, arrived_at, person_id, verdict, judgements)
           values ($1, $2, (select coalesce(max(number), 0) + 1 from run where station_id = $2), $3, $4, $5, $6, $7,
               'accepted', '[]')
           returning number"#,
        id,
        new.station,
        new.device,
        new.entry,
        new.taken_at,
        new.arrived_at,
        new.person
    )
    .fetch_one(act.conn())
    .await?;
    let mut results: Vec<&NewResult> = new.results.iter().collect();
    // Everybody takes characteristics in the same order, so that nobody waits in a circle.
    results.sort_by_key(|result| result.characteristic);
    for result in results {
        save_in(&mut act, &new.sample(result), Some(id)).await?;
    }
    if let Some(repeated) = new.repeats {
        repeat(act.conn(), id, new.station, repeated).await?;
    }
    for analyte in measured {
        let because = Because { reason: WithdrawnReason::Late, sample: None, person: None, at: new.arrived_at };
        judge_again(&mut act, new.station, analyte, (new.taken_at, number), because).await?;
    }
    let verdict = sqlx::query_scalar!("select verdict from run where id = $1", id).fetch_one(act.conn()).await?;
    sqlx::query!(
        "update offer set taken_at = $2, taken_by = $3 where id = any($1) and station_id = $4 and taken_at is null",
        &new.offers,
        new.arrived_at,
        new.person,
        new.station
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"number": number, "taken_at": new.taken_at, "device": new.device, "entry": new.entry,
                        "verdict": verdict, "repeats": new.repeats});
    let deed = Deed::new(new.arrived_at, Some(new.person), Action::RunSaved, id, &detail);
    act.did(SITE_CHAIN, deed, News::Run { station: new.station });
    for (kind, about) in told(act.conn(), id, word::value(verdict)?).await? {
        let notice = NewNotice { kind, at: new.arrived_at, station: Some(new.station), person: None, about };
        raise(&mut act, notice).await?;
    }
    act.commit().await?;
    Ok((find(pool, new.person, id).await?, false))
}

/// Whom to call for a run: a rejection tells of all that was found in it.
async fn told(conn: &mut PgConnection, run: Uuid, verdict: Verdict) -> Result<Vec<(NoticeKind, About)>, StoreError> {
    if verdict == Verdict::Rejected {
        return Ok(vec![(NoticeKind::RunRejected, About::Run(run))]);
    }
    let asking = sqlx::query_scalar!(
        "select id from episode where run_id = $1 and state in ('open', 'sent_back') and not gone order by id",
        run
    );
    let asking = asking.fetch_all(conn).await?;
    Ok(asking.into_iter().map(|episode| (NoticeKind::EpisodeRaised, About::Episode(episode))).collect())
}

/// The analytes that a run measures, in their order, when its results fit the station's levels.
async fn measured(conn: &mut PgConnection, new: &NewRun) -> Result<Vec<Uuid>, StoreError> {
    let mut named: BTreeSet<Uuid> = new.results.iter().map(|result| result.characteristic).collect();
    let once = named.len() == new.results.len();
    let mut analytes = analytes(conn, new.station).await?;
    // Each level is struck off where it is found.
    analytes.retain(|a| a.levels.iter().filter(|level| named.remove(&level.characteristic)).count() > 0);
    if analytes.is_empty() || !once || !named.is_empty() {
        return Err(RunRefusal::Results.into());
    }
    Ok(analytes.iter().map(|analyte| analyte.id).collect())
}

async fn repeat(conn: &mut PgConnection, id: Uuid, station: Uuid, repeated: Uuid) -> Result<(), StoreError> {
    let held = hold(conn, repeated).await?;
    if held.station != station {
        return Err(StoreError::Missing(ObjectKind::Run));
    }
    held.stage.may_be_repeated()?;
    sqlx::query!("update run set repeats = $2 where id = $1", id, repeated).execute(&mut *conn).await?;
    sqlx::query!("update run set version = version + 1 where id = $1", repeated).execute(conn).await?;
    Ok(())
}

/// The run that this entry id was saved as.
async fn saved_before(act: &mut Act, new: &NewRun) -> Result<Option<Uuid>, StoreError> {
    let Some(run) =
        sqlx::query!("select id, station_id from run where device = $1 and entry = $2", new.device, new.entry)
            .fetch_optional(act.conn())
            .await?
    else {
        return Ok(None);
    };
    let levels = sqlx::query_scalar!("select characteristic_id from sample where run_id = $1", run.id)
        .fetch_all(act.conn())
        .await?;
    let same = levels.len() == new.results.len() && new.results.iter().all(|r| levels.contains(&r.characteristic));
    if run.station_id != new.station || !same {
        return Err(StoreError::EntryReused);
    }
    for result in &new.results {
        // Saved before, it says whether it was the same.
        save_in(act, &new.sample(result), Some(run.id)).await?;
    }
    Ok(Some(run.id))
}

pub(super) struct Held {
    pub station: Uuid,
    pub number: i64,
    pub version: i32,
    pub stage: Stage,
}

/// A run, held until the transaction ends.
pub(super) async fn hold(conn: &mut PgConnection, id: Uuid) -> Result<Held, StoreError> {
    let row = sqlx::query!(
        r#"select station_id, number, version, verdict, person_id, overridden_at is not null as "overridden!",
                  jsonb_path_exists(judgements, '$[*].missing[*]') as "incomplete!",
                  released_at is not null as "released!",
                  exists (select from run again where again.repeats = run.id) as "repeated!"
           from run where id = $1 for no key update"#,
        id
    )
    .fetch_optional(conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Run))?;
    let stage = Stage {
        verdict: word::value(row.verdict)?,
        incomplete: row.incomplete,
        ran_by: row.person_id,
        overridden: row.overridden,
        released: row.released,
        repeated: row.repeated,
    };
    Ok(Held { station: row.station_id, number: row.number, version: row.version, stage })
}

/// Releases a run: a person's act.
///
/// # Errors
/// When it is missing, has changed since `seen_version`, is settled, or is rejected and not
/// overridden.
#[compiled_once]
pub async fn release(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    person: Uuid,
    at: DateTime<Utc>,
) -> Result<RunView, StoreError> {
    let mut act = Act::begin(pool).await?;
    let held = hold(act.conn(), id).await?;
    held.stage.may_be_released(person)?;
    same_version(ObjectKind::Run, seen_version, held.version)?;
    sqlx::query!(
        "update run set released_at = $2, released_by = $3, version = version + 1 where id = $1",
        id,
        at,
        person
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"number": held.number, "verdict": held.stage.verdict, "overridden": held.stage.overridden});
    let deed = Deed::new(at, Some(person), Action::RunReleased, id, &detail);
    act.did(SITE_CHAIN, deed, News::Run { station: held.station });
    act.commit().await?;
    find(pool, person, id).await
}

/// Overrides the rejection of a run, with a reason; the verdict itself stays on record.
///
/// # Errors
/// As [`release`], when there is no rejection to override, or without a reason.
#[compiled_once]
pub async fn override_verdict(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    person: Uuid,
    at: DateTime<Utc>,
    because: &str,
) -> Result<RunView, StoreError> {
    let because = text("because", because)?;
    let mut act = Act::begin(pool).await?;
    let held = hold(act.conn(), id).await?;
    held.stage.may_be_overridden(person)?;
    same_version(ObjectKind::Run, seen_version, held.version)?;
    sqlx::query!(
        "update run set overridden_at = $2, overridden_by = $3, overridden_because = $4, version = version + 1
         where id = $1",
        id,
        at,
        person,
        because
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"number": held.number, "verdict": held.stage.verdict, "because": because});
    let deed = Deed::new(at, Some(person), Action::RunOverridden, id, &detail);
    act.did(SITE_CHAIN, deed, News::Run { station: held.station });
    act.commit().await?;
    find(pool, person, id).await
}
