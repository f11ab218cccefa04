//! What is known of the rows of a table: stored before, as they are or otherwise, or new.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField};
use quality::import::{Entries, Extent, ImportEntry, ImportSource};
use serde::Serialize;
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// What is known of the rows of a table.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, ToSchema)]
pub struct Known {
    /// Stored before, and as they were.
    pub same: usize,
    /// Stored before with other cells.
    pub changed: usize,
    /// Not stored before.
    pub new: usize,
}

impl Known {
    /// So many of the known rows differ that it may be another list: more than a tenth.
    pub fn looks_like_another(&self) -> bool {
        self.changed * 10 > self.changed + self.same
    }
}

/// Entries that are looked for at once.
const LOOKED_FOR: usize = 10_000;

/// Entries by what is known of them.
#[derive(Debug, Default)]
pub struct Sorted {
    pub known: Known,
    /// Whether each of them is new, in their order.
    pub(super) is_new: Vec<bool>,
    /// Those that were stored before with other cells.
    pub changed: Vec<ImportEntry>,
    /// When the first of the new ones was taken.
    pub from: Option<DateTime<Utc>>,
    /// And the last.
    pub to: Option<DateTime<Utc>>,
}

/// What is known of entries.
///
/// # Errors
/// When the database fails.
pub async fn known(
    conn: &mut PgConnection,
    source: ImportSource<'_>,
    entries: &dyn Entries,
) -> Result<Sorted, StoreError> {
    let (mut sorted, mut each) = (Sorted::default(), entries.each());
    let device = source.device();
    let before = sqlx::query_scalar!(r#"select exists (select from sample where device = $1) as "any!""#, device);
    if !before.fetch_one(&mut *conn).await? {
        // The list is new, and so is each of them.
        let Extent { many, from, to } = entries.extent();
        let known = Known { new: many, ..Known::default() };
        return Ok(Sorted { known, is_new: vec![true; many], from, to, ..sorted });
    }
    loop {
        let some: Vec<ImportEntry> = each.by_ref().take(LOOKED_FOR).collect();
        let ids: Vec<Uuid> = some.iter().map(|entry| entry.entry).collect();
        let rows = sqlx::query!(
            r#"select entry, source_digest as "digest!" from sample where device = $1 and entry = any($2)"#,
            device,
            &ids
        );
        let rows = rows.fetch_all(&mut *conn).await?;
        let before: HashMap<Uuid, Vec<u8>> = rows.into_iter().map(|row| (row.entry, row.digest)).collect();
        for entry in some {
            let stored = before.get(&entry.entry);
            sorted.is_new.push(stored.is_none());
            match stored {
                None => {
                    sorted.from = Some(sorted.from.map_or(entry.taken_at, |from| from.min(entry.taken_at)));
                    sorted.to = sorted.to.max(Some(entry.taken_at));
                }
                Some(digest) if *digest == entry.digest => sorted.known.same += 1,
                Some(_) => sorted.changed.push(entry),
            }
        }
        if ids.len() < LOOKED_FOR {
            sorted.known.changed = sorted.changed.len();
            sorted.known.new = sorted.is_new.iter().filter(|is_new| **is_new).count();
            return Ok(sorted);
        }
    }
}

/// Rows of the list are known by these columns: by others each of them would be new, and stored twice.
///
/// # Errors
/// When they are known otherwise since the list was first brought in.
pub async fn known_by(conn: &mut PgConnection, source: ImportSource<'_>, key: &[String]) -> Result<(), StoreError> {
    let before = sqlx::query_scalar!(
        "select key from import where characteristic_id = $1 and source = $2 and stored > 0
             and state in ('staged', 'waiting', 'done')
         order by at limit 1",
        source.characteristic,
        source.name
    );
    match before.fetch_optional(conn).await? {
        Some(before) if before != key => Err(StoreError::KnownOtherwise { key: before }),
        _ => Ok(()),
    }
}

/// Longest name of a list, in characters.
const SOURCE_AT_MOST: usize = 200;

/// A list can be called so.
///
/// # Errors
/// When it cannot.
pub fn source_name(name: &str) -> Result<(), WrongField> {
    let many = name.chars().count();
    if (1..=SOURCE_AT_MOST).contains(&many) && !name.chars().any(char::is_control) {
        return Ok(());
    }
    Err(WrongField::new("source", Allowed::Text { most: SOURCE_AT_MOST }))
}

/// Samples of a characteristic that were taken at a time or later.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn later_than(conn: &mut PgConnection, characteristic: Uuid, at: DateTime<Utc>) -> Result<i64, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"select count(*) as "later!" from sample where characteristic_id = $1 and taken_at >= $2"#,
        characteristic,
        at
    )
    .fetch_one(conn)
    .await?)
}
