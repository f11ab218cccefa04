//! A row as it comes out of a table, and what is known of all of them.

use chrono::{DateTime, Duration, NaiveDateTime, TimeZone, Utc};
use chrono_tz::Tz;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use uuid::Uuid;

/// A sample as it comes out of a table.
#[derive(Debug, Clone, PartialEq)]
pub struct ImportRow<'a> {
    /// The number of its first row in the sheet; nothing for a period without records.
    pub row: Option<u32>,
    /// What it is known by again; its number where there is none.
    pub key: Option<&'a str>,
    /// Its place among all samples, from 0.
    pub place: usize,
    /// As the table tells it.
    pub time: Option<NaiveDateTime>,
    /// What was recorded.
    pub content: RowContent<'a>,
    /// By name.
    pub tags: Vec<(&'a str, &'a str)>,
}

/// What a row recorded.
#[derive(Debug, Clone, PartialEq)]
pub enum RowContent<'a> {
    /// Nothing.
    Gap,
    /// Readings; nothing where one is missing.
    Readings(Vec<Option<f64>>),
    /// Things counted.
    Counted {
        /// How many in all.
        count: f64,
        /// Of how many units, where it is told.
        inspected: Option<f64>,
        /// By kind; none where kinds are not told.
        kinds: Vec<(&'a str, f64)>,
    },
}

/// Times for rows of a table that has none.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct StatedTimes {
    /// When the first sample was taken, on the site's clock.
    pub first: NaiveDateTime,
    /// From one sample to the next, in seconds: at least 1.
    pub every_seconds: u32,
}

/// How the times of a table are read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ImportTimes {
    /// Where the clock hangs.
    pub zone: Tz,
    /// For all samples, whatever the table tells.
    pub stated: Option<StatedTimes>,
}

impl ImportTimes {
    /// When a sample was taken; nothing where nothing tells it, or no calendar holds it.
    pub(super) fn of(&self, row: &ImportRow<'_>) -> Option<DateTime<Utc>> {
        let local = match self.stated {
            Some(StatedTimes { first, every_seconds }) => {
                let seconds = i64::from(every_seconds).checked_mul(i64::try_from(row.place).ok()?)?;
                first.checked_add_signed(Duration::try_seconds(seconds)?)?
            }
            None => row.time?,
        };
        let at = |local: NaiveDateTime| self.zone.from_local_datetime(&local).earliest();
        // A clock time that is skipped in spring is the hour after.
        let at = at(local).or_else(|| at(local.checked_add_signed(Duration::hours(1))?))?;
        Some(at.with_timezone(&Utc))
    }
}

/// Where rows come from: the list that a file holds, and what it is brought into.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ImportSource<'a> {
    /// The name of the list; a file that grows is the same list.
    pub name: &'a str,
    /// What it is brought into.
    pub characteristic: Uuid,
}

impl ImportSource<'_> {
    /// Under which rows are kept apart from what devices send.
    pub fn device(&self) -> Uuid {
        Uuid::new_v5(&self.characteristic, b"import")
    }

    /// The same each time the row comes.
    pub(super) fn entry(&self, row: &ImportRow<'_>, among: usize) -> Uuid {
        let known_by = match (row.key, row.row) {
            (Some(key), _) => format!("key\u{0}{key}"),
            (None, Some(number)) => number.to_string(),
            (None, None) => "gap".to_owned(),
        };
        Uuid::new_v5(&self.device(), format!("{}\u{0}{known_by}\u{0}{among}", self.name).as_bytes())
    }
}

impl ImportRow<'_> {
    /// What its cells say, so that a change is seen.
    pub(super) fn digest(&self) -> [u8; 16] {
        let mut hash = Sha256::new();
        let mut take = |part: &str| {
            hash.update(part.len().to_le_bytes());
            hash.update(part);
        };
        take(&self.time.map(|time| time.to_string()).unwrap_or_default());
        match &self.content {
            RowContent::Gap => take("gap"),
            RowContent::Readings(values) => {
                values.iter().for_each(|value| take(&value.map(|x| x.to_string()).unwrap_or_default()));
            }
            RowContent::Counted { count, inspected, kinds } => {
                take(&count.to_string());
                take(&inspected.map(|n| n.to_string()).unwrap_or_default());
                kinds.iter().for_each(|(kind, count)| take(&format!("{kind}\u{0}{count}")));
            }
        }
        self.tags.iter().for_each(|(tag, text)| take(&format!("{tag}\u{0}{text}")));
        let mut short = [0; 16];
        short.copy_from_slice(&hash.finalize()[..16]);
        short
    }
}
