//! An import begins, and is made at once where little of it is new.

use std::sync::Arc;

use chrono::{DateTime, Utc};
use quality::import::{Entries, ImportSource, StatedTimes};
use quality::run::RunRefusal;
use serde_json::Value;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use super::bring_in::{digested, done, from_rows};
use super::copying::unbroken;
use super::known::{Known, Sorted, known, known_by, later_than};
use super::left::Left;
use super::rows::Rows;
use crate::act::Act;
use crate::judging::{AT_ONCE, judge_again};
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

/// An import that has begun.
pub struct Started {
    pub id: Uuid,
    /// What is left to do before its samples are there, which takes a while; nothing where they are.
    pub left: Option<Left>,
}

/// Begins an import of what was checked; only what is new is stored. Little is made at once; much is left to whoever began
/// it.
///
/// # Errors
/// When the characteristic is missing, or is of a kind that nothing is brought into; when it may be another list, or its
/// rows are known otherwise.
#[compiled_once]
pub async fn start(pool: &PgPool, import: &Import, entries: Arc<dyn Entries>) -> Result<Started, StoreError> {
    unbroken(begun(pool.clone(), import.clone(), entries)).await
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
    let (characteristic, by, from) = (import.characteristic, (import.person, import.at), from.unwrap_or(import.at));
    let rows = Arc::new(Rows { import: id, first, entries, is_new, from, calendar });
    let behind = later_than(act.conn(), characteristic, from).await?;
    if !usize::try_from(behind).is_ok_and(|behind| known.new + behind <= AT_ONCE) {
        // Others go on meanwhile; the numbers are taken.
        act.keep().await?;
        return Ok(Started { id, left: Some(Left { rows, characteristic, new: known.new, by }) });
    }
    let phases = phases(act.conn(), setup.id).await?;
    let (made, digest) = from_rows(&mut act, &setup, &rows, None).await?;
    let (range, because) = (made.range.unwrap_or_default(), made.because(import.person, import.at));
    judge_again(&mut act, &setup, phases, range, because, None).await?;
    digested(act.conn(), id, &digest).await?;
    done(&mut act, characteristic, id).await?;
    act.commit().await?;
    Ok(Started { id, left: None })
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
