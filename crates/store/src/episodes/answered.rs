//! What was said of an episode, and what became of that.

use chrono::{DateTime, Utc};
use quality::episode::Decision;
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::files::FileView;
use crate::{StoreError, word};

/// An answer with its review.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct AnswerView {
    pub id: Uuid,
    /// Who answered.
    pub person: String,
    pub at: DateTime<Utc>,
    /// Entry of the catalogue of causes.
    pub cause_id: Option<Uuid>,
    /// The cause in words; nothing when nothing was found.
    pub cause: Option<String>,
    /// What was done.
    pub action: String,
    /// What else there was to say.
    pub comment: Option<String>,
    /// Steps of the reaction plan that were done.
    pub steps: Vec<String>,
    /// Whether what was made since the last clean sample was held.
    pub held: Option<bool>,
    /// The process was corrected, and rules start afresh.
    pub corrected: Option<CorrectedProcess>,
    /// Photos and documents.
    pub files: Vec<FileView>,
    /// What was added later, oldest first.
    pub additions: Vec<AdditionView>,
    /// Signals of this episode that it was given for.
    pub signals: Vec<Uuid>,
    /// What the supervisor decided.
    pub review: Option<ReviewView>,
}

/// A correction of the process.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct CorrectedProcess {
    /// Number of the sample that rules start afresh with; nothing while none was taken since.
    pub sample: Option<i64>,
    /// The restart went: the answer was overruled, or somebody undid it.
    pub dropped: bool,
}

/// What was added to an answer.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct AdditionView {
    /// Who added it.
    pub person: String,
    pub at: DateTime<Utc>,
    pub comment: String,
    /// Photos and documents.
    pub files: Vec<FileView>,
}

/// A review.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct ReviewView {
    /// Who reviewed.
    pub person: String,
    pub at: DateTime<Utc>,
    /// What was decided.
    pub decision: Decision,
    /// Reason or question.
    pub remark: Option<String>,
    /// The signature under it; nothing while nobody has signed it.
    pub signature: Option<Uuid>,
    /// When it was signed.
    pub signed_at: Option<DateTime<Utc>>,
}

/// Answers, the oldest first.
pub(super) async fn answers(conn: &mut PgConnection, episode: Uuid) -> Result<Vec<AnswerView>, StoreError> {
    sqlx::query!(
        r#"select a.id, ap.name as person, a.at, a.cause_id, coalesce(k.name, a.cause_text) as cause, a.action,
                  a.comment, a.steps, a.held, array_agg(o.signal_id) as "signals!", r.review as "review?: Json<ReviewView>",
                  (select jsonb_build_object('dropped', n.dropped, 'sample',
                       (select s.number from sample s where s.characteristic_id = n.characteristic_id
                            and s.taken_at = n.starts_at order by s.number limit 1))
                   from planned_restart n where n.answer_id = a.id) as "corrected?: Json<CorrectedProcess>",
                  (select jsonb_agg(jsonb_build_object('id', f.id, 'name', f.name, 'kind', f.kind,
                       'bytes', length(f.content)) order by f.at, f.id)
                   from file f where f.answer_id = a.id) as "files?: Json<Vec<FileView>>",
                  (select jsonb_agg(jsonb_build_object('person', dp.name, 'at', d.at, 'comment', d.comment, 'files',
                       (select coalesce(jsonb_agg(jsonb_build_object('id', f.id, 'name', f.name, 'kind', f.kind,
                            'bytes', length(f.content)) order by f.at, f.id), '[]')
                        from file f where f.addition_id = d.id)) order by d.at)
                   from addition d join person dp on dp.id = d.person_id where d.answer_id = a.id)
                      as "additions?: Json<Vec<AdditionView>>"
           from signal g
           join answer_of o on o.signal_id = g.id
           join answer a on a.id = o.answer_id
           join person ap on ap.id = a.person_id
           left join cause k on k.id = a.cause_id
           left join lateral (
               select jsonb_build_object('person', rp.name, 'at', r.at, 'decision', r.decision, 'remark', r.remark,
                          'signature', sg.id, 'signed_at', sg.at) as review
               from review_of ro join review r on r.id = ro.review_id join person rp on rp.id = r.person_id
               left join signed d on d.review_id = r.id left join signature sg on sg.id = d.signature_id
               join signal rg on rg.id = ro.signal_id and rg.episode_id = $1
               where ro.answer_id = a.id order by r.at desc limit 1) r on true
           where g.episode_id = $1
           group by a.id, ap.name, a.at, a.cause_id, k.name, a.cause_text, a.action, a.comment, a.steps, a.held, r.review
           order by a.at"#,
        episode
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        Ok(AnswerView {
            id: row.id,
            person: row.person,
            at: row.at,
            cause_id: row.cause_id,
            cause: row.cause,
            action: row.action,
            comment: row.comment,
            steps: row.steps,
            held: row.held,
            corrected: row.corrected.map(|corrected| corrected.0),
            files: row.files.map(|files| files.0).unwrap_or_default(),
            additions: row.additions.map(|additions| additions.0).unwrap_or_default(),
            signals: row.signals,
            review: row.review.map(|review| review.0),
        })
    })
    .collect()
}

/// Reviews of what nobody had answered.
pub(super) async fn unanswered_reviews(conn: &mut PgConnection, episode: Uuid) -> Result<Vec<ReviewView>, StoreError> {
    sqlx::query!(
        r#"select distinct r.at, rp.name as person, r.decision, r.remark, sg.id as "signature?", sg.at as "signed_at?"
           from signal g join review_of o on o.signal_id = g.id join review r on r.id = o.review_id
           join person rp on rp.id = r.person_id
           left join signed d on d.review_id = r.id left join signature sg on sg.id = d.signature_id
           where g.episode_id = $1 and o.answer_id is null order by r.at"#,
        episode
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        let decision = word::value(row.decision)?;
        let (remark, signature, signed_at) = (row.remark, row.signature, row.signed_at);
        Ok(ReviewView { person: row.person, at: row.at, decision, remark, signature, signed_at })
    })
    .collect()
}
