//! Answers: what was found behind an episode.

use chrono::{DateTime, SubsecRound, Utc};
use quality::episode::Answer;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use crate::act::Act;
use crate::episodes::{Held, hold, step_taken};
use crate::files::{self, Of};
use crate::limits::{Correction, plan_restart};
use crate::once::compiled_once;
use crate::{StoreError, causes};

/// Who says something, and when.
#[derive(Debug, Clone, Copy)]
pub struct By {
    pub person: Uuid,
    /// When it was said.
    pub at: DateTime<Utc>,
    /// When that reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Made by the device; saying it twice keeps it once.
    pub entry: Option<Uuid>,
}

impl By {
    /// Said here and now.
    pub fn at(person: Uuid, at: DateTime<Utc>) -> Self {
        Self { person, at, arrived_at: at, entry: None }
    }

    /// As the database keeps it, which is to the microsecond.
    pub(super) fn kept(self) -> Self {
        let at = self.at.min(self.arrived_at).trunc_subsecs(6);
        Self { at, arrived_at: self.arrived_at.trunc_subsecs(6), ..self }
    }

    /// When it reached the server, where that was later.
    pub(super) fn came_later(&self) -> Option<DateTime<Utc>> {
        Some(self.arrived_at).filter(|arrived_at| *arrived_at > self.at)
    }
}

/// Keeps what a person says about an episode: for those of its signals that wait for an answer.
///
/// # Errors
/// When it is missing, has changed since `seen_version`, waits for no answer, or the answer is incomplete.
#[compiled_once]
pub async fn answer(
    pool: &PgPool,
    episode: Uuid,
    seen_version: i32,
    by: By,
    given: Answer,
) -> Result<Uuid, StoreError> {
    let (given, by) = (given.check()?, by.kept());
    let mut act = Act::begin(pool).await?;
    let held = hold(&mut act, episode).await?;
    if let Some(before) = answered_before(act.conn(), &held, by).await? {
        return Ok(before);
    }
    let state = held.stage.answered(seen_version)?;
    let cause = causes::named(&mut act, held.characteristic, &given, (by.person, by.arrived_at)).await?;
    let id = Uuid::new_v4();
    let cause_text = given.cause_text.as_deref().filter(|_| cause.id.is_none());
    sqlx::query!(
        "insert into answer (id, person_id, at, arrived_at, entry, cause_id, cause_text, nothing_found, action, comment,
             steps, held, corrected)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)",
        id,
        by.person,
        by.at,
        by.came_later(),
        by.entry,
        cause.id,
        cause_text,
        given.nothing_found,
        given.action,
        given.comment,
        &given.steps,
        given.held,
        given.corrected
    )
    .execute(act.conn())
    .await?;
    let files = files::give(&mut act, &given.files, by.person, Of::Answer(id)).await?;
    let signals = sqlx::query_scalar!(
        r#"with answered as (
               update signal set state = 'answered', answered_by = $3
               where episode_id = $1 and withdrawn_at is null and state in ('open', 'sent_back', 'found_late')
               returning id)
           insert into answer_of (answer_id, signal_id) select $2, id from answered returning signal_id"#,
        held.id,
        id,
        by.person
    )
    .fetch_all(act.conn())
    .await?;
    let deed = |signals: &[Uuid]| {
        let detail = json!({"answer": id, "signals": signals, "old": {"state": held.stage.state}, "new": {"state": state},
                        "cause": cause.name, "nothing_found": given.nothing_found, "action": given.action,
                        "comment": given.comment, "steps": given.steps, "held": given.held,
                        "corrected": given.corrected, "files": files, "at": by.at});
        Deed::new(by.arrived_at, Some(by.person), Action::EpisodeAnswered, held.id, &detail)
    };
    step_taken(&mut act, &held, &signals, deed).await?;
    if given.corrected {
        let corrected_at = not_before_the_finding(act.conn(), id, by.at).await?;
        let correction = Correction { answer: id, corrected_at, what: given.action };
        plan_restart(&mut act, held.characteristic, &correction, (by.person, by.arrived_at)).await?;
    }
    act.commit().await?;
    Ok(held.id)
}

/// The episode that this entry was kept for.
///
/// # Errors
/// When it was used for another.
async fn answered_before(conn: &mut PgConnection, held: &Held, by: By) -> Result<Option<Uuid>, StoreError> {
    let before = sqlx::query!(
        r#"select a.person_id, exists (select from answer_of o join signal g on g.id = o.signal_id
               where o.answer_id = a.id and g.characteristic_id in (
                   select characteristic_id from signal where episode_id = $2)) as "here!"
           from answer a where entry = $1"#,
        by.entry,
        held.id
    );
    match before.fetch_optional(conn).await? {
        None => Ok(None),
        Some(before) if before.here && before.person_id == by.person => Ok(Some(held.id)),
        Some(_) => Err(StoreError::EntryReused),
    }
}

/// When a process was corrected: a device whose clock is behind does not undo what the correction answers.
async fn not_before_the_finding(
    conn: &mut PgConnection,
    answer: Uuid,
    at: DateTime<Utc>,
) -> Result<DateTime<Utc>, StoreError> {
    let found = sqlx::query_scalar!(
        r#"select min(g.at_taken_at) as "at" from answer_of o join signal g on g.id = o.signal_id where o.answer_id = $1"#,
        answer
    );
    Ok(found.fetch_one(conn).await?.map_or(at, |found| found.max(at)))
}
