//! An import begins: what is new is staged, and made at once where it is little.

use std::collections::HashMap;
use std::sync::Arc;

use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField};
use quality::import::{Entries, Extent, ImportEntry, ImportSource, StatedTimes};
use quality::run::RunRefusal;
use serde::Serialize;
use serde_json::Value;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::bring_in::{bring_in, done};
use super::stage::{Rows, stage};
use crate::act::Act;
use crate::judging::{AT_ONCE, Pending, judge_again, put_off};
use crate::limits::LimitsChange;
use crate::once::compiled_once;
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
    /// Columns that a row is known by again; none where it is known by its number.
    pub key: Vec<String>,
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
pub struct Sorted {
    pub known: Known,
    /// Whether each of them is new, in their order.
    is_new: Vec<bool>,
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

/// An import that has begun.
pub struct Started {
    pub id: Uuid,
    /// What is left to do before its samples can be judged aside, which takes a while; nothing where they are there.
    pub left: Option<Staging>,
}

/// Begins an import of what was checked; only what is new is stored. Little is made at once; much is staged by whoever
/// began it, and then left to the background.
///
/// # Errors
/// When the characteristic is missing, or is of a kind that nothing is brought into; when it may be another list, or its
/// rows are known otherwise.
#[compiled_once]
pub async fn start(pool: &PgPool, import: &Import, entries: Arc<dyn Entries>) -> Result<Started, StoreError> {
    unbroken(begun(pool.clone(), import.clone(), entries)).await
}

/// Goes on to its end, whoever stops waiting for it: a copy that is broken off would leave its connection unready for
/// whoever has it next.
async fn unbroken<T: Send + 'static>(
    work: impl Future<Output = Result<T, StoreError>> + Send + 'static,
) -> Result<T, StoreError> {
    tokio::spawn(work).await.map_err(|error| StoreError::Corrupt(error.to_string()))?
}

async fn begun(pool: PgPool, import: Import, entries: Arc<dyn Entries>) -> Result<Started, StoreError> {
    let id = Uuid::new_v4();
    let source = ImportSource { name: &import.source, characteristic: import.characteristic };
    let mut act = Act::begin(&pool).await?;
    let setup = act.take(import.characteristic).await?;
    if setup.analyte.is_some() {
        return Err(RunRefusal::InARun.into());
    }
    known_by(act.conn(), source, &import.key).await?;
    // Of two that come at once the second sees what the first has stored, and numbers do not meet.
    let Sorted { known, is_new, from, .. } = known(act.conn(), source, &*entries).await?;
    if known.looks_like_another() && !import.same_list {
        return Err(StoreError::AnotherList { same: known.same, changed: known.changed });
    }
    let first = begin(act.conn(), id, &import, (known, entries.refused())).await?;
    if known.new == 0 {
        sqlx::query!("update import set state = 'done', ended_at = $2 where id = $1", id, import.at)
            .execute(act.conn())
            .await?;
        act.keep().await?;
        return Ok(Started { id, left: None });
    }
    let calendar = sites::calendar(act.conn()).await?;
    let (characteristic, by) = (import.characteristic, (import.person, import.at));
    let rows = Rows { import: id, first, entries, is_new, calendar };
    let behind = later_than(act.conn(), characteristic, from.unwrap_or(import.at)).await?;
    if !usize::try_from(behind).is_ok_and(|behind| known.new + behind <= AT_ONCE) {
        // Others go on meanwhile; the numbers are taken.
        act.keep().await?;
        return Ok(Started { id, left: Some(Staging { rows, characteristic, new: known.new, by }) });
    }
    stage(act.conn(), rows).await?;
    let phases = phases(act.conn(), setup.id).await?;
    let made = bring_in(&mut act, &setup, id).await?;
    let (range, because) = (made.range.unwrap_or_default(), made.because(import.person, import.at));
    judge_again(&mut act, &setup, phases, range, because, None).await?;
    done(&mut act, characteristic, id).await?;
    act.commit().await?;
    Ok(Started { id, left: None })
}

/// New samples that are copied into a table of their own.
pub struct Staging {
    rows: Rows,
    characteristic: Uuid,
    /// How many there are.
    new: usize,
    by: (Uuid, DateTime<Utc>),
}

impl Staging {
    /// Copies them, and lets them be judged aside. Where it was cancelled meanwhile nothing of it is kept.
    ///
    /// # Errors
    /// When the database fails: nobody copies it then, and it is given up.
    #[compiled_once]
    pub async fn stage(self, pool: &PgPool) -> Result<(), StoreError> {
        unbroken(self.staged(pool.clone())).await
    }

    async fn staged(self, pool: PgPool) -> Result<(), StoreError> {
        let mut act = Act::begin(&pool).await?;
        let import = self.rows.import;
        stage(act.conn(), self.rows).await?;
        let waits = sqlx::query!("update import set state = 'waiting' where id = $1 and state = 'staged'", import);
        if waits.execute(act.conn()).await?.rows_affected() == 0 {
            return Ok(());
        }
        let pending: Pending<LimitsChange> = Pending::Import { import };
        put_off(&mut act, self.characteristic, &pending, self.by, self.new).await?;
        act.keep().await
    }
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
             at, state, stored, known, changed, refused, first_number, key)
         select $1, $3, $4, $5, $6, $7, $8, $9, $10, $11, 'staged', $2, $12, $13, $14, head.first, $15 from head
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
        many(refused),
        &import.key
    )
    .fetch_one(conn)
    .await?)
}
