//! Studies kept, changed, found anew, and frozen.

use chrono::{DateTime, Utc};
use quality::field::{name, optional_text};
use quality::object::ObjectKind;
use quality::signature::digest;
use quality::study::{DataState, Question, Stage, may_freeze, may_refresh};
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde_json::{Value, json};
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use super::answer::answer;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// A study as it shall be.
#[derive(Debug, Clone)]
pub struct NewStudy {
    pub name: String,
    pub remark: Option<String>,
    pub question: Question,
}

/// As it is written.
struct Written {
    name: String,
    remark: Option<String>,
    question: Value,
    answer: String,
    state: DataState,
}

impl Written {
    async fn of(pool: &PgPool, new: &NewStudy, now: DateTime<Utc>) -> Result<Self, StoreError> {
        let (name, remark) = (name("name", &new.name)?, optional_text("remark", new.remark.as_deref())?);
        let (found, state) = answer(pool, &new.question, now).await?;
        Ok(Self {
            name,
            remark,
            question: serde_json::to_value(&new.question)?,
            answer: serde_json::to_string(&found)?,
            state,
        })
    }

    /// As the trail tells it.
    fn told(&self, sort: &str) -> Value {
        json!({"sort": sort, "name": self.name, "remark": self.remark, "question": self.question,
               "answer": digest(&self.answer), "frozen_of": null})
    }
}

/// Keeps a question with its answer.
///
/// # Errors
/// As for an answer; a name that cannot be.
#[compiled_once]
pub async fn keep(pool: &PgPool, new: &NewStudy, (person, at): (Uuid, DateTime<Utc>)) -> Result<Uuid, StoreError> {
    let written = Written::of(pool, new, at).await?;
    let sort = word::word(new.question.sort())?;
    let mut act = Act::begin(pool).await?;
    let id = insert(act.conn(), &sort, &written, &new.question.characteristics(), (person, at)).await?;
    let deed = Deed::new(at, Some(person), Action::StudyKept, id, &written.told(&sort));
    act.did(SITE_CHAIN, deed, News::Study { study: id });
    act.commit().await?;
    Ok(id)
}

async fn insert(
    conn: &mut PgConnection,
    sort: &str,
    written: &Written,
    of: &[Uuid],
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into study (id, sort, name, remark, question, answer, state, answered_at, answered_by, made_at, made_by)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $8, $9)",
        id,
        sort,
        written.name,
        written.remark,
        written.question,
        written.answer,
        serde_json::to_value(&written.state)?,
        at,
        person
    )
    .execute(&mut *conn)
    .await?;
    is_about(conn, id, of).await?;
    Ok(id)
}

async fn is_about(conn: &mut PgConnection, id: Uuid, of: &[Uuid]) -> Result<(), StoreError> {
    sqlx::query!("delete from study_of where study_id = $1", id).execute(&mut *conn).await?;
    sqlx::query!("insert into study_of (study_id, characteristic_id) select $1, unnest($2::uuid[])", id, of)
        .execute(conn)
        .await?;
    Ok(())
}

/// A study held until the act ends: its stage.
async fn take(conn: &mut PgConnection, id: Uuid, seen_version: i32) -> Result<Stage, StoreError> {
    let row = sqlx::query!("select version, frozen_of from study where id = $1 for update", id)
        .fetch_optional(conn)
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Study))?;
    same_version(ObjectKind::Study, seen_version, row.version)?;
    Ok(super::list::stage(row.frozen_of))
}

/// Changes name, remark and question, and finds the answer anew: refreshing is changing nothing else.
///
/// # Errors
/// When it is missing, frozen, or was changed since `seen_version`; as for an answer.
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    new: &NewStudy,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let mut looking = Act::begin(pool).await?;
    // Before an answer is looked for in vain.
    may_refresh(take(looking.conn(), id, seen_version).await?)?;
    drop(looking);
    let written = Written::of(pool, new, at).await?;
    let sort = word::word(new.question.sort())?;
    let mut act = Act::begin(pool).await?;
    may_refresh(take(act.conn(), id, seen_version).await?)?;
    sqlx::query!(
        "update study set sort = $2, name = $3, remark = $4, question = $5, answer = $6, state = $7, answered_at = $8,
             answered_by = $9, version = version + 1
         where id = $1",
        id,
        sort,
        written.name,
        written.remark,
        written.question,
        written.answer,
        serde_json::to_value(&written.state)?,
        at,
        person
    )
    .execute(act.conn())
    .await?;
    is_about(act.conn(), id, &new.question.characteristics()).await?;
    let deed = Deed::new(at, Some(person), Action::StudyChanged, id, &written.told(&sort));
    act.did(SITE_CHAIN, deed, News::Study { study: id });
    act.commit().await
}

/// Makes a copy that stays as it is, with the answer that was seen.
///
/// # Errors
/// When it is missing, a copy itself, or was changed since `seen_version`.
#[compiled_once]
pub async fn freeze(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let mut act = Act::begin(pool).await?;
    may_freeze(take(act.conn(), id, seen_version).await?)?;
    let copy = Uuid::new_v4();
    let row = sqlx::query!(
        r#"insert into study (id, sort, name, remark, question, answer, state, answered_at, answered_by, made_at, made_by, frozen_of)
           select $1, sort, name, remark, question, answer, state, answered_at, answered_by, $3, $4, id from study where id = $2
           returning sort, name, remark, question, answer"#,
        copy,
        id,
        at,
        person
    )
    .fetch_one(act.conn())
    .await?;
    sqlx::query!(
        "insert into study_of (study_id, characteristic_id) select $1, characteristic_id from study_of where study_id = $2",
        copy,
        id
    )
    .execute(act.conn())
    .await?;
    let told = json!({"sort": row.sort, "name": row.name, "remark": row.remark, "question": row.question,
                      "answer": digest(&row.answer), "frozen_of": id});
    let deed = Deed::new(at, Some(person), Action::StudyFrozen, copy, &told);
    act.did(SITE_CHAIN, deed, News::Study { study: id });
    act.commit().await?;
    Ok(copy)
}
