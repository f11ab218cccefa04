//! Signatures that were given, with what has changed since.

use chrono::{DateTime, Utc};
use quality::episode::Decision;
use quality::object::ObjectKind;
use quality::signature::{Meaning, Seen, SeenPart};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::seen::seen;
use crate::episodes::{EpisodeRow, rows};
use crate::once::compiled_once;
use crate::{StoreError, word};

/// A signature, as it is listed.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct SignatureRow {
    pub id: Uuid,
    /// Who signed, as they were called then.
    pub name: String,
    pub at: DateTime<Utc>,
    /// What the signature says.
    pub meaning: Meaning,
    /// Decisions that it covers.
    pub reviews: i64,
}

/// A signature with all that it covers.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct SignatureView {
    #[serde(flatten)]
    pub signature: SignatureRow,
    pub covers: Vec<Covered>,
}

/// A decision that was signed.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Covered {
    pub review: Uuid,
    pub decision: Decision,
    /// Reason or question.
    pub remark: Option<String>,
    pub at: DateTime<Utc>,
    /// What it was decided of, as it stands now.
    pub episode: EpisodeRow,
    /// SHA-256 in hexadecimal over what was seen.
    pub digest: String,
    /// What is not any more as it was signed.
    pub changed: Vec<SeenPart>,
}

/// The latest signatures, at most `most`; within stations those that cover nothing of others.
#[compiled_once]
pub async fn list(pool: &PgPool, within: Option<&[Uuid]>, most: i64) -> Result<Vec<SignatureRow>, StoreError> {
    let rows = sqlx::query!(
        r#"select s.id, s.name, s.at, s.meaning,
                  (select count(*) from signed d where d.signature_id = s.id) as "reviews!"
           from signature s
           where $2::uuid[] is null or not exists (
               select from signed d join review_of r on r.review_id = d.review_id join signal g on g.id = r.signal_id
               join characteristic c on c.id = g.characteristic_id
               where d.signature_id = s.id and c.station_id <> all ($2))
           order by s.at desc, s.id desc limit $1"#,
        most,
        within
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    rows.map(|row| {
        let meaning = word::value(row.meaning)?;
        Ok(SignatureRow { id: row.id, name: row.name, at: row.at, meaning, reviews: row.reviews })
    })
    .collect()
}

/// A signature.
///
/// # Errors
/// When there is none such.
#[compiled_once]
pub async fn find(pool: &PgPool, id: Uuid) -> Result<SignatureView, StoreError> {
    let mut conn = pool.acquire().await?;
    let row = sqlx::query!("select name, at, meaning from signature where id = $1", id)
        .fetch_optional(&mut *conn)
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Signature))?;
    let signed = sqlx::query!(
        r#"select r.id, r.decision, r.remark, r.at, e.id as episode, d.content, d.digest
           from signed d join review r on r.id = d.review_id
           cross join lateral (select g.episode_id as id from review_of o join signal g on g.id = o.signal_id
                               where o.review_id = r.id order by g.id limit 1) e
           where d.signature_id = $1 order by r.at, r.id"#,
        id
    )
    .fetch_all(&mut *conn)
    .await?;
    let ids: Vec<Uuid> = signed.iter().map(|row| row.id).collect();
    let now = seen(&mut conn, &ids).await?;
    drop(conn);
    let episodes: Vec<Uuid> = signed.iter().filter_map(|row| row.episode).collect();
    let episodes = rows(pool, &episodes).await?;
    let reviews = i64::try_from(signed.len()).unwrap_or(i64::MAX);
    let mut covers = Vec::new();
    for row in signed {
        let episode = episodes.iter().find(|episode| Some(episode.id) == row.episode);
        let (Some(episode), Some(now)) = (episode, now.get(&row.id)) else { continue };
        let then: Seen = serde_json::from_str(&row.content)?;
        covers.push(Covered {
            review: row.id,
            decision: word::value(row.decision)?,
            remark: row.remark,
            at: row.at,
            episode: episode.clone(),
            digest: row.digest,
            changed: then.changed(now),
        });
    }
    let signature = SignatureRow { id, name: row.name, at: row.at, meaning: word::value(row.meaning)?, reviews };
    Ok(SignatureView { signature, covers })
}
