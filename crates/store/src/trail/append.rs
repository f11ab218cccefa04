//! Writing into the trail.

use chrono::{DateTime, Utc};
use quality::trail::{Deed, Link};
use sqlx::PgConnection;
use uuid::Uuid;

use crate::news::{CHANNEL, News};
use crate::once::compiled_once;
use crate::{StoreError, word};

/// The chain of what concerns no single characteristic.
pub const SITE_CHAIN: Uuid = Uuid::nil();

/// Where a chain ends.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct End {
    pub position: i64,
    pub hash: String,
}

/// What is said of an act: deeds of chains, whose ends are held, and what listeners are told.
#[derive(Default)]
pub(crate) struct Said {
    chains: Vec<Uuid>,
    positions: Vec<i64>,
    at: Vec<DateTime<Utc>>,
    persons: Vec<Option<Uuid>>,
    actions: Vec<String>,
    objects: Vec<Uuid>,
    details: Vec<String>,
    hashes: Vec<String>,
    /// The chains that go on, and where they end now.
    longer: Vec<Uuid>,
    ends: Vec<(i64, String)>,
    told: Vec<String>,
}

impl Said {
    /// Lets a chain go on from where it ends.
    pub fn of_chain(&mut self, chain: Uuid, end: End, deeds: &[Deed]) -> Result<(), StoreError> {
        let End { mut position, hash: mut before } = end;
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
            self.chains.push(chain);
            self.positions.push(position);
            self.at.push(deed.at);
            self.persons.push(deed.person);
            self.actions.push(action);
            self.objects.push(deed.object);
            self.details.push(deed.detail.clone());
            self.hashes.push(before.clone());
        }
        self.longer.push(chain);
        self.ends.push((position, before));
        Ok(())
    }

    /// Tells listeners when, and only when, the act is committed.
    pub fn tell(&mut self, news: &News) -> Result<(), StoreError> {
        self.told.push(serde_json::to_string(news)?);
        Ok(())
    }

    /// Writes it, in one trip.
    #[compiled_once]
    pub async fn write(self, conn: &mut PgConnection) -> Result<(), StoreError> {
        if self.chains.is_empty() && self.told.is_empty() {
            return Ok(());
        }
        let (positions, hashes): (Vec<i64>, Vec<String>) = self.ends.into_iter().unzip();
        sqlx::query!(
            r#"with entry as (
                 insert into trail (chain, position, at, person_id, action, object, detail, hash)
                 select * from unnest($1::uuid[], $2::bigint[], $3::timestamptz[], $4::uuid[], $5::text[], $6::uuid[],
                     $7::text[], $8::text[])),
               ends as (
                 update trail_head h set position = e.position, hash = e.hash
                 from unnest($9::uuid[], $10::bigint[], $11::text[]) e (chain, position, hash) where h.chain = e.chain)
               select count(pg_notify($12, news)) as "told!" from unnest($13::text[]) news"#,
            &self.chains,
            &self.positions,
            &self.at,
            &self.persons as &[Option<Uuid>],
            &self.actions,
            &self.objects,
            &self.details,
            &self.hashes,
            &self.longer,
            &positions,
            &hashes,
            CHANNEL,
            &self.told
        )
        .fetch_one(conn)
        .await?;
        Ok(())
    }
}

/// Where a chain ends, held until the transaction ends.
pub(crate) async fn end(conn: &mut PgConnection, chain: Uuid) -> Result<End, StoreError> {
    sqlx::query_as!(End, "select position, hash from trail_head where chain = $1 for update", chain)
        .fetch_optional(conn)
        .await?
        // Each chain is begun with what it is about; somebody has taken this end away.
        .ok_or_else(|| StoreError::Corrupt(format!("the trail's chain {chain} has no end")))
}

/// Appends deeds to a chain, within the transaction that does them.
pub(crate) async fn append(conn: &mut PgConnection, chain: Uuid, deeds: &[Deed]) -> Result<(), StoreError> {
    let mut said = Said::default();
    said.of_chain(chain, end(&mut *conn, chain).await?, deeds)?;
    said.write(conn).await
}

/// Begins an empty chain.
pub(crate) async fn begin_chain(conn: &mut PgConnection, chain: Uuid) -> Result<(), StoreError> {
    sqlx::query!("insert into trail_head (chain, position, hash) values ($1, 0, '')", chain).execute(conn).await?;
    Ok(())
}
