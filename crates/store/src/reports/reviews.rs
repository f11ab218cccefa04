//! The review record: decisions of a period, with signatures.

use chrono::{DateTime, Utc};
use quality::episode::Decision;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::episodes::ReportReview;
use super::head::Asked;
use crate::episodes::{EpisodeRow, rows};
use crate::{StoreError, word};

/// A decision on an episode.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct ReviewLine {
    #[serde(flatten)]
    pub review: ReportReview,
    /// What it was decided of, as it stands now.
    pub episode: EpisodeRow,
    /// Whose answers it was about.
    pub answered_by: Vec<String>,
}

/// The decisions of the period, oldest first, at most `most`; one on what has since become several episodes stands with
/// each of them.
pub(super) async fn lines(pool: &PgPool, asked: &Asked, most: i64) -> Result<Vec<ReviewLine>, StoreError> {
    let decided = sqlx::query!(
        r#"select r.id, r.at, r.decision, r.remark, p.name as person, s.name as "signed_by?", s.at as "signed_at?",
                  g.episode_id as "episode!",
                  coalesce(array_agg(distinct w.name) filter (where w.name is not null), '{}') as "answered_by!"
           from review r join person p on p.id = r.person_id
           join review_of o on o.review_id = r.id join signal g on g.id = o.signal_id
           join characteristic c on c.id = g.characteristic_id join station st on st.id = c.station_id
           left join person w on w.id = o.answered_by
           left join signed d on d.review_id = r.id left join signature s on s.id = d.signature_id
           where r.at >= $1 and r.at < $2 and ($3::uuid is null or st.area_id = $3)
             and ($4::uuid is null or st.id = $4) and ($5::uuid is null or c.id = $5)
             and ($6::uuid is null or exists (
                 select from level l where l.characteristic_id = c.id and l.analyte_id = $6))
             and ($7::uuid[] is null or st.id = any($7))
           group by r.id, p.name, s.name, s.at, g.episode_id
           order by r.at, r.id, g.episode_id limit $8"#,
        asked.from,
        asked.until,
        asked.area,
        asked.station,
        asked.characteristic,
        asked.analyte,
        asked.within.as_deref(),
        most
    );
    let decided = decided.fetch_all(pool).await?;
    let ids: Vec<Uuid> = decided.iter().map(|row| row.episode).collect();
    let episodes = rows(pool, &ids).await?;
    let mut lines = Vec::with_capacity(decided.len());
    for (row, episode) in decided.into_iter().zip(episodes) {
        let decision: Decision = word::value(row.decision)?;
        let at: DateTime<Utc> = row.at;
        let review = ReportReview {
            person: row.person,
            at,
            decision,
            remark: row.remark,
            signed_by: row.signed_by,
            signed_at: row.signed_at,
        };
        lines.push(ReviewLine { review, episode, answered_by: row.answered_by });
    }
    Ok(lines)
}
