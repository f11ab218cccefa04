//! Each row through the one door for entries.

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

/// Entries of a table that can be gone through time and again: a million of them need not be held at once.
pub trait Entries: Send + Sync {
    /// Each that can be kept, in the order of the table.
    fn each(&self) -> Box<dyn Iterator<Item = ImportEntry> + Send + '_>;

    /// How many rows cannot.
    fn refused(&self) -> usize;

    /// How many can, and from when to when they were taken.
    fn extent(&self) -> Extent;
}

/// How many entries there are, and from when to when they were taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Extent {
    /// How many there are.
    pub many: usize,
    /// When the first was taken; nothing where there are none.
    pub from: Option<DateTime<Utc>>,
    /// When the last was.
    pub to: Option<DateTime<Utc>>,
}

impl Extent {
    /// One more.
    pub fn take(&mut self, taken_at: DateTime<Utc>) {
        self.many += 1;
        self.from = Some(self.from.map_or(taken_at, |from| from.min(taken_at)));
        self.to = self.to.max(Some(taken_at));
    }
}

/// Rows, checked, all of them held.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Checked {
    /// Those that can be kept.
    pub entries: Vec<ImportEntry>,
    /// Those that cannot.
    pub refused: Vec<RefusedRow>,
}

impl Entries for Checked {
    fn each(&self) -> Box<dyn Iterator<Item = ImportEntry> + Send + '_> {
        Box::new(self.entries.iter().cloned())
    }

    fn refused(&self) -> usize {
        self.refused.len()
    }

    fn extent(&self) -> Extent {
        let mut extent = Extent::default();
        self.entries.iter().for_each(|entry| extent.take(entry.taken_at));
        extent
    }
}

impl FromIterator<Result<ImportEntry, RefusedRow>> for Checked {
    fn from_iter<I: IntoIterator<Item = Result<ImportEntry, RefusedRow>>>(rows: I) -> Self {
        let mut checked = Self::default();
        for row in rows {
            match row {
                Ok(entry) => checked.entries.push(entry),
                Err(refused) => checked.refused.push(refused),
            }
        }
        checked
    }
}

/// Checks rows for a characteristic, one after another.
pub fn check<'a>(
    rows: impl IntoIterator<Item = ImportRow<'a>>,
    characteristic: &Characteristic,
    (times, now): (ImportTimes, DateTime<Utc>),
    source: ImportSource<'_>,
) -> impl Iterator<Item = Result<ImportEntry, RefusedRow>> {
    let mut among = Among::default();
    rows.into_iter().map(move |row| {
        let entry = source.entry(&row, among.place(row.row));
        let (taken_at, taken) =
            one(&row, characteristic, times, now).map_err(|refusal| RefusedRow { row: row.row, refusal })?;
        Ok(ImportEntry { row: row.row, entry, digest: row.digest(), taken_at, taken })
    })
}

/// Of several samples that begin in one row, or in none, each has its place. Those of a row follow each other.
#[derive(Default)]
struct Among {
    last: Option<(u32, usize)>,
    without_row: usize,
}

impl Among {
    fn place(&mut self, row: Option<u32>) -> usize {
        let Some(row) = row else {
            self.without_row += 1;
            return self.without_row - 1;
        };
        let place = self.last.filter(|(last, _)| *last == row).map_or(0, |(_, place)| place + 1);
        self.last = Some((row, place));
        place
    }
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
