//! What the episodes of a period teach.

use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField};
use quality::learn::{CauseNamed, Happening, Learned, learn};
use sqlx::PgPool;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::{StoreError, sites};

/// Which episodes teach.
#[derive(Debug, Clone)]
pub struct LearnFrom {
    /// Raised from then on.
    pub from: DateTime<Utc>,
    /// Raised before then.
    pub until: DateTime<Utc>,
    pub area: Option<Uuid>,
    /// Only of these stations.
    pub within: Option<Vec<Uuid>>,
}

/// More episodes are not looked at at once.
const EPISODES_AT_MOST: i64 = 100_000;

/// What the episodes of a period teach: against limits in force, and still holding or answered.
///
/// # Errors
/// When the period ends before it begins, or has more episodes than are looked at at once.
#[compiled_once]
pub async fn learned(pool: &PgPool, asked: &LearnFrom) -> Result<Learned, StoreError> {
    if asked.until <= asked.from {
        return Err(WrongField::new("period", Allowed::FirstBeforeLast).into());
    }
    let rows = sqlx::query!(
        r#"select c.station_id, e.raised_at, said.first, said.last, said.reviewed, last.cause_id, last.cause,
                  said.rules as "rules!"
           from episode e join characteristic c on c.id = e.characteristic_id join station s on s.id = c.station_id
           cross join lateral (
               select min(a.at) as first, max(a.at) as last, max(r.at) as reviewed,
                      coalesce(array_agg(distinct g.rule->>'kind')
                               filter (where g.withdrawn_at is null or e.gone), '{}') as rules
               from signal g left join answer_of o on o.signal_id = g.id left join answer a on a.id = o.answer_id
               left join review_of v on v.signal_id = g.id left join review r on r.id = v.review_id
               where g.episode_id = e.id) said
           left join lateral (
               select a.cause_id, coalesce(k.name, a.cause_text) as cause
               from signal g join answer_of o on o.signal_id = g.id join answer a on a.id = o.answer_id
               left join cause k on k.id = a.cause_id
               where g.episode_id = e.id order by a.at desc limit 1) last on true
           where e.raised_at >= $1 and e.raised_at < $2 and not e.trial and e.joined is null
             and (not e.gone or e.state in ('answered', 'reviewed'))
             and ($3::uuid is null or s.area_id = $3) and ($4::uuid[] is null or s.id = any($4))
           limit $5"#,
        asked.from,
        asked.until,
        asked.area,
        asked.within.as_deref(),
        EPISODES_AT_MOST + 1
    );
    let rows = rows.fetch_all(pool).await?;
    if i64::try_from(rows.len()).is_ok_and(|found| found > EPISODES_AT_MOST) {
        let most = usize::try_from(EPISODES_AT_MOST).unwrap_or(usize::MAX);
        return Err(WrongField::new("lines", Allowed::Entries { least: 0, most }).into());
    }
    let episodes: Vec<Happening> = rows
        .into_iter()
        .map(|row| Happening {
            station: row.station_id,
            raised_at: row.raised_at,
            answered_at: row.first,
            last_answered_at: row.last,
            reviewed_at: row.reviewed,
            cause: row.cause.map(|name| CauseNamed { id: row.cause_id, name }),
            rules: row.rules.into_iter().collect(),
        })
        .collect();
    Ok(learn(&episodes, sites::calendar(pool).await?.zone))
}
