//! An import begins: what is new is staged, and made at once where it is little.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField};
use quality::import::{Checked, ImportEntry, ImportSource, StatedTimes};
use quality::run::RunRefusal;
use serde::Serialize;
use serde_json::Value;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::abandoned::copying;
use super::bring_in::{bring_in, done};
use super::stage::stage;
use crate::act::Act;
use crate::judging::{AT_ONCE, Pending, judge_again, put_off};
use crate::limits::LimitsChange;
use crate::phases::phases;
use crate::{StoreError, sites};

/// What is brought in, from where, and how it was read.
#[derive(Debug, Clone)]
pub struct Import {
    /// Into this.
    pub characteristic: Uuid,
    /// Name and SHA-256 of the file.
    pub file: (String, String),
    /// The list that its rows belong to.
    pub source: String,
    pub recipe: Value,
    /// The kept recipe, where it is one.
    pub recipe_id: Option<Uuid>,
    pub stated: Option<StatedTimes>,
    /// Many rows that were known may differ, and it is the same list all the same.
    pub same_list: bool,
    pub person: Uuid,
    pub at: DateTime<Utc>,
}

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
pub struct Sorted<'a> {
    pub known: Known,
    /// Not stored before.
    pub new: Vec<&'a ImportEntry>,
    /// Stored before with other cells.
    pub changed: Vec<&'a ImportEntry>,
}

/// What is known of entries.
///
/// # Errors
/// When the database fails.
pub async fn known<'a>(
    conn: &mut PgConnection,
    source: ImportSource<'_>,
    entries: &'a [ImportEntry],
) -> Result<Sorted<'a>, StoreError> {
    let mut sorted = Sorted::default();
    for some in entries.chunks(LOOKED_FOR) {
        let ids: Vec<Uuid> = some.iter().map(|entry| entry.entry).collect();
        let rows = sqlx::query!(
            r#"select entry, source_digest as "digest!" from sample where device = $1 and entry = any($2)"#,
            source.device(),
            &ids
        );
        let rows = rows.fetch_all(&mut *conn).await?;
        let before: HashMap<Uuid, Vec<u8>> = rows.into_iter().map(|row| (row.entry, row.digest)).collect();
        for entry in some {
            match before.get(&entry.entry) {
                None => sorted.new.push(entry),
                Some(digest) if *digest == entry.digest => sorted.known.same += 1,
                Some(_) => sorted.changed.push(entry),
            }
        }
    }
    (sorted.known.new, sorted.known.changed) = (sorted.new.len(), sorted.changed.len());
    Ok(sorted)
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
pub async fn later_than(conn: &mut PgConnection, characteristic: Uuid, at: DateTime<Utc>) -> Result<i64, StoreError> {
    Ok(sqlx::query_scalar!(
        r#"select count(*) as "later!" from sample where characteristic_id = $1 and taken_at >= $2"#,
        characteristic,
        at
    )
    .fetch_one(conn)
    .await?)
}

/// Begins an import of what was checked; only what is new is stored. Little is made at once, much is left to the
/// background. Gives its id.
///
/// # Errors
/// When the characteristic is missing, or is of a kind that nothing is brought into; when it may be another list.
pub async fn start(pool: &PgPool, import: &Import, checked: &Checked) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    let source = ImportSource { name: &import.source, characteristic: import.characteristic };
    let mut act = Act::begin(pool).await?;
    let setup = act.take(import.characteristic).await?;
    if setup.analyte.is_some() {
        return Err(RunRefusal::InARun.into());
    }
    // Of two that come at once the second sees what the first has stored, and numbers do not meet.
    let Sorted { known, new, .. } = known(act.conn(), source, &checked.entries).await?;
    if known.looks_like_another() && !import.same_list {
        return Err(StoreError::AnotherList { same: known.same, changed: known.changed });
    }
    let first = begin(act.conn(), id, import, (known, checked.refused.len())).await?;
    if new.is_empty() {
        sqlx::query!("update import set state = 'done', ended_at = $2 where id = $1", id, import.at)
            .execute(act.conn())
            .await?;
        act.keep().await?;
        return Ok(id);
    }
    let new: Vec<ImportEntry> = new.into_iter().cloned().collect();
    let calendar = sites::calendar(act.conn()).await?;
    let first_taken = new.iter().map(|entry| entry.taken_at).min().unwrap_or(import.at);
    let behind = later_than(act.conn(), import.characteristic, first_taken).await?;
    let at_once = usize::try_from(behind).is_ok_and(|behind| new.len() + behind <= AT_ONCE);
    if !at_once {
        // Others go on meanwhile; the numbers are taken.
        act.keep().await?;
        act = Act::begin(pool).await?;
    }
    copying(act.conn(), id).await?;
    stage(act.conn(), (id, first), &new, &calendar).await?;
    if at_once {
        let phases = phases(act.conn(), setup.id).await?;
        let made = bring_in(&mut act, &setup, id).await?;
        let (range, because) = (made.range.unwrap_or_default(), made.because(import.person, import.at));
        judge_again(&mut act, &setup, phases, range, because).await?;
        done(&mut act, id).await?;
        act.commit().await?;
        return Ok(id);
    }
    let waits = sqlx::query!("update import set state = 'waiting' where id = $1 and state = 'staged'", id);
    if waits.execute(act.conn()).await?.rows_affected() == 0 {
        // It was cancelled while it was staged.
        return Ok(id);
    }
    let pending: Pending<LimitsChange> = Pending::Import { import: id };
    put_off(&mut act, import.characteristic, &pending, (import.person, import.at), new.len()).await?;
    act.keep().await?;
    Ok(id)
}

/// Writes the import down and takes the numbers of its samples; gives the first.
async fn begin(
    conn: &mut PgConnection,
    id: Uuid,
    import: &Import,
    (known, refused): (Known, usize),
) -> Result<i64, StoreError> {
    let many = |n: usize| i32::try_from(n).unwrap_or(i32::MAX);
    let (file, digest) = &import.file;
    Ok(sqlx::query_scalar!(
        r#"with head as (update sample_head set next_number = next_number + $2::int where characteristic_id = $3
                       returning next_number - $2::int as first)
         insert into import (id, characteristic_id, file_name, file_digest, source, recipe, recipe_id, stated, person_id,
             at, state, stored, known, changed, refused, first_number)
         select $1, $3, $4, $5, $6, $7, $8, $9, $10, $11, 'staged', $2, $12, $13, $14, head.first from head
         returning first_number"#,
        id,
        many(known.new),
        import.characteristic,
        file,
        digest,
        import.source,
        import.recipe,
        import.recipe_id,
        import.stated.map(Json) as Option<Json<StatedTimes>>,
        import.person,
        import.at,
        many(known.same),
        many(known.changed),
        many(refused)
    )
    .fetch_one(conn)
    .await?)
}
