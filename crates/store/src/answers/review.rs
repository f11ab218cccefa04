//! Reviews: a decision on what stands.

use chrono::{DateTime, Utc};
use quality::episode::{Decision, EpisodeRefusal};
use quality::field::optional_text;
use quality::notice::NoticeKind;
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use crate::act::Act;
use crate::episodes::{Held, hold, hold_places, step_taken};
use crate::limits::drop_restarts;
use crate::notices::{About, NewNotice, raise};
use crate::once::compiled_once;
use crate::{StoreError, word};

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
#[compiled_once]
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
#[compiled_once]
pub async fn review_many(
    pool: &PgPool,
    episodes: &[(Uuid, i32)],
    new: &NewReview,
) -> Result<Vec<(Uuid, StoreError)>, StoreError> {
    let ids: Vec<Uuid> = episodes.iter().map(|(id, _)| *id).collect();
    let mut act = Act::begin(pool).await?;
    hold_places(&mut act, &ids).await?;
    let order = sqlx::query_scalar!("select id from episode where id = any($1) order by characteristic_id, id", &ids);
    let order = order.fetch_all(act.conn()).await?;
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

/// Whoever gave an answer is told that it came back, or does not stand.
async fn tell_answerers(act: &mut Act, held: &Held, review: Uuid, new: &NewReview) -> Result<(), StoreError> {
    let kind = match new.decision {
        Decision::SentBack => NoticeKind::SentBack,
        Decision::Overruled => NoticeKind::Overruled,
        Decision::Accepted | Decision::Seen => return Ok(()),
    };
    let told = sqlx::query!(
        r#"select distinct o.answered_by as "person!", c.station_id
           from review_of o join signal g on g.id = o.signal_id join characteristic c on c.id = g.characteristic_id
           where o.review_id = $1 and o.answered_by is not null"#,
        review
    );
    for row in told.fetch_all(act.conn()).await? {
        let (station, person, about) = (Some(row.station_id), Some(row.person), About::Episode(held.id));
        raise(act, NewNotice { kind, at: new.at, station, person, about }).await?;
    }
    Ok(())
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
    let deed = |signals: &[Uuid]| {
        let detail = json!({"review": id, "signals": signals, "old": {"state": held.stage.state},
                            "new": {"state": state}, "decision": decision, "remark": remark});
        Deed::new(at, Some(person), Action::EpisodeReviewed, held.id, &detail)
    };
    step_taken(act, &held, &signals, deed).await?;
    tell_answerers(act, &held, id, new).await?;
    if decision == Decision::Overruled {
        let answers = sqlx::query_scalar!(
            r#"select distinct answer_id as "answer!" from review_of where review_id = $1 and answer_id is not null"#,
            id
        )
        .fetch_all(act.conn())
        .await?;
        // What was not so did not correct the process either.
        drop_restarts(act, held.characteristic, &answers, (person, at)).await?;
    }
    Ok(held.id)
}
