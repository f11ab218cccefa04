//! Writing into the trail.

use chrono::{DateTime, Utc};
use quality::trail::{Deed, Link};
use sqlx::PgConnection;
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
    let head = sqlx::query!("select position, hash from trail_head where chain = $1 for update", chain)
        .fetch_optional(conn)
        .await?
        // Each chain is begun with what it is about; somebody has taken this end away.
        .ok_or_else(|| StoreError::Corrupt(format!("the trail's chain {chain} has no end")))?;
    Ok((head.position, head.hash))
}

/// Begins an empty chain.
pub(crate) async fn begin_chain(conn: &mut PgConnection, chain: Uuid) -> Result<(), StoreError> {
    sqlx::query!("insert into trail_head (chain, position, hash) values ($1, 0, '')", chain).execute(conn).await?;
    Ok(())
}
