//! Rows that say something else than what was stored of them: they are offered as corrections, and never taken unasked.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::import::{ImportEntry, ImportSource};
use quality::sample::{Content, Defects};
use serde::Serialize;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::charts::content;
use crate::people::Person;
use crate::samples::correct_by_table;

/// A row that was stored with other cells.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ChangedRow {
    /// Its number in the sheet.
    pub row: Option<u32>,
    pub sample: Uuid,
    /// Number of the sample.
    pub number: i64,
    /// Counts its changes.
    pub version: i32,
    /// When it was taken.
    pub taken_at: DateTime<Utc>,
    /// What is stored; nothing for a gap.
    pub before: Option<Content>,
    /// What the row says now; nothing for a gap.
    pub now: Option<Content>,
    /// It can be corrected: it is of the same time, and neither was or is a gap.
    pub can_be_corrected: bool,
}

/// What stands in the place of rows that changed, with what they say.
///
/// # Errors
/// When the database fails.
pub async fn changed_rows<'a>(
    conn: &mut PgConnection,
    source: ImportSource<'_>,
    entries: &'a [ImportEntry],
) -> Result<Vec<(ChangedRow, &'a ImportEntry)>, StoreError> {
    let ids: Vec<Uuid> = entries.iter().map(|entry| entry.entry).collect();
    let stored = sqlx::query!(
        r#"select entry, id, number, version, taken_at, gap as "gap!", readings as "readings: Vec<Option<f64>>",
                  components as "components: Vec<Option<f64>>", inspected, defects as "defects: Json<Vec<Defects>>",
                  event, distance
           from sample where device = $1 and entry = any($2)"#,
        source.device(),
        &ids
    );
    let stored = stored.fetch_all(conn).await?;
    let mut by_entry: HashMap<Uuid, _> = stored.into_iter().map(|row| (row.entry, row)).collect();
    let of = |entry: &'a ImportEntry| {
        let row = by_entry.remove(&entry.entry)?;
        let columns = (row.readings, row.components);
        let before = content(columns, (row.inspected, row.defects.0), (row.event, row.distance)).filter(|_| !row.gap);
        let now = entry.taken.as_ref().map(|accepted| accepted.content.clone());
        let can_be_corrected = row.taken_at == entry.taken_at && before.is_some() && now.is_some();
        let (sample, number, version, taken_at) = (row.id, row.number, row.version, row.taken_at);
        let row = entry.row;
        Some((ChangedRow { row, sample, number, version, taken_at, before, now, can_be_corrected }, entry))
    };
    Ok(entries.iter().filter_map(of).collect())
}

/// Samples that are corrected at once.
const CORRECTED_AT_ONCE: usize = 200;

/// Corrects the samples of rows that changed, one after another, 200 at most, each with its entry in the trail; gives how
/// many. The rest, also where it ends early, is offered again.
///
/// # Errors
/// When a sample was changed meanwhile, or the reason is missing.
pub async fn correct_rows(
    pool: &PgPool,
    source: ImportSource<'_>,
    entries: &[ImportEntry],
    (person, now): (&Person, DateTime<Utc>),
    reason: &str,
) -> Result<usize, StoreError> {
    let mut conn = pool.acquire().await?;
    let rows = changed_rows(&mut conn, source, entries).await?;
    drop(conn);
    let mut corrected = 0;
    for (row, entry) in rows.into_iter().filter(|(row, _)| row.can_be_corrected).take(CORRECTED_AT_ONCE) {
        let Some(accepted) = &entry.taken else { continue };
        let digest = Some(entry.digest.as_slice());
        correct_by_table(pool, (row.sample, row.version), (person, now), (accepted, digest), reason).await?;
        corrected += 1;
    }
    Ok(corrected)
}
