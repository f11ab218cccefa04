//! Episodes of a period, with all that was said of them.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::episode::Decision;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::head::Asked;
use crate::episodes::{EpisodeFilter, EpisodeOrder, EpisodeRow, list};
use crate::once::compiled_once;
use crate::{StoreError, word};

/// An episode with answers and reviews.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EpisodeLine {
    #[serde(flatten)]
    pub episode: EpisodeRow,
    /// Oldest first.
    pub answers: Vec<ReportAnswer>,
    /// Oldest first.
    pub reviews: Vec<ReportReview>,
}

/// An answer, as it is reported.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ReportAnswer {
    pub person: String,
    pub at: DateTime<Utc>,
    /// The cause; nothing where nothing was found.
    pub cause: Option<String>,
    pub action: String,
    pub comment: Option<String>,
}

/// A review, as it is reported.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ReportReview {
    pub person: String,
    pub at: DateTime<Utc>,
    pub decision: Decision,
    pub remark: Option<String>,
    /// Who signed it, as they were called then.
    pub signed_by: Option<String>,
    pub signed_at: Option<DateTime<Utc>>,
}

/// The episodes that were raised in the period, oldest first, at most `most`.
pub(super) async fn lines(pool: &PgPool, asked: &Asked, most: i64) -> Result<Vec<EpisodeLine>, StoreError> {
    let filter = EpisodeFilter {
        from: Some(asked.from),
        until: Some(asked.until),
        area: asked.area,
        station: asked.station,
        characteristic: asked.characteristic,
        analyte: asked.analyte,
        within: asked.within.clone(),
        order: EpisodeOrder::Oldest,
        ..EpisodeFilter::default()
    };
    let episodes = list(pool, &filter, most).await?;
    let ids: Vec<Uuid> = episodes.iter().map(|episode| episode.id).collect();
    let (mut answers, mut reviews) = (answers_of(pool, &ids).await?, reviews_of(pool, &ids).await?);
    let lines = episodes.into_iter().map(|episode| EpisodeLine {
        answers: answers.remove(&episode.id).unwrap_or_default(),
        reviews: reviews.remove(&episode.id).unwrap_or_default(),
        episode,
    });
    Ok(lines.collect())
}

/// The answers that were given to episodes, and for signals that are in them now.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn answers_of(pool: &PgPool, episodes: &[Uuid]) -> Result<HashMap<Uuid, Vec<ReportAnswer>>, StoreError> {
    let rows = sqlx::query!(
        r#"select distinct g.episode_id as "episode!", a.id, p.name as person, a.at, coalesce(k.name, a.cause_text) as cause,
                  a.action, a.comment
           from signal g join answer_of o on o.signal_id = g.id join answer a on a.id = o.answer_id
           join person p on p.id = a.person_id left join cause k on k.id = a.cause_id
           where g.episode_id = any($1) order by a.at, a.id"#,
        episodes
    );
    let mut of: HashMap<Uuid, Vec<ReportAnswer>> = HashMap::new();
    for row in rows.fetch_all(pool).await? {
        of.entry(row.episode).or_default().push(ReportAnswer {
            person: row.person,
            at: row.at,
            cause: row.cause,
            action: row.action,
            comment: row.comment,
        });
    }
    Ok(of)
}

async fn reviews_of(pool: &PgPool, episodes: &[Uuid]) -> Result<HashMap<Uuid, Vec<ReportReview>>, StoreError> {
    let rows = sqlx::query!(
        r#"select distinct g.episode_id as "episode!", r.id, p.name as person, r.at, r.decision, r.remark,
                  s.name as "signed_by?", s.at as "signed_at?"
           from signal g join review_of o on o.signal_id = g.id join review r on r.id = o.review_id
           join person p on p.id = r.person_id
           left join signed d on d.review_id = r.id left join signature s on s.id = d.signature_id
           where g.episode_id = any($1) order by r.at, r.id"#,
        episodes
    );
    let mut of: HashMap<Uuid, Vec<ReportReview>> = HashMap::new();
    for row in rows.fetch_all(pool).await? {
        of.entry(row.episode).or_default().push(ReportReview {
            person: row.person,
            at: row.at,
            decision: word::value(row.decision)?,
            remark: row.remark,
            signed_by: row.signed_by,
            signed_at: row.signed_at,
        });
    }
    Ok(of)
}
