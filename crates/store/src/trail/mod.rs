//! The append-only trail.

mod begin;
mod expected;
mod rows;
mod seal;
mod verify;

use chrono::{DateTime, Utc};
use quality::trail::{Action, Deed, Link};
use serde::{Deserialize, Serialize};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{StoreError, word};

pub(crate) use begin::{begin, record_state};
pub use rows::Difference;
pub use seal::{Seal, Sealed, seal};
pub use verify::{Finding, Report, verify};

/// The chain of what concerns no single characteristic.
pub const SITE_CHAIN: Uuid = Uuid::nil();

/// Appends deeds to a chain, within the transaction that does them.
pub async fn append(conn: &mut PgConnection, chain: Uuid, deeds: &[Deed]) -> Result<(), StoreError> {
    if deeds.is_empty() {
        return Ok(());
    }
    let (mut position, mut before) = head(conn, chain).await?;
    let mut entries = Entries::default();
    for deed in deeds {
        position += 1;
        let action = word::word(deed.action)?;
        before = Link {
            before: &before,
            chain,
            position,
            at: deed.at.timestamp_micros(),
            person: deed.person,
            action: &action,
            object: deed.object,
            detail: &deed.detail,
        }
        .hash();
        entries.positions.push(position);
        entries.at.push(deed.at);
        entries.persons.push(deed.person);
        entries.actions.push(action);
        entries.objects.push(deed.object);
        entries.details.push(deed.detail.clone());
        entries.hashes.push(before.clone());
    }
    sqlx::query!(
        "insert into trail (chain, position, at, person_id, action, object, detail, hash)
         select $1, * from unnest($2::bigint[], $3::timestamptz[], $4::uuid[], $5::text[], $6::uuid[], $7::text[],
             $8::text[])",
        chain,
        &entries.positions,
        &entries.at,
        &entries.persons as &[Option<Uuid>],
        &entries.actions,
        &entries.objects,
        &entries.details,
        &entries.hashes
    )
    .execute(&mut *conn)
    .await?;
    sqlx::query!("update trail_head set position = $2, hash = $3 where chain = $1", chain, position, before)
        .execute(conn)
        .await?;
    Ok(())
}

/// Entries of a chain, column by column, as the database takes many at once.
#[derive(Default)]
struct Entries {
    positions: Vec<i64>,
    at: Vec<DateTime<Utc>>,
    persons: Vec<Option<Uuid>>,
    actions: Vec<String>,
    objects: Vec<Uuid>,
    details: Vec<String>,
    hashes: Vec<String>,
}

/// Position and hash of a chain's end, held until the transaction ends.
async fn head(conn: &mut PgConnection, chain: Uuid) -> Result<(i64, String), StoreError> {
    let head = sqlx::query!("select position, hash from trail_head where chain = $1 for update", chain)
        .fetch_optional(conn)
        .await?
        // Each chain is begun with what it is about; somebody has taken this end away.
        .ok_or_else(|| StoreError::Corrupt(format!("the trail's chain {chain} has no end")))?;
    Ok((head.position, head.hash))
}

/// Appends deeds to a chain in a transaction of their own.
pub async fn record(pool: &PgPool, chain: Uuid, deeds: &[Deed]) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    append(&mut tx, chain, deeds).await?;
    Ok(tx.commit().await?)
}

/// An entry as a person reads it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct TrailEntry {
    /// The chain: a characteristic, or the site.
    pub chain: Uuid,
    /// Place in the chain, from 1.
    pub position: i64,
    /// When.
    pub at: DateTime<Utc>,
    /// Who; nobody for the program itself.
    pub person: Option<String>,
    /// What.
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
