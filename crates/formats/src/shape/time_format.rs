//! Formats of times, as in strftime, with a few of its marks: what a text that fits one says, to the second.

use chrono::{NaiveDate, NaiveDateTime, NaiveTime};

/// A format.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct TimeFormat(Vec<Part>);

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Part {
    Mark(Mark),
    Text(char),
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Mark {
    Year,
    YearOfTwoDigits,
    Month,
    MonthShort,
    MonthLong,
    Day,
    DayOfTheYear,
    Hour,
    HourOfTwelve,
    Minute,
    Second,
    Half,
}

const MONTHS: [&str; 12] = [
    "january",
    "february",
    "march",
    "april",
    "may",
    "june",
    "july",
    "august",
    "september",
    "october",
    "november",
    "december",
];

/// What has been read of a time.
#[derive(Debug, Clone, Copy, Default)]
struct Said {
    year: Option<i32>,
    month: Option<u32>,
    day: Option<u32>,
    day_of_the_year: Option<u32>,
    hour: Option<u32>,
    hour_of_twelve: Option<u32>,
    afternoon: Option<bool>,
    minute: u32,
    second: u32,
}

impl TimeFormat {
    /// Reads a format.
    ///
    /// # Errors
    /// What is right, where it holds another mark, the same thing twice, or gives no full date.
    pub fn new(text: &str) -> Result<Self, String> {
        let mut parts = Vec::new();
        let mut chars = text.chars();
        while let Some(c) = chars.next() {
            if c != '%' {
                parts.push(Part::Text(c));
                continue;
            }
            let mark = match chars.next() {
                Some('Y') => Mark::Year,
                Some('y') => Mark::YearOfTwoDigits,
                Some('m') => Mark::Month,
                Some('b') => Mark::MonthShort,
                Some('B') => Mark::MonthLong,
                Some('d') => Mark::Day,
                Some('j') => Mark::DayOfTheYear,
                Some('H') => Mark::Hour,
                Some('I') => Mark::HourOfTwelve,
                Some('M') => Mark::Minute,
                Some('S') => Mark::Second,
                Some('p') => Mark::Half,
                _ => return Err("one with %Y %m %d %H %M %S %y %b %B %p %I %j and no other mark".into()),
            };
            parts.push(Part::Mark(mark));
        }
        let has = |mark: Mark| parts.contains(&Part::Mark(mark));
        let year = has(Mark::Year) || has(Mark::YearOfTwoDigits);
        let month = has(Mark::Month) || has(Mark::MonthShort) || has(Mark::MonthLong);
        if !year || !(has(Mark::DayOfTheYear) || has(Mark::Day) && month) {
            return Err("one that gives a full date".into());
        }
        Ok(Self(parts))
    }

    /// The time that a trimmed text says; nothing where it does not fit wholly, or says no time that there is.
    pub fn read(&self, text: &str) -> Option<NaiveDateTime> {
        let mut rest = text;
        let mut said = Said::default();
        for part in &self.0 {
            rest = match part {
                Part::Text(c) => {
                    let mut chars = rest.chars();
                    chars.next().filter(|next| next == c)?;
                    chars.as_str()
                }
                Part::Mark(mark) => said.take(*mark, rest)?,
            };
        }
        if rest.is_empty() { said.time() } else { None }
    }
}

/// Up to `most` digits, and what comes behind them.
fn digits(text: &str, least: usize, most: usize) -> Option<(u32, &str)> {
    let digits = text.bytes().take(most).take_while(u8::is_ascii_digit);
    let (many, number) = digits.fold((0, 0), |(many, number), digit| (many + 1, 10 * number + u32::from(digit - b'0')));
    if many < least { None } else { Some((number, &text[many..])) }
}

/// One of some names, in capitals or not.
fn name(text: &str, names: impl Iterator<Item = &'static str>) -> Option<(u32, &str)> {
    let fits = |name: &str| text.get(..name.len()).is_some_and(|start| start.eq_ignore_ascii_case(name));
    let (place, name) = (0..).zip(names).filter(|(_, name)| fits(name)).max_by_key(|(_, name)| name.len())?;
    Some((place, text.get(name.len()..)?))
}

/// Keeps what is said of a field; said twice, it must be the same.
fn once<T: PartialEq + Copy>(field: &mut Option<T>, now: T) -> Option<()> {
    if field.is_some_and(|before| before != now) {
        return None;
    }
    *field = Some(now);
    Some(())
}

impl Said {
    fn take<'a>(&mut self, mark: Mark, text: &'a str) -> Option<&'a str> {
        let two = || digits(text, 1, 2);
        let rest = match mark {
            Mark::Year => {
                let (year, rest) = digits(text, 4, 4)?;
                once(&mut self.year, i32::try_from(year).ok()?)?;
                rest
            }
            Mark::YearOfTwoDigits => {
                let (year, rest) = digits(text, 2, 2)?;
                let year = i32::try_from(year).ok()?;
                once(&mut self.year, if year >= 69 { 1900 + year } else { 2000 + year })?;
                rest
            }
            Mark::Month => {
                let (month, rest) = two()?;
                once(&mut self.month, month)?;
                rest
            }
            Mark::MonthShort => {
                let (place, rest) = name(text, MONTHS.into_iter().map(|month| &month[..3]))?;
                once(&mut self.month, place + 1)?;
                rest
            }
            Mark::MonthLong => {
                let (place, rest) = name(text, MONTHS.into_iter())?;
                once(&mut self.month, place + 1)?;
                rest
            }
            Mark::Day => {
                let (day, rest) = two()?;
                once(&mut self.day, day)?;
                rest
            }
            Mark::DayOfTheYear => {
                let (day, rest) = digits(text, 1, 3)?;
                once(&mut self.day_of_the_year, day)?;
                rest
            }
            Mark::Hour => {
                let (hour, rest) = two()?;
                once(&mut self.hour, hour)?;
                rest
            }
            Mark::HourOfTwelve => {
                let (hour, rest) = two()?;
                once(&mut self.hour_of_twelve, hour)?;
                rest
            }
            Mark::Minute => {
                let (minute, rest) = two()?;
                self.minute = minute;
                rest
            }
            Mark::Second => {
                let (second, rest) = two()?;
                self.second = second;
                rest
            }
            Mark::Half => {
                let (half, rest) = name(text, ["am", "pm"].into_iter())?;
                once(&mut self.afternoon, half == 1)?;
                rest
            }
        };
        Some(rest)
    }

    fn time(self) -> Option<NaiveDateTime> {
        let year = self.year?;
        let date = match (self.month, self.day) {
            (Some(month), Some(day)) => NaiveDate::from_ymd_opt(year, month, day)?,
            _ => NaiveDate::from_yo_opt(year, self.day_of_the_year?)?,
        };
        if self.day_of_the_year.is_some_and(|day| NaiveDate::from_yo_opt(year, day) != Some(date)) {
            return None;
        }
        let of_twelve = match self.hour_of_twelve {
            Some(hour) if (1..=12).contains(&hour) => {
                Some(hour % 12 + if self.afternoon == Some(true) { 12 } else { 0 })
            }
            Some(_) => return None,
            None => None,
        };
        let hour = match (self.hour, of_twelve) {
            (Some(hour), Some(other)) if hour != other => return None,
            (Some(hour), _) | (None, Some(hour)) => hour,
            (None, None) => 0,
        };
        Some(date.and_time(NaiveTime::from_hms_opt(hour, self.minute, self.second)?))
    }
}
