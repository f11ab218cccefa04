//! Saving a sample, or that one was skipped.

use std::sync::Arc;

use chrono::{DateTime, SubsecRound, Utc};
use quality::characteristic::Characteristic;
use quality::entry::{Accepted, Doubt, Tags, Usual, doubts};
use quality::object::ObjectKind;
use quality::place::Place;
use quality::run::RunRefusal;
use quality::sample::{Content, Plotted};
use quality::shift::Turn;
use quality::signal::WithdrawnReason;
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::distance::{Next, is_taken, renew};
use super::set_up::{self, SetUp};
use super::usual::usual_now;
use crate::act::Act;
use crate::judging::{Changed, Outcome, judge};
use crate::news::News;
use crate::once::compiled_once;
use crate::signals::Because;
use crate::{StoreError, limits};

/// A sample to save; what it holds has been accepted.
#[derive(Debug, Clone)]
pub struct NewSample {
    /// What was sampled.
    pub characteristic: Uuid,
    /// The device it was entered on.
    pub device: Uuid,
    /// Made by the device; saving it twice keeps one sample.
    pub entry: Uuid,
    /// When the sample was taken.
    pub taken_at: DateTime<Utc>,
    /// When it reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Who entered it.
    pub person: Uuid,
    /// What came of the visit.
    pub visit: Visit,
}

/// What came of going there.
#[derive(Debug, Clone, PartialEq)]
pub enum Visit {
    /// A sample was taken. The shift is added to its tags, from the calendar.
    Taken(Accepted),
    /// None was taken, for a reason: a gap.
    Skipped {
        /// The reason.
        because: String,
    },
}

/// A saved sample.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Saved {
    /// Identity of the sample.
    pub sample: Uuid,
    /// Its number within the characteristic.
    pub number: i64,
    /// It had been saved before by the same entry id; nothing was stored twice.
    pub again: bool,
    /// Episodes that ask since it was saved.
    pub asking: Vec<Uuid>,
    /// A pattern that is known goes on with it.
    pub goes_on: bool,
}

/// A sample is entered: its characteristic is held, and what it holds can be checked.
pub struct Entering {
    act: Act,
    saving: Saving,
}

impl Entering {
    /// Holds the characteristic until the sample is saved, or refused.
    ///
    /// # Errors
    /// When it is missing.
    #[compiled_once]
    pub async fn begin(pool: &PgPool, characteristic: Uuid) -> Result<Self, StoreError> {
        let mut act = Act::begin(pool).await?;
        let saving = Saving::begin(&mut act, characteristic).await?;
        Ok(Self { act, saving })
    }

    /// What it is checked by.
    pub fn checks(&self) -> (&Characteristic, &Usual) {
        (&self.saving.set_up.setup.characteristic, &self.saving.usual)
    }

    /// Saves it and judges it against the limits that hold at its time.
    ///
    /// # Errors
    /// When the characteristic is a level, or the entry id was used for another sample.
    #[compiled_once]
    pub async fn save(mut self, new: &NewSample) -> Result<Saved, StoreError> {
        let saved = self.saving.save(&mut self.act, new, None).await?;
        if !saved.again {
            self.act.commit().await?;
        }
        Ok(saved)
    }
}

/// Saves a sample that was checked.
///
/// # Errors
/// When the characteristic is missing or a level, or the entry id was used for another sample.
#[compiled_once]
pub async fn save(pool: &PgPool, new: &NewSample) -> Result<Saved, StoreError> {
    Entering::begin(pool, new.characteristic).await?.save(new).await
}

/// Saves a sample within an act; of a level, in its run.
pub(crate) async fn save_in(act: &mut Act, new: &NewSample, run: Option<Uuid>) -> Result<Saved, StoreError> {
    Saving::begin(act, new.characteristic).await?.save(act, new, run).await
}

/// Samples of one characteristic that are saved in one act. It is held meanwhile, so what each of them is
/// judged by is read once.
pub(crate) struct Saving {
    set_up: Arc<SetUp>,
    usual: Usual,
}

impl Saving {
    /// Takes the characteristic, until the act ends.
    pub(crate) async fn begin(act: &mut Act, characteristic: Uuid) -> Result<Self, StoreError> {
        let set_up = set_up::take(act, characteristic).await?;
        let usual = usual_now(act.conn(), &set_up.setup, &set_up.phases).await?;
        Ok(Self { set_up, usual })
    }

    /// Saves a sample and judges it. What is refused leaves the transaction whole.
    pub(crate) async fn save(&self, act: &mut Act, new: &NewSample, run: Option<Uuid>) -> Result<Saved, StoreError> {
        // The database keeps microseconds; what is compared and hashed must be what is kept.
        let new = &NewSample { taken_at: new.taken_at.trunc_subsecs(6), ..new.clone() };
        let SetUp { setup, calendar, phases } = &*self.set_up;
        let taken = matches!(new.visit, Visit::Taken(_));
        let (in_a_run, by_time) = (setup.analyte.is_some(), setup.characteristic.asks_when());
        if taken && (in_a_run != run.is_some() || by_time) {
            // What was saved before is not refused.
            if let Some(saved) = saved_before(act.conn(), new).await? {
                return Ok(saved);
            }
            if in_a_run != run.is_some() {
                return Err(RunRefusal::InARun.into());
            }
            if is_taken(act.conn(), new.characteristic, new.taken_at).await? {
                return Err(StoreError::EventThere);
            }
        }
        let id = Uuid::new_v4();
        let turn = calendar.at(new.taken_at);
        let doubts = match &new.visit {
            Visit::Taken(Accepted { content, tags, typed_first }) => {
                doubts(&setup.characteristic, &self.usual, (content, tags), typed_first)
            }
            Visit::Skipped { .. } => vec![],
        };
        let Some(inserted) = insert(act.conn(), id, new, (turn, &doubts), run).await? else {
            return saved_before(act.conn(), new).await?.ok_or(StoreError::Missing(ObjectKind::Sample));
        };
        let Inserted { number, begins_afresh } = inserted;
        let characteristic = setup.id;
        act.did(characteristic, saved_deed(id, number, new, &doubts), News::Sample { characteristic, added: None });
        if begins_afresh {
            limits::begins_afresh(act, characteristic, (id, (new.taken_at, number)), new.arrived_at).await?;
        }
        let (taken_at, person) = (new.taken_at, new.person);
        let mut next = None;
        let place = match &new.visit {
            Visit::Taken(_) if by_time => {
                let (hours, after) = renew(act.conn(), setup, (taken_at, number)).await?;
                next = after;
                Place::of(Plotted::Between(hours))
            }
            Visit::Taken(Accepted { content, tags, .. }) => Place::of(content.plotted(setup.characteristic.part(tags))),
            // No moving range reaches over a gap, so one that comes in late changes what was found.
            Visit::Skipped { .. } => Place::gap(setup.characteristic.kind),
        };
        let place = Place { restart: begins_afresh, ..place };
        let because = Because { reason: WithdrawnReason::Late, sample: Some(id), person: None, at: new.arrived_at };
        let it = Changed { sample: id, number, taken_at, place, because, person, changed: false };
        let Outcome { mut asking, goes_on, alone, .. } = judge(act, setup, phases.clone(), it).await?;
        if alone && next.is_none() && !begins_afresh {
            act.added(characteristic, number);
        }
        if let Some(Next { sample, number, taken_at, place }) = next {
            let it = Changed { sample, number, taken_at, place, because, person, changed: true };
            asking.extend(judge(act, setup, phases.clone(), it).await?.asking);
        }
        Ok(Saved { sample: id, number, again: false, asking, goes_on })
    }
}

fn saved_deed(id: Uuid, number: i64, new: &NewSample, doubts: &[Doubt]) -> Deed {
    let (action, what) = match &new.visit {
        Visit::Taken(Accepted { content, tags, .. }) => (Action::SampleSaved, said(content, tags, doubts)),
        Visit::Skipped { because } => (Action::SampleSkipped, json!({"because": because})),
    };
    let mut detail = json!({"number": number, "taken_at": new.taken_at, "device": new.device, "entry": new.entry});
    if let (Value::Object(detail), Value::Object(what)) = (&mut detail, what) {
        detail.extend(what);
    }
    Deed::new(new.arrived_at, Some(new.person), action, id, &detail)
}

/// What the trail says about the content of a sample.
pub(crate) fn said(content: &Content, tags: &Tags, doubts: &[Doubt]) -> Value {
    let mut said = match content {
        Content::Readings(r) if r.components.is_empty() => json!({"readings": r.values, "tags": tags}),
        Content::Readings(r) => json!({"readings": r.values, "components": r.components, "tags": tags}),
        Content::Counts(c) => {
            json!({"inspected": c.inspected, "count": c.count(), "defects": c.defects, "tags": tags})
        }
        Content::Event(e) => match e.between {
            Some(between) => json!({"event": true, "between": between, "tags": tags}),
            // How far it lies from the event before changes with what comes late; its time says all.
            None => json!({"event": true, "tags": tags}),
        },
    };
    if !doubts.is_empty() {
        said["doubts"] = json!(doubts);
    }
    said
}

/// A sample's content as its columns hold it.
pub(crate) struct Columns {
    pub readings: Option<Vec<Option<f64>>>,
    pub components: Vec<Option<f64>>,
    pub inspected: Option<i32>,
    pub count: Option<i32>,
    pub defects: Value,
    pub event: bool,
    pub distance: Option<f64>,
}

impl Default for Columns {
    fn default() -> Self {
        let (readings, inspected, count, distance) = (None, None, None, None);
        Self { readings, components: vec![], inspected, count, defects: json!([]), event: false, distance }
    }
}

pub(crate) fn columns(content: &Content) -> Result<Columns, StoreError> {
    let whole = |n: u32| i32::try_from(n).unwrap_or(i32::MAX);
    Ok(match content {
        Content::Readings(r) => {
            Columns { readings: Some(r.values.clone()), components: r.components.clone(), ..Columns::default() }
        }
        Content::Counts(c) => Columns {
            inspected: Some(whole(c.inspected)),
            count: Some(whole(c.count())),
            defects: serde_json::to_value(&c.defects)?,
            ..Columns::default()
        },
        Content::Event(e) => Columns { event: true, distance: e.between, ..Columns::default() },
    })
}

/// What the database says of a sample that was inserted.
struct Inserted {
    number: i64,
    /// It is the first after a correction of the process, as far as has been told.
    begins_afresh: bool,
}

/// Inserts the sample under the next number of its characteristic; nothing where its entry was saved before.
async fn insert(
    conn: &mut PgConnection,
    id: Uuid,
    new: &NewSample,
    (turn, doubts): (Option<Turn>, &[Doubt]),
    run: Option<Uuid>,
) -> Result<Option<Inserted>, StoreError> {
    let (columns, mut tags, because) = match &new.visit {
        Visit::Taken(Accepted { content, tags, .. }) => (columns(content)?, tags.clone(), None),
        Visit::Skipped { because } => (Columns::default(), Tags::default(), Some(because)),
    };
    if let Some(turn) = turn {
        tags.insert("shift".into(), turn.name);
    }
    sqlx::query_as!(
        Inserted,
        r#"with head as (
             update sample_head h set next_number = next_number + 1, newest_at = greatest(newest_at, $5),
                 newest_pieces = case when newest_at > $5 then newest_pieces else s.pieces_made end
             from characteristic c join station s on s.id = c.station_id
             where h.characteristic_id = $2 and c.id = $2
                 and not exists (select from sample where device = $3 and entry = $4)
             returning next_number - 1 as number, s.pieces_made)
         insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings,
             components, inspected, count, defects, tags, pieces_made, skipped_because, run_id, doubts, event, distance)
         select $1, $2, head.number, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, head.pieces_made, $14, $15, $16, $17, $18
         from head
         returning number, coalesce((
             -- The last correction before it says it: others before it have their restart there or earlier.
             select p.starts_at is null or p.starts_at > $5 from planned_restart p
             where p.characteristic_id = $2 and p.corrected_at < $5 and not p.dropped
             order by p.corrected_at desc limit 1), false) as "begins_afresh!""#,
        id,
        new.characteristic,
        new.device,
        new.entry,
        new.taken_at,
        new.arrived_at,
        new.person,
        columns.readings as Option<Vec<Option<f64>>>,
        columns.components as Vec<Option<f64>>,
        columns.inspected,
        columns.count,
        columns.defects,
        serde_json::to_value(tags)?,
        because,
        run,
        serde_json::to_value(doubts)?,
        columns.event,
        columns.distance
    )
    .fetch_optional(conn)
    .await
    .map_err(|error| {
        // The same entry id at the same moment on another characteristic.
        StoreError::of_constraint(error, |name| (name == "sample_entry_once").then_some(StoreError::EntryReused))
    })
}

/// The sample that this entry id was saved as, with the episodes that ask since.
async fn saved_before(conn: &mut PgConnection, new: &NewSample) -> Result<Option<Saved>, StoreError> {
    let Some(row) = sqlx::query!(
        r#"select s.id, number, characteristic_id, taken_at, skipped_because, inspected, defects, event, distance,
                  readings as "readings: Vec<Option<f64>>", components as "components: Vec<Option<f64>>",
                  c.old as "corrected_from?"
           from sample s
           left join lateral (select old from correction where sample_id = s.id order by at limit 1) c on true
           where device = $1 and entry = $2"#,
        new.device,
        new.entry
    )
    .fetch_optional(&mut *conn)
    .await?
    else {
        return Ok(None);
    };
    let same = match (&new.visit, row.corrected_from) {
        (Visit::Skipped { because }, _) => row.skipped_because.as_ref() == Some(because),
        // It was corrected since: what counts is what it said at first.
        (Visit::Taken(Accepted { content, tags, .. }), Some(first)) => {
            let given = said(content, tags, &[]);
            ["readings", "components", "inspected", "defects", "between"]
                .iter()
                .all(|part| given.get(part) == first.get(part))
        }
        (Visit::Taken(Accepted { content, .. }), None) => {
            let given = columns(content)?;
            given.readings == row.readings
                && given.components == row.components
                && given.inspected == row.inspected
                && given.defects == row.defects
                && given.event == row.event
                && (given.distance.is_none() || given.distance == row.distance)
        }
    };
    if row.characteristic_id != new.characteristic || !same {
        return Err(StoreError::EntryReused);
    }
    let touching = sqlx::query!(
        r#"select distinct e.id, e.state in ('open', 'sent_back') as "asks!", g.at_sample = $3 as "began!"
           from signal g join episode e on e.id = g.episode_id
           where g.characteristic_id = $1 and g.to_taken_at >= $2 and g.withdrawn_at is null
             and (g.at_sample = $3 or g.to_sample = $3)"#,
        new.characteristic,
        row.taken_at,
        row.id
    );
    let touching = touching.fetch_all(conn).await?;
    let asking: Vec<Uuid> = touching.iter().filter(|e| e.asks && e.began).map(|e| e.id).collect();
    let goes_on = asking.is_empty() && !touching.is_empty();
    Ok(Some(Saved { sample: row.id, number: row.number, again: true, asking, goes_on }))
}
