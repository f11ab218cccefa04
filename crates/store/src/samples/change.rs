//! Correcting a sample, or withdrawing it. What it was before stays on record.

use chrono::{DateTime, Utc};
use quality::correction::may_change;
use quality::entry::{Accepted, Doubt, Tags, doubts};
use quality::field::text;
use quality::object::ObjectKind;
use quality::place::Place;
use quality::sample::{Content, Counts, Defects, Plotted, RareEvent, Readings};
use quality::signal::WithdrawnReason;
use quality::trail::{Action, Deed};
use quality::version::{self, same_version};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::PgPool;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use super::content::{columns, said};
use super::distance::{Next, renew};
use super::newest::newest_anew;
use super::usual::usual_now;
use crate::act::Act;
use crate::bench::{hold_levels_beside, judge_again};
use crate::characteristics::CharacteristicView;
use crate::judging::{Changed, judge};
use crate::news::News;
use crate::once::compiled_once;
use crate::people::Person;
use crate::phases::phases;
use crate::signals::Because;
use crate::{StoreError, sites};

/// What a change of a sample brought about.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Rejudged {
    pub sample: Uuid,
    /// Counts its changes.
    pub version: i32,
    /// How many signals were raised, marked late.
    pub raised: usize,
    /// How many signals no longer hold.
    pub withdrawn: usize,
}

/// An earlier content of a sample.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Correction {
    /// When it was corrected.
    pub at: DateTime<Utc>,
    /// Who did it.
    pub person: String,
    pub reason: String,
    /// What stood there before.
    #[schema(value_type = Object)]
    pub old: Value,
    /// What took its place.
    #[schema(value_type = Object)]
    pub new: Value,
}

/// Where a sample belongs.
#[derive(Debug, Clone, Copy)]
pub struct Found {
    pub characteristic: Uuid,
}

/// The sample with this id.
#[compiled_once]
pub async fn find(pool: &PgPool, sample: Uuid) -> Result<Found, StoreError> {
    sqlx::query_as!(Found, "select characteristic_id as characteristic from sample where id = $1", sample)
        .fetch_optional(pool)
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Sample))
}

/// All corrections of a sample, oldest first.
#[compiled_once]
pub async fn corrections(pool: &PgPool, sample: Uuid) -> Result<Vec<Correction>, StoreError> {
    Ok(sqlx::query_as!(
        Correction,
        "select c.at, p.name as person, c.reason, c.old, c.new from correction c join person p on p.id = c.person_id
         where c.sample_id = $1 order by c.at",
        sample
    )
    .fetch_all(pool)
    .await?)
}

struct Held {
    setup: CharacteristicView,
    number: i64,
    taken_at: DateTime<Utc>,
    readings: Option<Vec<Option<f64>>>,
    components: Vec<Option<f64>>,
    inspected: Option<i32>,
    defects: Json<Vec<Defects>>,
    event: bool,
    distance: Option<f64>,
    tags: Json<Tags>,
    doubts: Json<Vec<Doubt>>,
    version: i32,
    aside: bool,
    restart: bool,
    /// Time and number of the run that measured it.
    run: Option<(DateTime<Utc>, i64)>,
}

/// The sample, held with its characteristic until the transaction ends, if `person` may change it.
async fn hold(
    act: &mut Act,
    sample: Uuid,
    seen_version: i32,
    person: &Person,
    now: DateTime<Utc>,
) -> Result<Held, StoreError> {
    let characteristic = sqlx::query_scalar!("select characteristic_id from sample where id = $1", sample)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Sample))?;
    hold_levels_beside(act.conn(), characteristic).await?;
    let setup = act.take(characteristic).await?;
    let row = sqlx::query!(
        r#"select sample.number, sample.taken_at, sample.arrived_at, sample.person_id, readings as "readings: Vec<Option<f64>>",
                  components as "components: Vec<Option<f64>>", inspected, defects as "defects: Json<Vec<Defects>>",
                  event, distance, tags as "tags: Json<Tags>", doubts as "doubts: Json<Vec<Doubt>>", sample.version, gap as "gap!", aside, restart, run.taken_at as "run_at?",
                  run.number as "run_number?"
           from sample left join run on run.id = sample.run_id where sample.id = $1"#,
        sample
    )
    .fetch_one(act.conn())
    .await?;
    may_change(person.id, person.role, row.person_id, row.arrived_at, &sites::calendar(act.conn()).await?, now)?;
    same_version(ObjectKind::Sample, seen_version, row.version)?;
    if row.gap {
        return Err(version::Changed(ObjectKind::Sample).into());
    }
    Ok(Held {
        setup,
        number: row.number,
        taken_at: row.taken_at,
        readings: row.readings,
        components: row.components,
        inspected: row.inspected,
        defects: row.defects,
        event: row.event,
        distance: row.distance,
        tags: row.tags,
        doubts: row.doubts,
        version: row.version,
        aside: row.aside,
        restart: row.restart,
        run: row.run_at.zip(row.run_number),
    })
}

impl Held {
    fn content(&self) -> Content {
        match &self.readings {
            Some(values) => Content::Readings(Readings { values: values.clone(), components: self.components.clone() }),
            None if self.event => Content::Event(RareEvent { between: self.entered_distance() }),
            None => Content::Counts(Counts {
                inspected: self.inspected.map_or(0, i32::unsigned_abs),
                defects: self.defects.0.clone(),
            }),
        }
    }

    /// Units since the event before; hours are not entered, but found.
    fn entered_distance(&self) -> Option<f64> {
        self.distance.filter(|_| !self.setup.characteristic.asks_when())
    }

    /// What the trail says of it.
    fn said(&self) -> Value {
        said(&self.content(), &self.tags, &self.doubts)
    }

    /// Judges the sample as it is now, and ends the act.
    async fn finish(
        self,
        mut act: Act,
        sample: Uuid,
        plotted: Plotted,
        reason: WithdrawnReason,
        deed: Deed,
    ) -> Result<Rejudged, StoreError> {
        let (at, characteristic) = (deed.at, self.setup.id);
        let because = Because { reason, sample: Some(sample), person: None, at };
        let person = deed.person.unwrap_or_default();
        act.did(characteristic, deed, News::Sample { characteristic, added: None });
        let (number, taken_at) = (self.number, self.taken_at);
        let place = Place { aside: self.aside, restart: self.restart, ..Place::of(plotted) };
        let it = Changed { sample, number, taken_at, place, because, person, changed: true, beside: None };
        let phases = phases(act.conn(), characteristic).await?;
        let mut outcome = judge(&mut act, &self.setup, phases.clone(), it).await?;
        if reason == WithdrawnReason::Withdrawn && self.setup.characteristic.asks_when() {
            let (_, next) = renew(act.conn(), &self.setup, (taken_at, number)).await?;
            if let Some(Next { sample, number, taken_at, place }) = next {
                let it = Changed { sample, number, taken_at, place, because, person, changed: true, beside: None };
                let next = judge(&mut act, &self.setup, phases, it).await?;
                outcome.raised += next.raised;
                outcome.withdrawn += next.withdrawn;
            }
        }
        if let Some((taken_at, number)) = self.run {
            let station = self.setup.station_id;
            if let Some(analyte) = self.setup.analyte {
                judge_again(&mut act, station, analyte, (taken_at, number), because).await?;
            }
            // Who reviewed the run has not seen it as it is now, whatever that does to its verdict.
            sqlx::query!(
                "update run set version = version + 1 where id = (select run_id from sample where id = $1)",
                sample
            )
            .execute(act.conn())
            .await?;
            act.tell(News::Run { station });
        }
        act.commit().await?;
        let version = self.version + 1;
        Ok(Rejudged { sample, version, raised: outcome.raised, withdrawn: outcome.withdrawn })
    }
}

/// Corrects what a sample recorded, and judges again the points whose rule windows hold it.
///
/// # Errors
/// When the sample is missing, has changed since `seen_version`, may not be changed by `person`, or
/// the reason is missing.
#[compiled_once]
pub async fn correct(
    pool: &PgPool,
    sample: Uuid,
    seen_version: i32,
    person: &Person,
    now: DateTime<Utc>,
    accepted: &Accepted,
    reason: &str,
) -> Result<Rejudged, StoreError> {
    correct_by_table(pool, (sample, seen_version), (person, now), (accepted, None), reason).await
}

/// Corrects a sample that came from a row of a table, which says something else now; `digest` is that of its cells.
#[compiled_once]
pub(crate) async fn correct_by_table(
    pool: &PgPool,
    (sample, seen_version): (Uuid, i32),
    (person, now): (&Person, DateTime<Utc>),
    (accepted, digest): (&Accepted, Option<&[u8]>),
    reason: &str,
) -> Result<Rejudged, StoreError> {
    let reason = text("reason", reason)?;
    let mut act = Act::begin(pool).await?;
    let held = hold(&mut act, sample, seen_version, person, now).await?;
    let Accepted { content, typed_first, .. } = accepted;
    let phases = phases(act.conn(), held.setup.id).await?;
    let usual = usual_now(act.conn(), &held.setup, &phases).await?;
    let doubts = doubts(&held.setup.characteristic, &usual, (content, &accepted.tags), typed_first);
    let mut tags = accepted.tags.clone();
    tags.extend(held.tags.get_key_value("shift").map(|(name, shift)| (name.clone(), shift.clone())));
    let (old, new) = (held.said(), said(content, &tags, &doubts));
    let columns = columns(content)?;
    sqlx::query!(
        "update sample set readings = $2, components = $3, inspected = $4, count = $5, defects = $6, tags = $7,
             doubts = $8, distance = coalesce($9, distance), version = version + 1,
             source_digest = coalesce($10, source_digest)
         where id = $1",
        sample,
        columns.readings as Option<Vec<Option<f64>>>,
        columns.components as Vec<Option<f64>>,
        columns.inspected,
        columns.count,
        columns.defects,
        serde_json::to_value(&tags)?,
        serde_json::to_value(&doubts)?,
        columns.distance,
        digest
    )
    .execute(act.conn())
    .await?;
    sqlx::query!(
        "insert into correction (id, sample_id, at, person_id, reason, old, new) values ($1, $2, $3, $4, $5, $6, $7)",
        Uuid::new_v4(),
        sample,
        now,
        person.id,
        reason,
        old,
        new
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"number": held.number, "old": old, "new": new, "reason": reason});
    let deed = Deed::new(now, Some(person.id), Action::SampleCorrected, sample, &detail);
    let plotted = match content {
        Content::Event(_) if held.setup.characteristic.asks_when() => Plotted::Between(held.distance),
        content => content.plotted(held.setup.characteristic.part(&tags)),
    };
    held.finish(act, sample, plotted, WithdrawnReason::Corrected, deed).await
}

/// Withdraws a sample: its place stays as a gap, with the reason.
///
/// # Errors
/// As [`correct`].
#[compiled_once]
pub async fn withdraw(
    pool: &PgPool,
    sample: Uuid,
    seen_version: i32,
    person: &Person,
    now: DateTime<Utc>,
    reason: &str,
) -> Result<Rejudged, StoreError> {
    let reason = text("reason", reason)?;
    let mut act = Act::begin(pool).await?;
    let held = hold(&mut act, sample, seen_version, person, now).await?;
    sqlx::query!(
        "update sample set withdrawn_at = $2, withdrawn_by = $3, withdrawn_because = $4, version = version + 1
         where id = $1",
        sample,
        now,
        person.id,
        reason
    )
    .execute(act.conn())
    .await?;
    newest_anew(act.conn(), held.setup.id).await?;
    let old = held.said();
    let detail = json!({"number": held.number, "old": old, "reason": reason});
    let deed = Deed::new(now, Some(person.id), Action::SampleWithdrawn, sample, &detail);
    let gap = Plotted::gap(held.setup.characteristic.kind);
    held.finish(act, sample, gap, WithdrawnReason::Withdrawn, deed).await
}
