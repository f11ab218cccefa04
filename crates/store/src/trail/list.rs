//! The trail as people read it.

use chrono::{DateTime, Utc};
use quality::trail::Action;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{StoreError, word};

/// An entry as a person reads it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct TrailEntry {
    /// The chain: a characteristic, or the site.
    pub chain: Uuid,
    /// Place in the chain, from 1.
    pub position: i64,
    pub at: DateTime<Utc>,
    /// Who; nobody for the program itself.
    pub person: Option<String>,
    pub action: Action,
    /// The characteristic and its station, where it concerns one.
    pub characteristic: Option<String>,
    /// Station of the characteristic.
    pub station: Option<String>,
    /// The object it was done to.
    pub object: Uuid,
    /// Old and new values.
    #[schema(value_type = Object)]
    pub detail: serde_json::Value,
}

/// Entries up to `before`, newest first, at most `most`, of one characteristic or of all.
pub async fn list(
    pool: &PgPool,
    characteristic: Option<Uuid>,
    before: Option<DateTime<Utc>>,
    most: i64,
) -> Result<Vec<TrailEntry>, StoreError> {
    sqlx::query!(
        r#"select t.chain, t.position, t.at, p.name as "person?", t.action, t.object, t.detail,
                  c.name as "characteristic?", s.name as "station?"
           from trail t
           left join person p on p.id = t.person_id
           left join characteristic c on c.id = t.chain
           left join station s on s.id = c.station_id
           where ($1::uuid is null or t.chain = $1) and ($2::timestamptz is null or t.at < $2)
           order by t.at desc, t.chain, t.position desc
           limit $3"#,
        characteristic,
        before,
        most
    )
    .fetch_all(pool)
    .await?
    .into_iter()
    .map(|row| {
        Ok(TrailEntry {
            chain: row.chain,
            position: row.position,
            at: row.at,
            person: row.person,
            action: word::value(row.action)?,
            characteristic: row.characteristic,
            station: row.station,
            object: row.object,
            detail: serde_json::from_str(&row.detail)?,
        })
    })
    .collect()
}
