//! The calendar of shifts, in the site's time zone.

use chrono::{DateTime, Days, NaiveTime, TimeZone, Utc};
use chrono_tz::Tz;
use serde::{Deserialize, Serialize};

/// A shift of every day. It lasts until the next one begins.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Shift {
    /// Its name, such as `Early`.
    pub name: String,
    /// Clock time at which it begins, in the site's time zone.
    #[cfg_attr(feature = "schema", schema(value_type = String, example = "06:00:00"))]
    pub begins: NaiveTime,
}

/// The shifts of a day, in the site's time zone.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Calendar {
    /// Where the clock hangs.
    pub zone: Tz,
    /// In the order of the day.
    pub shifts: Vec<Shift>,
}

/// One shift on one day.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Turn {
    /// Name of the shift.
    pub name: String,
    /// When it began.
    pub began: DateTime<Utc>,
    /// When the next one begins.
    pub ends: DateTime<Utc>,
}

impl Calendar {
    /// The turn that holds `at`; `None` without shifts.
    pub fn at(&self, at: DateTime<Utc>) -> Option<Turn> {
        // At the ends of what a calendar holds a zone leads beyond it.
        let today = at
            .checked_add_signed(chrono::Duration::days(-2))
            .and(at.checked_add_signed(chrono::Duration::days(2)))
            .map(|_| at.with_timezone(&self.zone).date_naive())?;
        // A turn of the night began the day before; the next one may begin the day after.
        let days = [today.checked_sub_days(Days::new(1))?, today, today.checked_add_days(Days::new(1))?];
        let mut begins: Vec<(DateTime<Utc>, &Shift)> = days
            .iter()
            .flat_map(|day| self.shifts.iter().map(move |shift| (day.and_time(shift.begins), shift)))
            // A clock time that is skipped in spring begins with the hour after; one that comes twice in
            // autumn begins with the first.
            .filter_map(|(local, shift)| {
                let at = self.zone.from_local_datetime(&local).earliest();
                let at = at.or_else(|| self.zone.from_local_datetime(&(local + chrono::Duration::hours(1))).earliest());
                Some((at?.with_timezone(&Utc), shift))
            })
            .collect();
        begins.sort_by_key(|(begins, _)| *begins);
        let now = begins.iter().rposition(|(begins, _)| *begins <= at)?;
        let (began, shift) = begins[now];
        let (ends, _) = begins.get(now + 1)?;
        Some(Turn { name: shift.name.clone(), began, ends: *ends })
    }
}
