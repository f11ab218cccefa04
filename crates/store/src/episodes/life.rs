//! Answer and review. Who acts names the version that was seen; a second person who acts on the same version is
//! refused and nothing is overwritten. What is said is kept for each signal that it was said of.

use chrono::{DateTime, Utc};
use quality::episode::{Answer, Decision, EpisodeRefusal};
use quality::field::optional_text;
use quality::object::ObjectKind;
use quality::signal::SignalState;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use super::settle::in_line;
use super::stage::{Held, hold};
use crate::act::Act;
use crate::news::News;
use crate::{StoreError, word};

/// Keeps what a person says about an episode: for those of its signals that wait for an answer.
///
/// # Errors
/// When it is missing, has changed since `seen_version`, waits for no answer, or the answer is incomplete.
pub async fn answer(
    pool: &PgPool,
    episode: Uuid,
    seen_version: i32,
    person: Uuid,
    at: DateTime<Utc>,
    given: Answer,
) -> Result<Uuid, StoreError> {
    let given = given.check()?;
    let mut act = Act::begin(pool).await?;
    let held = hold(&mut act, episode).await?;
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
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into answer (id, person_id, at, cause_id, cause_text, nothing_found, action, comment, steps, held)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)",
        id,
        person,
        at,
        given.cause,
        given.cause_text,
        given.nothing_found,
        given.action,
        given.comment,
        &given.steps,
        given.held
    )
    .execute(act.conn())
    .await?;
    let signals = sqlx::query_scalar!(
        r#"with answered as (
               update signal set state = 'answered', answered_by = $3
               where episode_id = $1 and withdrawn_at is null and state in ('open', 'sent_back', 'found_late')
               returning id)
           insert into answer_of (answer_id, signal_id) select $2, id from answered returning signal_id"#,
        held.id,
        id,
        person
    )
    .fetch_all(act.conn())
    .await?;
    let detail = json!({"answer": id, "signals": signals, "old": {"state": held.stage.state}, "new": {"state": state},
                        "cause": cause, "nothing_found": given.nothing_found, "action": given.action,
                        "comment": given.comment, "steps": given.steps, "held": given.held});
    end(&mut act, &held, Deed::new(at, Some(person), Action::EpisodeAnswered, held.id, &detail)).await?;
    act.commit().await?;
    Ok(held.id)
}

/// A reviewer's decision.
#[derive(Debug, Clone)]
pub struct NewReview {
    pub person: Uuid,
    pub at: DateTime<Utc>,
    pub decision: Decision,
    /// Reason or question.
    pub remark: Option<String>,
}

/// Keeps a reviewer's decision on what stands: the answers, what somebody made go away, or what was found late.
///
/// # Errors
/// When the episode is missing, has changed since `seen_version`, has nothing to review, is the reviewer's own in any
/// way, or the decision needs a remark and has none.
pub async fn review(pool: &PgPool, episode: Uuid, seen_version: i32, new: &NewReview) -> Result<Uuid, StoreError> {
    let mut act = Act::begin(pool).await?;
    let episode = review_in(&mut act, (episode, seen_version), new).await?;
    act.commit().await?;
    Ok(episode)
}

/// Keeps one decision on many episodes, each seen in its version, in one act. Those that refuse it are left as they
/// are, and named with the reason.
///
/// # Errors
/// When the database fails; nothing is kept then.
pub async fn review_many(
    pool: &PgPool,
    episodes: &[(Uuid, i32)],
    new: &NewReview,
) -> Result<Vec<(Uuid, StoreError)>, StoreError> {
    let ids: Vec<Uuid> = episodes.iter().map(|(id, _)| *id).collect();
    // Everybody takes characteristics in the same order, so that nobody waits in a circle.
    let order = sqlx::query_scalar!("select id from episode where id = any($1) order by characteristic_id, id", &ids);
    let order = order.fetch_all(pool).await?;
    let mut act = Act::begin(pool).await?;
    let known = |id: &Uuid| order.contains(id);
    let missing = episodes.iter().filter(|(id, _)| !known(id));
    let mut refused: Vec<(Uuid, StoreError)> =
        missing.map(|(id, _)| (*id, StoreError::Missing(ObjectKind::Episode))).collect();
    let mut kept = 0;
    for id in order {
        let Some(seen) = episodes.iter().find(|(of, _)| *of == id) else { continue };
        match review_in(&mut act, *seen, new).await {
            Ok(_) => kept += 1,
            Err(why @ (StoreError::Episode(_) | StoreError::Missing(_))) => refused.push((id, why)),
            Err(error) => return Err(error),
        }
    }
    if kept > 0 {
        act.commit().await?;
    }
    Ok(refused)
}

/// Nothing is written where it is refused.
async fn review_in(act: &mut Act, (episode, seen_version): (Uuid, i32), new: &NewReview) -> Result<Uuid, StoreError> {
    let NewReview { person, at, decision, .. } = *new;
    let remark = optional_text("remark", new.remark.as_deref()).map_err(EpisodeRefusal::from)?;
    let held = hold(act, episode).await?;
    let state = held.stage.reviewed(seen_version, person, decision, remark.as_deref())?;
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into review (id, person_id, at, decision, remark) values ($1, $2, $3, $4, $5)",
        id,
        person,
        at,
        word::word(decision)?,
        remark
    )
    .execute(act.conn())
    .await?;
    let signals = sqlx::query_scalar!(
        r#"with reviewed as (
               select g.id, g.answered_by from signal g
               where g.episode_id = $1 and g.state in ('answered', 'found_late')
                 -- An answer beside what was found late is not just seen.
                 and ($5 <> 'seen' or g.state = 'found_late')
                 -- What holds no more asks nobody again; what was found late and is gone asks nobody at all.
                 and (g.withdrawn_at is null or g.state = 'answered' and $4 <> 'sent_back')),
           kept as (
               insert into review_of (review_id, reviewer, signal_id, answer_id, answered_by)
               -- What somebody made go away before anybody answered is reviewed without an answer.
               select $2, $3, r.id, a.id, coalesce(a.person_id, r.answered_by)
               from reviewed r left join lateral
                    (select a.id, a.person_id from answer_of o join answer a on a.id = o.answer_id
                     where o.signal_id = r.id order by a.at desc limit 1) a on true
               returning signal_id)
           -- What was sent back waits for a new answer, from whoever gives it.
           update signal set state = $4, answered_by = case when $4 = 'sent_back' then null else answered_by end
           from kept where signal.id = kept.signal_id returning signal.id"#,
        held.id,
        id,
        person,
        word::word(state)?,
        word::word(decision)?
    )
    .fetch_all(act.conn())
    .await?;
    let detail = json!({"review": id, "signals": signals, "old": {"state": held.stage.state}, "new": {"state": state},
                        "decision": decision, "remark": remark});
    end(act, &held, Deed::new(at, Some(person), Action::EpisodeReviewed, held.id, &detail)).await
}

async fn end(act: &mut Act, held: &Held, deed: Deed) -> Result<Uuid, StoreError> {
    let side = sqlx::query_scalar!("select side from episode where id = $1", held.id).fetch_one(act.conn()).await?;
    let (before, now) = in_line(act, held.id, side.map(word::value).transpose()?, false).await?;
    if before == now && now != SignalState::Answered {
        return Err(StoreError::Corrupt("a step that led nowhere".into()));
    }
    let (characteristic, episode) = (held.characteristic, held.id);
    act.did(characteristic, deed, News::Episode { characteristic, episode });
    Ok(episode)
}
