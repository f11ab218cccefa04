//! Spans of time that samples are summed up by.

use chrono::{DateTime, Datelike, Days, Months, NaiveDate, NaiveDateTime, NaiveTime, TimeZone, Timelike, Utc};
use serde::{Deserialize, Serialize};

use crate::shift::Calendar;

/// How long a period is, by the clock and the calendar of the site.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Span {
    /// From one full hour to the next.
    Hour,
    /// A shift on its day.
    Shift,
    /// From midnight to midnight.
    Day,
    /// From Monday on (ISO 8601).
    Week,
    /// From the first of a month on.
    Month,
}

/// One of them.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Period {
    /// `2026-11-28 06:00`, `2026-11-28 Early`, `2026-11-28`, `2026-W48`, `2026-11`.
    pub name: String,
    /// When it began.
    pub began: DateTime<Utc>,
    /// When the next one begins.
    pub ends: DateTime<Utc>,
}

impl Span {
    /// The period that holds `at`; nothing without shifts, or at the ends of time.
    pub fn holding(self, at: DateTime<Utc>, calendar: &Calendar) -> Option<Period> {
        let local = at.with_timezone(&calendar.zone).naive_local();
        let day = local.date();
        let midnight = |day: NaiveDate| day.and_time(NaiveTime::MIN);
        let of = |name: String, from: NaiveDate, to: NaiveDate| {
            let (began, ends) = (begins(midnight(from), calendar)?, begins(midnight(to), calendar)?);
            Some(Period { name, began, ends })
        };
        match self {
            // Hours go by the hour whatever the clock does in autumn.
            Self::Hour => {
                let into = i64::from(local.minute()) * 60 + i64::from(local.second());
                let began = at - chrono::Duration::seconds(into);
                let began = began.with_nanosecond(0)?;
                let name = local.format("%Y-%m-%d %H:00").to_string();
                Some(Period { name, began, ends: began + chrono::Duration::hours(1) })
            }
            Self::Shift => {
                let turn = calendar.at(at)?;
                let day = turn.began.with_timezone(&calendar.zone).date_naive();
                Some(Period { name: format!("{day} {}", turn.name), began: turn.began, ends: turn.ends })
            }
            Self::Day => of(day.to_string(), day, day.checked_add_days(Days::new(1))?),
            Self::Week => {
                let week = day.iso_week();
                let monday = day.checked_sub_days(Days::new(day.weekday().num_days_from_monday().into()))?;
                of(format!("{}-W{:02}", week.year(), week.week()), monday, monday.checked_add_days(Days::new(7))?)
            }
            Self::Month => {
                let first = day.with_day(1)?;
                of(day.format("%Y-%m").to_string(), first, first.checked_add_months(Months::new(1))?)
            }
        }
    }
}

/// A clock time that is skipped in spring begins with the hour after; one that comes twice in autumn with the first.
fn begins(local: NaiveDateTime, calendar: &Calendar) -> Option<DateTime<Utc>> {
    let at = |local: NaiveDateTime| calendar.zone.from_local_datetime(&local).earliest();
    at(local).or_else(|| at(local + chrono::Duration::hours(1))).map(|at| at.with_timezone(&Utc))
}
