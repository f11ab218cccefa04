//! Each row through the one door for entries.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use serde::Serialize;
use uuid::Uuid;

use super::row::{ImportRow, ImportSource, ImportTimes, RowContent};
use crate::characteristic::{Characteristic, Kind};
use crate::entry::{Accepted, EntryRefusal, Origin, Tags, TimeRefusal, Typed, Usual, accept, accept_time};
use crate::reading::ReadingRefusal;
use crate::sample::Defects;

/// A row that can be kept.
#[derive(Debug, Clone, PartialEq)]
pub struct ImportEntry {
    /// The number of its first row in the sheet.
    pub row: Option<u32>,
    /// The same each time the row comes.
    pub entry: Uuid,
    /// What its cells say.
    pub digest: [u8; 16],
    /// When it was taken.
    pub taken_at: DateTime<Utc>,
    /// What was recorded; nothing for a gap.
    pub taken: Option<Accepted>,
}

/// Why a row cannot be kept.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "reason", rename_all = "snake_case")]
pub enum RowRefusal {
    /// It tells no time, and none was stated.
    NoTime,
    /// It lies in the future.
    InTheFuture {
        /// When.
        taken_at: DateTime<Utc>,
    },
    /// It lies before 1970.
    TooEarly {
        /// When.
        taken_at: DateTime<Utc>,
    },
    /// It cannot be kept as an entry.
    Entry {
        /// Every reason.
        refusals: Vec<ReadingRefusal>,
    },
}

/// A row that cannot be kept.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RefusedRow {
    /// Its number in the sheet; nothing for a period without records.
    pub row: Option<u32>,
    /// Why.
    #[serde(flatten)]
    pub refusal: RowRefusal,
}

/// Rows, checked.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Checked {
    /// Those that can be kept.
    pub entries: Vec<ImportEntry>,
    /// Those that cannot.
    pub refused: Vec<RefusedRow>,
}

/// Checks rows for a characteristic.
pub fn check<'a>(
    rows: impl IntoIterator<Item = ImportRow<'a>>,
    characteristic: &Characteristic,
    (times, now): (ImportTimes, DateTime<Utc>),
    source: ImportSource<'_>,
) -> Checked {
    let mut checked = Checked::default();
    // Of several samples that begin in one row, each has its place.
    let mut among: HashMap<Option<u32>, usize> = HashMap::new();
    for row in rows {
        let place = among.entry(row.row).and_modify(|place| *place += 1).or_insert(0);
        let entry = source.entry(row.row, *place);
        match one(&row, characteristic, times, now) {
            Ok((taken_at, taken)) => {
                checked.entries.push(ImportEntry { row: row.row, entry, digest: row.digest(), taken_at, taken });
            }
            Err(refusal) => checked.refused.push(RefusedRow { row: row.row, refusal }),
        }
    }
    checked
}

fn one(
    row: &ImportRow<'_>,
    characteristic: &Characteristic,
    times: ImportTimes,
    now: DateTime<Utc>,
) -> Result<(DateTime<Utc>, Option<Accepted>), RowRefusal> {
    let taken_at = times.of(row).ok_or(RowRefusal::NoTime)?;
    let taken_at = accept_time(Some(taken_at), now, Origin::Import).map_err(|refusal| match refusal {
        TimeRefusal::TooEarly { given } => RowRefusal::TooEarly { taken_at: given },
        TimeRefusal::Future { given, .. } | TimeRefusal::LongAgo { given } => {
            RowRefusal::InTheFuture { taken_at: given }
        }
    })?;
    let Some(typed) = typed(row, characteristic) else { return Ok((taken_at, None)) };
    match accept(characteristic, &Usual::EVERYTHING, &typed, Origin::Import) {
        Ok(accepted) => Ok((taken_at, Some(accepted))),
        Err(EntryRefusal::Readings(refusals)) => Err(RowRefusal::Entry { refusals }),
        // Nobody is asked about what is brought in.
        Err(EntryRefusal::Unusual(_)) => Err(RowRefusal::Entry { refusals: vec![] }),
    }
}

/// As it would be typed; nothing for a gap.
fn typed(row: &ImportRow<'_>, characteristic: &Characteristic) -> Option<Typed> {
    let text = |x: &f64| x.to_string();
    let mut typed = match &row.content {
        RowContent::Gap => return None,
        RowContent::Readings(values) if characteristic.kind == Kind::RareEvent => {
            let between =
                values.iter().map(|x| x.as_ref().map_or_else(String::new, text)).collect::<Vec<_>>().join(" ");
            Typed { between: (!characteristic.asks_when()).then_some(between), ..Typed::default() }
        }
        RowContent::Readings(values) => Typed {
            readings: values.iter().map(|x| x.as_ref().map_or_else(String::new, text)).collect(),
            left_out: values.iter().enumerate().filter(|(_, x)| x.is_none()).map(|(i, _)| i + 1).collect(),
            ..Typed::default()
        },
        RowContent::Counted { count, inspected, kinds } => Typed {
            inspected: inspected.as_ref().map(text),
            defects: defects(*count, kinds, characteristic),
            ..Typed::default()
        },
    };
    let tags = row.tags.iter().map(|(tag, text)| ((*tag).to_owned(), (*text).to_owned()));
    let mut all = Tags::default();
    all.extend(tags);
    typed.tags = all;
    Some(typed)
}

/// What a kind is called that no table tells.
const NOT_TOLD: &str = "not told";

fn defects(count: f64, kinds: &[(&str, f64)], characteristic: &Characteristic) -> Vec<Defects> {
    // What is too many is refused by the door.
    let whole = |count: f64| count as u32;
    let one = |name: &str, count: f64| {
        let known = characteristic.defect_kinds.iter().find(|kind| kind.name.eq_ignore_ascii_case(name.trim()));
        let word = known.is_none().then(|| name.trim().to_owned());
        Defects { kind: known.map(|kind| kind.id), word, count: whole(count) }
    };
    let found = |counts: &mut dyn Iterator<Item = (&str, f64)>| {
        counts.filter(|(_, count)| *count > 0.0).map(|(name, count)| one(name, count)).collect()
    };
    match (kinds, &characteristic.defect_kinds[..]) {
        ([], [only]) => found(&mut std::iter::once((only.name.as_str(), count))),
        ([], _) => found(&mut std::iter::once((NOT_TOLD, count))),
        (kinds, _) => found(&mut kinds.iter().copied()),
    }
}
