//! The state of all chains, to be kept where who can write the database cannot.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::StoreError;

/// Where all chains ended at one moment.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Seal {
    pub sealed_at: DateTime<Utc>,
    /// The end of each chain.
    pub chains: BTreeMap<Uuid, Sealed>,
}

/// The end of a chain.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Sealed {
    /// Its last entry, from 1; 0 of a chain without entries.
    pub position: i64,
    /// Hash of that entry; empty without entries.
    pub hash: String,
}

/// Reads where all chains end, at one moment. The ends are those of the entries, not of the table of
/// heads, which somebody may have set back.
pub async fn seal(executor: impl PgExecutor<'_>, now: DateTime<Utc>) -> Result<Seal, StoreError> {
    let chains = sqlx::query!(
        r#"select h.chain, coalesce(t.position, 0) as "position!", coalesce(t.hash, '') as "hash!"
           from trail_head h
           left join lateral (select position, hash from trail where chain = h.chain
                              order by position desc limit 1) t on true"#
    )
    .fetch_all(executor)
    .await?
    .into_iter()
    .map(|row| (row.chain, Sealed { position: row.position, hash: row.hash }))
    .collect();
    Ok(Seal { sealed_at: now, chains })
}
