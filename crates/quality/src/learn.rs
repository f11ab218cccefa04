//! What a period of episodes teaches: which causes come back where, how long answers and reviews take, how often nothing
//! is found, which rules find what at which stations in which weeks.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Datelike, Days, NaiveDate, Utc};
use chrono_tz::Tz;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

/// An episode, as far as it teaches something.
#[derive(Debug, Clone, PartialEq)]
pub struct Happening {
    /// Where.
    pub station: Uuid,
    /// When it began to ask.
    pub raised_at: DateTime<Utc>,
    /// When it was answered first.
    pub answered_at: Option<DateTime<Utc>>,
    /// When its last answer was given.
    pub last_answered_at: Option<DateTime<Utc>>,
    /// When the last review was made.
    pub reviewed_at: Option<DateTime<Utc>>,
    /// What its last answer names; nothing where nothing was found.
    pub cause: Option<CauseNamed>,
    /// The kinds of rules that were broken, such as `one_side`.
    pub rules: BTreeSet<String>,
}

/// A cause as an answer names it.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CauseNamed {
    /// Its entry in the catalogue; nothing for one in words alone.
    pub id: Option<Uuid>,
    /// As it is called.
    pub name: String,
}

/// How long something takes, in seconds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Takes {
    /// Of so many.
    pub of: usize,
    /// Half of them took no longer: the one in the middle, of two the longer.
    pub median: i64,
    /// Nine of ten took no longer (nearest rank).
    pub nine_of_ten: i64,
    /// The longest.
    pub longest: i64,
}

/// A cause, and where it was named.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CauseLearned {
    /// The cause.
    #[serde(flatten)]
    pub cause: CauseNamed,
    /// Episodes whose last answer names it.
    pub episodes: usize,
    /// How many weeks it was named in.
    pub weeks: usize,
    /// Where, most often first.
    pub stations: Vec<AtStation>,
}

/// Episodes at a station.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AtStation {
    /// Where.
    pub station: Uuid,
    /// How many.
    pub episodes: usize,
}

/// Episodes that broke a rule.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ByRule {
    /// The kind of rule, such as `one_side`.
    pub rule: String,
    /// How many; one that broke several counts with each.
    pub episodes: usize,
}

/// Episodes of a week.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct InWeek {
    /// Its Monday, by the clock of the site.
    pub monday: NaiveDate,
    /// How many were raised in it.
    pub episodes: usize,
}

/// What a period teaches.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Learned {
    /// Episodes that were raised.
    pub episodes: usize,
    /// Of these, answered.
    pub answered: usize,
    /// Of the answered, where nothing was found.
    pub nothing_found: usize,
    /// Their share of the answered, 0 to 1; nothing without any.
    pub nothing_found_share: Option<f64>,
    /// From raised to answered first.
    pub to_answer: Option<Takes>,
    /// From answered last to reviewed.
    pub to_review: Option<Takes>,
    /// The most frequent first.
    pub causes: Vec<CauseLearned>,
    /// The most frequent first.
    pub rules: Vec<ByRule>,
    /// The busiest first.
    pub stations: Vec<AtStation>,
    /// Each week from the first to the last, also those without any.
    pub weeks: Vec<InWeek>,
}

/// What episodes teach; weeks are those of the site's clock.
pub fn learn(episodes: &[Happening], zone: Tz) -> Learned {
    let answered: Vec<&Happening> = episodes.iter().filter(|e| e.answered_at.is_some()).collect();
    let seconds = |from: Option<DateTime<Utc>>, to: Option<DateTime<Utc>>| Some((to? - from?).num_seconds().max(0));
    let to_review =
        |e: &Happening| seconds(e.last_answered_at, e.reviewed_at.filter(|at| Some(*at) >= e.last_answered_at));
    let nothing_found = answered.iter().filter(|e| e.cause.is_none()).count();
    Learned {
        episodes: episodes.len(),
        answered: answered.len(),
        nothing_found,
        nothing_found_share: (!answered.is_empty()).then(|| nothing_found as f64 / answered.len() as f64),
        to_answer: takes(episodes.iter().filter_map(|e| seconds(Some(e.raised_at), e.answered_at)).collect()),
        to_review: takes(episodes.iter().filter_map(to_review).collect()),
        causes: causes(&answered, zone),
        rules: most_first(episodes.iter().flat_map(|e| e.rules.iter().cloned()))
            .into_iter()
            .map(|(rule, episodes)| ByRule { rule, episodes })
            .collect(),
        stations: at_stations(episodes.iter().map(|e| e.station)),
        weeks: weeks(episodes.iter().map(|e| monday(e.raised_at, zone)).collect()),
    }
}

fn causes(answered: &[&Happening], zone: Tz) -> Vec<CauseLearned> {
    let named = most_first(answered.iter().filter_map(|e| e.cause.clone()));
    let learned = named.into_iter().map(|(cause, episodes)| {
        let of = || answered.iter().filter(|e| e.cause.as_ref() == Some(&cause));
        let weeks = of().map(|e| monday(e.raised_at, zone)).collect::<BTreeSet<_>>().len();
        let stations = at_stations(of().map(|e| e.station));
        CauseLearned { episodes, weeks, stations, cause }
    });
    learned.collect()
}

fn at_stations(stations: impl Iterator<Item = Uuid>) -> Vec<AtStation> {
    most_first(stations).into_iter().map(|(station, episodes)| AtStation { station, episodes }).collect()
}

/// How often each comes, the most frequent first, those alike in their own order.
fn most_first<T: Ord>(all: impl Iterator<Item = T>) -> Vec<(T, usize)> {
    let mut counts: BTreeMap<T, usize> = BTreeMap::new();
    for one in all {
        *counts.entry(one).or_default() += 1;
    }
    let mut counts: Vec<(T, usize)> = counts.into_iter().collect();
    counts.sort_by_key(|(_, count)| std::cmp::Reverse(*count));
    counts
}

fn takes(mut seconds: Vec<i64>) -> Option<Takes> {
    seconds.sort_unstable();
    let of = seconds.len();
    let longest = *seconds.last()?;
    // The rank of nine tenths, rounded up.
    let nine = (of * 9).div_ceil(10).saturating_sub(1);
    Some(Takes { of, median: seconds[of / 2], nine_of_ten: seconds[nine], longest })
}

fn monday(at: DateTime<Utc>, zone: Tz) -> NaiveDate {
    let day = at.with_timezone(&zone).date_naive();
    day.checked_sub_days(Days::new(day.weekday().num_days_from_monday().into())).unwrap_or(day)
}

/// More weeks than this are not counted one by one: some ten years.
const WEEKS_AT_MOST: usize = 520;

fn weeks(mut mondays: Vec<NaiveDate>) -> Vec<InWeek> {
    mondays.sort_unstable();
    let (Some(first), Some(last)) = (mondays.first().copied(), mondays.last().copied()) else { return vec![] };
    let all = std::iter::successors(Some(first), |monday| monday.checked_add_days(Days::new(7)));
    let all = all.take_while(|monday| *monday <= last).take(WEEKS_AT_MOST);
    all.map(|monday| {
        let from = mondays.partition_point(|other| *other < monday);
        InWeek { monday, episodes: mondays.partition_point(|other| *other <= monday) - from }
    })
    .collect()
}
