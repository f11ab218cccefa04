//! The append-only trail.

use chrono::{DateTime, Utc};
use futures::TryStreamExt;
use quality::trail::{Action, Deed, Link};
use serde::{Deserialize, Serialize};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{StoreError, word};

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
    loop {
        let head = sqlx::query!("select position, hash from trail_head where chain = $1 for update", chain)
            .fetch_optional(&mut *conn)
            .await?;
        if let Some(head) = head {
            return Ok((head.position, head.hash));
        }
        // Begun here, or by somebody else at the same moment.
        sqlx::query!("insert into trail_head (chain, position, hash) values ($1, 0, '') on conflict do nothing", chain)
            .execute(&mut *conn)
            .await?;
    }
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

/// What a check of all chains found.
#[derive(Debug, PartialEq, Eq)]
pub enum Verdict {
    /// Every hash agrees.
    Whole {
        /// Chains checked.
        chains: usize,
        /// Entries checked.
        entries: u64,
    },
    /// The first entry that does not agree with the one before it, or is missing.
    Broken {
        /// Its chain.
        chain: Uuid,
        /// Its place.
        position: i64,
    },
}

/// Computes every hash again and compares; the end of each chain is held against its head.
pub async fn verify(pool: &PgPool) -> Result<Verdict, StoreError> {
    let heads = sqlx::query!("select chain, position, hash from trail_head order by chain").fetch_all(pool).await?;
    let mut entries = 0;
    for head in &heads {
        let (mut before, mut position) = (String::new(), 0);
        let mut rows = sqlx::query!(
            "select position, at, person_id, action, object, detail, hash from trail where chain = $1 order by position",
            head.chain
        )
        .fetch(pool);
        while let Some(row) = rows.try_next().await? {
            position += 1;
            let link = Link {
                before: &before,
                chain: head.chain,
                position,
                at: row.at.timestamp_micros(),
                person: row.person_id,
                action: &row.action,
                object: row.object,
                detail: &row.detail,
            };
            if row.position != position || link.hash() != row.hash {
                return Ok(Verdict::Broken { chain: head.chain, position });
            }
            before = row.hash;
            entries += 1;
        }
        if position < head.position || before != head.hash {
            return Ok(Verdict::Broken { chain: head.chain, position: position + 1 });
        }
    }
    Ok(Verdict::Whole { chains: heads.len(), entries })
}
