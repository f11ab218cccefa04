//! What a peer group tells of a month.

use std::fmt;

use chrono::{DateTime, Datelike, NaiveDate, TimeZone, Utc};
use serde::de::{Deserializer, Error};
use serde::{Deserialize, Serialize, Serializer};

/// Statistics of a group, as they come in: over the network and as a file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct GroupStatistics {
    /// Any number.
    pub statistics: Vec<PeerStatistic>,
}

/// A month of a level in the group, of all its laboratories.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PeerStatistic {
    /// What the group calls the level.
    pub code: String,
    /// The month.
    pub month: Month,
    /// Lot of the control material; of all lots where none is named.
    #[serde(default)]
    pub control_lot: Option<String>,
    /// Lot of the reagent; of all lots where none is named.
    #[serde(default)]
    pub reagent_lot: Option<String>,
    /// Of mean and sd; the unit of the results where none is named.
    #[serde(default)]
    pub unit: Option<String>,
    /// How many laboratories.
    #[serde(default)]
    pub laboratories: Option<u32>,
    /// How many results, from 2.
    pub n: u64,
    /// Their mean.
    pub mean: f64,
    /// Their standard deviation, divisor n − 1, above 0.
    pub sd: f64,
}

/// Means and standard deviations at most.
const LARGEST: f64 = 1e15;

/// Results of a month at most.
const RESULTS_AT_MOST: u64 = 1_000_000_000;

/// Longest name of a lot, in characters.
const LOT_AT_MOST: usize = 80;

/// What of a statistic cannot be.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum WrongStatistic {
    /// The group has no level that is called so here.
    Code,
    /// Another unit than the level's.
    Unit,
    /// Fewer results than 2, or more than there can be.
    N,
    /// No number of a size that is measured.
    Mean,
    /// Not above 0.
    Sd,
    /// The name of a lot is too long.
    Lot,
    /// It told of the same month, level and lots before, in the same file.
    Twice,
}

impl PeerStatistic {
    /// Whether a level whose results are in `unit` can be compared with it.
    ///
    /// # Errors
    /// What of it cannot be.
    pub fn check(&self, unit: &str) -> Result<(), WrongStatistic> {
        let too_long = |lot: &Option<String>| lot.as_ref().is_some_and(|lot| lot.chars().count() > LOT_AT_MOST);
        if self.unit.as_deref().is_some_and(|given| given.trim() != unit) {
            Err(WrongStatistic::Unit)
        } else if !(2..=RESULTS_AT_MOST).contains(&self.n) {
            Err(WrongStatistic::N)
        } else if !(-LARGEST..=LARGEST).contains(&self.mean) {
            Err(WrongStatistic::Mean)
        } else if !(self.sd > 0.0 && self.sd <= LARGEST) {
            Err(WrongStatistic::Sd)
        } else if too_long(&self.control_lot) || too_long(&self.reagent_lot) {
            Err(WrongStatistic::Lot)
        } else {
            Ok(())
        }
    }
}

/// A month of the calendar, written as `2026-03`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Month(NaiveDate);

impl Month {
    /// The month that a day lies in.
    pub fn of(day: NaiveDate) -> Self {
        Self(day.with_day(1).unwrap_or(day))
    }

    /// The month that a moment lies in, by the clocks of a place.
    pub fn at(moment: DateTime<Utc>, zone: &impl TimeZone) -> Self {
        Self::of(moment.with_timezone(zone).date_naive())
    }

    /// Its first day.
    pub fn first(self) -> NaiveDate {
        self.0
    }

    /// So many months before it.
    pub fn before(self, months: u32) -> Self {
        Self(self.0.checked_sub_months(chrono::Months::new(months)).unwrap_or(self.0))
    }
}

impl fmt::Display for Month {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:04}-{:02}", self.0.year(), self.0.month())
    }
}

impl Serialize for Month {
    fn serialize<S: Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        to.collect_str(self)
    }
}

impl<'de> Deserialize<'de> for Month {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let text = String::deserialize(from)?;
        let day = NaiveDate::parse_from_str(&format!("{}-01", text.trim()), "%Y-%m-%d");
        let first = day.ok().filter(|day| (1900..=2999).contains(&day.year()));
        first.map(Self).ok_or_else(|| D::Error::custom(format!("{text} is not a month such as 2026-03")))
    }
}
