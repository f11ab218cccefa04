//! Studies listed and opened.

use chrono::{DateTime, Utc};
use quality::object::ObjectKind;
use quality::signature::digest;
use quality::study::{DataState, Question, Since, Sort, Stage};
use serde::Serialize;
use serde_json::Value;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::state::since;
use crate::once::compiled_once;
use crate::{StoreError, word};

/// A study, as it is listed.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct StudyRow {
    pub id: Uuid,
    pub sort: Sort,
    pub name: String,
    pub remark: Option<String>,
    pub stage: Stage,
    /// Characteristics that it is about, with their products.
    pub about: Vec<String>,
    /// When its answer was found, and by whom.
    pub answered_at: DateTime<Utc>,
    pub answered_by: String,
    /// Who has signed it.
    pub signed_by: Vec<String>,
}

/// Somebody signed it.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct StudySignature {
    pub person_id: Uuid,
    /// As they were called then.
    pub name: String,
    pub at: DateTime<Utc>,
}

/// A study with its answer, as it was found.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct StudyView {
    pub id: Uuid,
    pub name: String,
    pub remark: Option<String>,
    pub stage: Stage,
    pub version: i32,
    pub question: Question,
    #[schema(value_type = super::found::StudyAnswer)]
    pub answer: Value,
    /// SHA-256 of the answer in hexadecimal; whoever signs names it.
    pub digest: String,
    pub answered_at: DateTime<Utc>,
    pub answered_by: String,
    /// The data that it was found from.
    pub state: DataState,
    /// What has happened to them since; nothing where it is of the data as they are.
    pub since: Option<Since>,
    pub made_at: DateTime<Utc>,
    pub made_by: String,
    /// The study that it is a frozen copy of.
    pub frozen_of: Option<Uuid>,
    /// Frozen copies of it, the latest first.
    pub copies: Vec<Uuid>,
    pub signatures: Vec<StudySignature>,
}

pub(super) fn stage(frozen_of: Option<Uuid>) -> Stage {
    if frozen_of.is_some() { Stage::Frozen } else { Stage::Kept }
}

/// Studies listed at once at most.
const LISTED: i64 = 500;

/// The latest studies, at most 500; within stations those that are about nothing of others, of one characteristic where
/// one is named.
#[compiled_once]
pub async fn list(
    pool: &PgPool,
    within: Option<&[Uuid]>,
    characteristic: Option<Uuid>,
) -> Result<Vec<StudyRow>, StoreError> {
    let rows = sqlx::query!(
        r#"select s.id, s.sort, s.name, s.remark, s.frozen_of, s.answered_at, p.name as answered_by,
                  array(select c.name || ', ' || d.name from study_of o join characteristic c on c.id = o.characteristic_id
                        join product d on d.id = c.product_id where o.study_id = s.id order by 1) as "about!: Vec<String>",
                  array(select g.name from study_signature g where g.study_id = s.id order by g.at) as "signed_by!: Vec<String>"
           from study s join person p on p.id = s.answered_by
           where ($1::uuid[] is null or not exists (
                     select from study_of o join characteristic c on c.id = o.characteristic_id
                     where o.study_id = s.id and c.station_id <> all ($1)))
             and ($2::uuid is null or exists (select from study_of where study_id = s.id and characteristic_id = $2))
           order by s.made_at desc, s.id desc limit $3"#,
        within,
        characteristic,
        LISTED
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    rows.map(|row| {
        Ok(StudyRow {
            id: row.id,
            sort: word::value(row.sort)?,
            name: row.name,
            remark: row.remark,
            stage: stage(row.frozen_of),
            about: row.about,
            answered_at: row.answered_at,
            answered_by: row.answered_by,
            signed_by: row.signed_by,
        })
    })
    .collect()
}

/// A study.
///
/// # Errors
/// When there is none such.
#[compiled_once]
pub async fn find(pool: &PgPool, id: Uuid) -> Result<StudyView, StoreError> {
    let mut conn = pool.acquire().await?;
    let row = sqlx::query!(
        r#"select s.*, a.name as answerer, m.name as maker,
                  array(select c.id from study c where c.frozen_of = s.id order by c.made_at desc) as "copies!: Vec<Uuid>"
           from study s join person a on a.id = s.answered_by join person m on m.id = s.made_by where s.id = $1"#,
        id
    )
    .fetch_optional(&mut *conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Study))?;
    let signatures = sqlx::query_as!(
        StudySignature,
        "select person_id, name, at from study_signature where study_id = $1 order by at",
        id
    )
    .fetch_all(&mut *conn)
    .await?;
    let then: DataState = serde_json::from_value(row.state)?;
    let since = since(&mut conn, &then).await?;
    Ok(StudyView {
        id,
        name: row.name,
        remark: row.remark,
        stage: stage(row.frozen_of),
        version: row.version,
        question: serde_json::from_value(row.question)?,
        answer: serde_json::from_str(&row.answer)?,
        digest: digest(&row.answer),
        answered_at: row.answered_at,
        answered_by: row.answerer,
        state: then,
        since,
        made_at: row.made_at,
        made_by: row.maker,
        frozen_of: row.frozen_of,
        copies: row.copies,
        signatures,
    })
}
