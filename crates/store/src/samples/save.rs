//! Saving a sample, or that one was skipped.

use std::sync::Arc;

use chrono::SubsecRound;
use quality::characteristic::Characteristic;
use quality::entry::{Accepted, Doubt, Usual, doubts};
use quality::object::ObjectKind;
use quality::place::Place;
use quality::run::RunRefusal;
use quality::sample::Plotted;
use quality::signal::WithdrawnReason;
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::content::{columns, said};
use super::distance::{Next, is_taken, renew};
use super::insert::{Inserted, insert};
use super::new::{NewSample, Visit};
use super::set_up::{self, SetUp};
use super::usual::usual_now;
use crate::act::Act;
use crate::judging::{AT_ONCE, Changed, Outcome, judge};
use crate::news::News;
use crate::once::compiled_once;
use crate::phases::holding;
use crate::series::Stretch;
use crate::signals::Because;
use crate::{StoreError, limits};

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
        let schemes = setup.schemes();
        let held = holding(phases, new.taken_at);
        let stretch = Stretch::of_phase(setup, &schemes, phases, held);
        // Where there are no limits nothing is judged, and nothing read.
        let most = phases
            .get(held)
            .map_or((0, 0), |phase| stretch.usually_beside(schemes.holding(new.taken_at), phase.hold(), AT_ONCE));
        let Some(inserted) = insert(act.conn(), id, new, (turn, &doubts), run, (&stretch, most)).await? else {
            return saved_before(act.conn(), new).await?.ok_or(StoreError::Missing(ObjectKind::Sample));
        };
        let Inserted { number, begins_afresh, beside } = inserted;
        // What the sample changes beside it is read anew: how far the next event lies away, and where rules start afresh.
        let beside = (!by_time && !begins_afresh).then_some(beside);
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
        let it = Changed { sample: id, number, taken_at, place, because, person, changed: false, beside };
        let Outcome { mut asking, goes_on, alone, .. } = judge(act, setup, phases.clone(), it).await?;
        if alone && next.is_none() && !begins_afresh {
            act.added(characteristic, number);
        }
        if let Some(Next { sample, number, taken_at, place }) = next {
            let it = Changed { sample, number, taken_at, place, because, person, changed: true, beside: None };
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
