//! The trail as people read it.

use chrono::{DateTime, Utc};
use quality::trail::Action;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::once::compiled_once;
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

/// Which entries; what is left out does not narrow them.
#[derive(Debug, Clone, Default)]
pub struct TrailFilter {
    /// Only of this characteristic.
    pub characteristic: Option<Uuid>,
    /// Only of characteristics of these stations.
    pub within: Option<Vec<Uuid>>,
    /// Only what this person did.
    pub person: Option<Uuid>,
    /// Only these; all where there are none.
    pub actions: Vec<Action>,
    /// Only what was done to this object.
    pub object: Option<Uuid>,
    /// Only from then on.
    pub from: Option<DateTime<Utc>>,
    /// Only before then.
    pub until: Option<DateTime<Utc>>,
    /// Only those behind an entry of the list: its time, chain and position.
    pub behind: Option<(DateTime<Utc>, Uuid, i64)>,
}

/// Entries, newest first, at most `most`.
#[compiled_once]
pub async fn list(pool: &PgPool, filter: &TrailFilter, most: i64) -> Result<Vec<TrailEntry>, StoreError> {
    let (behind_at, behind_chain, behind_position) = match filter.behind {
        Some((at, chain, position)) => (Some(at), Some(chain), Some(position)),
        None => (None, None, None),
    };
    let actions = filter.actions.iter().map(word::word).collect::<Result<Vec<_>, _>>()?;
    sqlx::query!(
        r#"select t.chain, t.position, t.at, p.name as "person?", t.action, t.object, t.detail,
                  c.name as "characteristic?", s.name as "station?"
           from trail t
           left join person p on p.id = t.person_id
           left join characteristic c on c.id = t.chain
           left join station s on s.id = c.station_id
           where ($1::uuid is null or t.chain = $1) and ($2::uuid is null or t.person_id = $2)
             and (cardinality($3::text[]) = 0 or t.action = any($3)) and ($4::uuid is null or t.object = $4)
             and t.at >= coalesce($5, '-infinity'::timestamptz) and t.at < coalesce($6, 'infinity'::timestamptz)
             and ($7::timestamptz is null or t.at <= $7
                  and (t.at < $7 or t.chain > $8 or t.chain = $8 and t.position < $9))
             and ($11::uuid[] is null or s.id = any($11))
           order by t.at desc, t.chain, t.position desc
           limit $10"#,
        filter.characteristic,
        filter.person,
        &actions,
        filter.object,
        filter.from,
        filter.until,
        behind_at,
        behind_chain,
        behind_position,
        most,
        filter.within.as_deref()
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
