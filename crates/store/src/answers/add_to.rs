//! What is said later: an answer is added to, never rewritten.

use quality::episode::Addition;
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use super::answer::By;
use crate::StoreError;
use crate::act::Act;
use crate::episodes::{Said, hold};
use crate::files::{self, Of};
use crate::news::News;
use crate::once::compiled_once;

/// Adds to an answer of an episode; gives the episode. Who reviews it sees that there is more to read.
///
/// # Errors
/// When there is no such answer, nothing is said, or the entry id was used for something else.
#[compiled_once]
pub async fn add_to(pool: &PgPool, episode: Uuid, answer: Uuid, by: By, given: Addition) -> Result<Uuid, StoreError> {
    let (given, by) = (given.check()?, by.kept());
    let mut act = Act::begin(pool).await?;
    let held = hold(&mut act, episode).await?;
    let here = sqlx::query_scalar!(
        r#"select exists (select from answer_of o join signal g on g.id = o.signal_id
               where o.answer_id = $1 and g.episode_id = $2) as "here!""#,
        answer,
        held.id
    );
    if !here.fetch_one(act.conn()).await? {
        return Err(StoreError::Missing(ObjectKind::Answer));
    }
    let before = sqlx::query!("select answer_id, person_id, comment from addition where entry = $1", by.entry);
    if let Some(before) = before.fetch_optional(act.conn()).await? {
        let same = (before.answer_id, before.person_id, &before.comment) == (answer, by.person, &given.comment);
        return if same { Ok(held.id) } else { Err(StoreError::EntryReused) };
    }
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into addition (id, answer_id, person_id, at, arrived_at, comment, entry)
         values ($1, $2, $3, $4, $5, $6, $7)",
        id,
        answer,
        by.person,
        by.at,
        by.came_later(),
        given.comment,
        by.entry
    )
    .execute(act.conn())
    .await?;
    let files = files::give(&mut act, &given.files, by.person, Of::Addition(id)).await?;
    sqlx::query!("update episode set version = version + 1 where id = $1", held.id).execute(act.conn()).await?;
    let detail = json!({"episode": held.id, "addition": id, "comment": given.comment, "files": files, "at": by.at});
    let signals = sqlx::query_scalar!("select signal_id from answer_of where answer_id = $1", answer);
    let signals = signals.fetch_all(act.conn()).await?;
    for Said { characteristic, .. } in Said::of(act.conn(), &held, &signals).await? {
        let deed = Deed::new(by.arrived_at, Some(by.person), Action::AnswerAddedTo, answer, &detail);
        act.did(characteristic, deed, News::Episode { characteristic, episode: held.id });
    }
    act.commit().await?;
    Ok(held.id)
}
