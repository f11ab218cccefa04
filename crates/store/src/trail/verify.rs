//! The check of the trail: its hashes, its list of chains, and the tables that it tells of.

use std::collections::BTreeSet;

use futures::TryStreamExt;
use quality::trail::{Action, Link};
use sqlx::{Connection, PgConnection, PgPool};
use uuid::Uuid;

use super::append::SITE_CHAIN;
use super::expected::Expected;
use super::report::{Finding, Report};
use super::rows;
use super::seal::Seal;
use crate::once::compiled_once;
use crate::{StoreError, word};

/// Computes every hash again and compares; holds the chains against the list of them, against a seal,
/// and the tables against what the trail says of their rows. Reads one moment of the database, whatever
/// is saved meanwhile, and writes nothing.
#[compiled_once]
pub async fn verify(pool: &PgPool, against: Option<&Seal>) -> Result<Report, StoreError> {
    let mut conn = pool.acquire().await?;
    let mut tx = conn.begin_with("begin isolation level repeatable read read only").await?;
    let mut report = Report::default();
    let present: BTreeSet<Uuid> = sqlx::query_scalar!(
        r#"select chain as "chain!" from trail_head union select chain from trail union select id from characteristic"#
    )
    .fetch_all(&mut *tx)
    .await?
    .into_iter()
    .collect();
    let mut site = Expected::default();
    walk(&mut tx, SITE_CHAIN, &mut site, &mut report).await?;
    rows::of_site(&mut tx, &site, &mut report).await?;
    for &chain in present.iter().filter(|chain| **chain != SITE_CHAIN) {
        if !site.chains.contains(&chain) {
            report.find(Finding::Chain { chain, listed: false });
        }
        let mut expected = Expected::default();
        walk(&mut tx, chain, &mut expected, &mut report).await?;
        rows::of_characteristic(&mut tx, chain, &expected, &site.limits_before, &mut report).await?;
    }
    for &chain in site.chains.difference(&present) {
        report.find(Finding::Chain { chain, listed: true });
    }
    for (&chain, sealed) in against.iter().flat_map(|seal| &seal.chains) {
        let hash =
            sqlx::query_scalar!("select hash from trail where chain = $1 and position = $2", chain, sealed.position)
                .fetch_optional(&mut *tx)
                .await?;
        if hash.unwrap_or_default() != sealed.hash || !present.contains(&chain) {
            report.find(Finding::NotAsSealed { chain, position: sealed.position });
        }
    }
    Ok(report)
}

/// Computes the hashes of a chain again, up to the first that does not agree, and gathers what its
/// entries say.
async fn walk(
    conn: &mut PgConnection,
    chain: Uuid,
    expected: &mut Expected,
    report: &mut Report,
) -> Result<(), StoreError> {
    report.chains += 1;
    let head = sqlx::query!("select position, hash from trail_head where chain = $1", chain)
        .fetch_optional(&mut *conn)
        .await?;
    let (mut before, mut position) = (String::new(), 0);
    let mut entries = sqlx::query!(
        "select position, at, person_id, action, object, detail, hash from trail where chain = $1 order by position",
        chain
    )
    .fetch(conn);
    while let Some(row) = entries.try_next().await? {
        position += 1;
        let link = Link {
            before: &before,
            chain,
            position,
            at: row.at.timestamp_micros(),
            person: row.person_id,
            action: &row.action,
            object: row.object,
            detail: &row.detail,
        };
        if row.position != position || link.hash() != row.hash {
            report.find(Finding::Broken { chain, position });
            return Ok(());
        }
        before = row.hash;
        report.entries += 1;
        let action: Action = word::value(row.action)?;
        expected.take(action, row.object, row.person_id, row.at, &serde_json::from_str(&row.detail)?);
    }
    if head.is_none_or(|head| (head.position, head.hash) != (position, before)) {
        report.find(Finding::Broken { chain, position: position + 1 });
    }
    Ok(())
}
