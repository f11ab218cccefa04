//! Answer and review. Who acts names the version that was seen; a second person who acts on the
//! same version is refused and nothing is overwritten.

use chrono::{DateTime, Utc};
use quality::field::optional_text;
use quality::object::ObjectKind;
use quality::signal::{Answer, Decision, SignalState, Stage};
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use crate::act::Act;
use crate::news::News;
use crate::{StoreError, word};

struct Held {
    characteristic: Uuid,
    stage: Stage,
}

/// The signal, held until the transaction ends.
async fn hold(conn: &mut PgConnection, signal: Uuid) -> Result<Held, StoreError> {
    let row = sqlx::query!(
        "select characteristic_id, state, version, answered_by, cleared_by from signal where id = $1 for update",
        signal
    )
    .fetch_optional(conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Signal))?;
    let (state, version) = (word::value(row.state)?, row.version);
    let stage = Stage { state, version, answered_by: row.answered_by, cleared_by: row.cleared_by };
    Ok(Held { characteristic: row.characteristic_id, stage })
}

async fn step(
    act: &mut Act,
    signal: Uuid,
    held: &Held,
    state: SignalState,
    answered_by: Option<Uuid>,
    deed: Deed,
) -> Result<(), StoreError> {
    sqlx::query!(
        "update signal set state = $2, answered_by = $3, version = version + 1 where id = $1",
        signal,
        word::word(state)?,
        answered_by
    )
    .execute(act.conn())
    .await?;
    let characteristic = held.characteristic;
    act.did(characteristic, deed, News::Signal { characteristic, signal });
    Ok(())
}

/// Keeps what a person says about a signal.
///
/// # Errors
/// When the signal is missing, has changed since `seen_version`, is not open, or the answer is
/// incomplete.
pub async fn answer(
    pool: &PgPool,
    signal: Uuid,
    seen_version: i32,
    person: Uuid,
    at: DateTime<Utc>,
    given: Answer,
) -> Result<(), StoreError> {
    let given = given.check()?;
    let mut act = Act::begin(pool).await?;
    let held = hold(act.conn(), signal).await?;
    let state = held.stage.answered(seen_version)?;
    let cause = match given.cause {
        Some(cause) => Some(
            sqlx::query_scalar!("select name from cause where id = $1", cause)
                .fetch_optional(act.conn())
                .await?
                .ok_or(StoreError::Missing(ObjectKind::Cause))?,
        ),
        None => given.cause_text.clone(),
    };
    sqlx::query!(
        "insert into answer (id, signal_id, person_id, at, cause_id, cause_text, nothing_found, action)
         values ($1, $2, $3, $4, $5, $6, $7, $8)",
        Uuid::new_v4(),
        signal,
        person,
        at,
        given.cause,
        given.cause_text,
        given.nothing_found,
        given.action
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"old": {"state": held.stage.state}, "new": {"state": state},
                        "cause": cause, "nothing_found": given.nothing_found, "action": given.action});
    let deed = Deed::new(at, Some(person), Action::SignalAnswered, signal, &detail);
    step(&mut act, signal, &held, state, Some(person), deed).await?;
    act.commit().await
}

/// Keeps a reviewer's decision on the standing answer.
///
/// # Errors
/// When the signal is missing, has changed since `seen_version`, has no answer to review, was
/// answered by the reviewer, or the decision needs a remark and has none.
pub async fn review(
    pool: &PgPool,
    signal: Uuid,
    seen_version: i32,
    person: Uuid,
    at: DateTime<Utc>,
    decision: Decision,
    remark: Option<&str>,
) -> Result<(), StoreError> {
    let remark = optional_text("remark", remark)?;
    let mut act = Act::begin(pool).await?;
    let held = hold(act.conn(), signal).await?;
    let state = held.stage.reviewed(seen_version, person, decision, remark.as_deref())?;
    sqlx::query!(
        "insert into review (id, signal_id, answer_id, answered_by, person_id, at, decision, remark)
         -- What somebody made go away before anybody answered is reviewed without an answer.
         select $1, $2, a.id, coalesce(a.person_id, $7), $3, $4, $5, $6
         from (select) one left join lateral
              (select id, person_id from answer where signal_id = $2 order by at desc limit 1) a on true",
        Uuid::new_v4(),
        signal,
        person,
        at,
        word::word(decision)?,
        remark,
        held.stage.answered_by
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"old": {"state": held.stage.state}, "new": {"state": state},
                        "decision": decision, "remark": remark});
    let deed = Deed::new(at, Some(person), Action::SignalReviewed, signal, &detail);
    // What was sent back waits for a new answer, from whoever gives it.
    let answered_by = held.stage.answered_by.filter(|_| decision != Decision::SentBack);
    step(&mut act, signal, &held, state, answered_by, deed).await?;
    act.commit().await
}
