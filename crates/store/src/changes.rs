//! Samples in the order in which they changed, page by page, for programs that keep a copy: the trail of a characteristic
//! numbers all that was done, in the order in which it became visible, so that nothing slips between two pages.

use std::collections::{HashMap, HashSet};
use std::fmt;
use std::str::FromStr;

use chrono::{DateTime, Utc};
use quality::entry::Tags;
use quality::object::ObjectKind;
use quality::sample::Content;
use serde::Serialize;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::act::snapshot;
use crate::charts::{ChartPoint, Gap, Said, details};
use crate::once::compiled_once;

/// Samples of a page at most.
pub const PAGE_AT_MOST: usize = 10_000;

/// Entries of the trail that are looked at at once.
const ENTRIES: usize = 2_000;

/// How far a program has read: the entry of the trail that it reads next, and the number of the last sample it was told
/// of there, since an import is one entry of very many.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Cursor {
    position: i64,
    number: i64,
}

impl Default for Cursor {
    fn default() -> Self {
        Self { position: 1, number: 0 }
    }
}

impl fmt::Display for Cursor {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}.{}", self.position, self.number)
    }
}

impl FromStr for Cursor {
    type Err = ();

    fn from_str(text: &str) -> Result<Self, ()> {
        let (position, number) = text.split_once('.').ok_or(())?;
        let part = |text: &str| text.parse().ok().filter(|n| *n >= 0).ok_or(());
        Ok(Self { position: part(position)?, number: part(number)? })
    }
}

/// Where to begin.
#[derive(Debug, Clone, Copy)]
pub enum Begin {
    /// Where the page before ended; everything there is, where there was none.
    After(Cursor),
    /// At what was done at this time or later.
    Since(DateTime<Utc>),
}

/// A page of samples.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChangedSamples {
    /// As they are now, in the order in which they changed; each once.
    samples: Vec<SampleNow>,
    /// Asks for what changed after them: now, or at any later time.
    #[schema(example = "4711.0")]
    next: String,
    /// There are more already.
    more: bool,
}

/// A sample as it is now.
#[derive(Debug, Serialize, ToSchema)]
pub struct SampleNow {
    id: Uuid,
    /// Counts the samples of its characteristic as they came, from 1.
    number: i64,
    taken_at: DateTime<Utc>,
    /// When it reached the server.
    arrived_at: DateTime<Utc>,
    /// Who entered it.
    person: String,
    /// What it recorded; of a withdrawn sample what it had recorded, of a skipped one nothing.
    content: Option<Content>,
    /// The shift, from the calendar, and what was asked.
    #[schema(value_type = std::collections::BTreeMap<String, String>, example = json!({"shift": "Early", "lot": "K-17"}))]
    tags: Tags,
    /// Why there is a gap.
    gap: Option<Gap>,
    /// Left out of limits and rules, with the cause.
    aside: Option<Said>,
    /// Earlier contents are on record.
    corrected: bool,
    /// Counts its changes.
    version: i32,
}

impl From<ChartPoint> for SampleNow {
    fn from(point: ChartPoint) -> Self {
        let ChartPoint {
            sample,
            number,
            taken_at,
            arrived_at,
            person,
            content,
            tags,
            gap,
            aside,
            corrected,
            version,
            ..
        } = point;
        Self { id: sample, number, taken_at, arrived_at, person, content, tags, gap, aside, corrected, version }
    }
}

/// Samples that were saved, corrected, withdrawn, set aside or taken back, a page of them.
///
/// # Errors
/// When there is no such characteristic.
#[compiled_once]
pub async fn changed(
    pool: &PgPool,
    characteristic: Uuid,
    begin: Begin,
    at_most: usize,
) -> Result<ChangedSamples, StoreError> {
    // What is told and what is read of it are of one moment.
    let mut tx = snapshot(pool).await?;
    let there =
        sqlx::query_scalar!(r#"select exists (select from characteristic where id = $1) as "there!""#, characteristic);
    if !there.fetch_one(&mut *tx).await? {
        return Err(StoreError::Missing(ObjectKind::Characteristic));
    }
    let cursor = match begin {
        Begin::After(cursor) => cursor,
        Begin::Since(at) => since(&mut tx, characteristic, at).await?,
    };
    let (numbers, next, more) = told(&mut tx, characteristic, cursor, at_most).await?;
    let shown: Vec<(usize, i64)> = numbers.iter().map(|number| (0, *number)).collect();
    let points = details(&mut tx, characteristic, &shown).await?;
    let mut by_number: HashMap<i64, ChartPoint> = points.into_iter().map(|point| (point.number, point)).collect();
    let samples = numbers.iter().filter_map(|number| by_number.remove(number)).map(SampleNow::from).collect();
    Ok(ChangedSamples { samples, next: next.to_string(), more })
}

/// Before the first entry of a time or later; found from the end, since little has happened since.
async fn since(conn: &mut PgConnection, chain: Uuid, at: DateTime<Utc>) -> Result<Cursor, StoreError> {
    let before = sqlx::query_scalar!("select max(position) from trail where chain = $1 and at < $2", chain, at);
    let before = before.fetch_one(conn).await?.unwrap_or(0);
    Ok(Cursor { position: before + 1, number: 0 })
}

/// Numbers of samples that the trail tells of from a place on, each once, where to go on, and whether there are more.
async fn told(
    conn: &mut PgConnection,
    chain: Uuid,
    mut cursor: Cursor,
    at_most: usize,
) -> Result<(Vec<i64>, Cursor, bool), StoreError> {
    let (mut numbers, mut seen) = (Vec::new(), HashSet::new());
    loop {
        let entries = sqlx::query!(
            r#"select t.position, s.number as "sample?", i.first_number as "first?", i.stored as "many?"
               from trail t
               left join sample s on s.id = t.object and s.characteristic_id = t.chain
               left join import i on i.id = t.object and i.characteristic_id = t.chain
               where t.chain = $1 and t.position >= $2 order by t.position limit $3"#,
            chain,
            cursor.position,
            ENTRIES as i64
        );
        let entries = entries.fetch_all(&mut *conn).await?;
        for entry in &entries {
            let of = match (entry.sample, entry.first.zip(entry.many)) {
                (Some(number), _) => number..number + 1,
                (None, Some((first, many))) => first..first + i64::from(many),
                (None, None) => 0..0,
            };
            for number in of.start.max(cursor.number.saturating_add(1))..of.end {
                if numbers.len() == at_most {
                    return Ok((numbers, Cursor { position: entry.position, number: number - 1 }, true));
                }
                if seen.insert(number) {
                    numbers.push(number);
                }
            }
            cursor = Cursor { position: entry.position + 1, number: 0 };
        }
        if entries.len() < ENTRIES {
            return Ok((numbers, cursor, false));
        }
    }
}
