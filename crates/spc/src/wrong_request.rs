//! What is wrong with a request, as facts: where, what was given, what would be right.
//!
//! Whoever shows it to a person makes the sentence; the text of [`Display`](fmt::Display) is the line that
//! `nuvek analyze` prints.

use std::fmt;

use serde::Serialize;
use thiserror::Error;

/// What is wrong with a request.
#[derive(Debug, Clone, PartialEq, Serialize, Error)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[error("{path}: {given}; expected {expected}")]
pub struct WrongRequest {
    /// JSON path of the field, such as `limits[1].k`; `request` for the whole.
    pub path: String,
    /// What was given, as text; `missing` where nothing was.
    pub given: String,
    /// What would be right.
    pub expected: Expected,
}

/// What would be right.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "code", rename_all = "snake_case")]
pub enum Expected {
    /// A number between bounds.
    Number(Range),
    /// A whole number between bounds.
    Whole(Range),
    /// So many entries of a list.
    Entries {
        /// Of what, such as `points`.
        of: &'static str,
        /// At least so many.
        least: usize,
        /// At most so many; nothing for any number.
        most: Option<usize>,
    },
    /// One of these words.
    OneOf {
        /// As they are spelled in a request.
        words: Vec<String>,
    },
    /// Nothing: there is no such field here.
    NoSuchField {
        /// Where there is one.
        only_with: String,
    },
    /// Another field beside it.
    Beside {
        /// That field.
        field: &'static str,
    },
    /// What no bound says.
    Need {
        /// What is needed.
        need: Need,
    },
    /// Another form of JSON, as its reader says.
    Form {
        /// In the reader's words.
        says: String,
    },
}

/// What a request needs that no bound of a single field says.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Need {
    /// The field is missing.
    Value,
    /// Start indices, ascending, the first 0.
    PhaseStarts,
    /// A chart with a sigma.
    ChartWithSigma,
    /// Limits with a centre and a sigma above 0.
    LimitsWithSigma,
    /// A last phase with points that are used.
    PointsInLastPhase,
    /// At least two values that differ.
    DifferentValues,
    /// Enough values for a degree of freedom.
    DegreeOfFreedom,
    /// A name unlike the others.
    UnlikeTheOthers,
    /// The name of a level.
    LevelName,
    /// At least one of the two specification limits.
    OneLimit,
    /// One of the two alternatives, not both.
    NotBoth,
    /// A family of distributions that holds every value.
    FamilyThatHolds,
    /// The parameters of the family: finite, spreads and shapes above 0.
    FamilyParameters,
    /// Rules that signal sooner.
    SoonerSignals,
    /// Fewer signals than an answer can hold.
    FewerSignals,
    /// Less to compute than anybody waits for.
    LessWork,
    /// Somebody who waits for the answer.
    SomebodyWaiting,
}

/// Range of a number; what is absent does not bound it.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Range {
    /// At least this.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub least: Option<f64>,
    /// More than this.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub above: Option<f64>,
    /// At most this.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most: Option<f64>,
    /// Less than this.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub below: Option<f64>,
}

/// Values are refused beyond this size: their squares and sums would leave the range of a double.
pub(crate) const LARGEST: f64 = 1e100;

/// Whether the computation can take a value.
pub(crate) fn within_range(x: f64) -> bool {
    x.abs() <= LARGEST
}

/// A word as requests spell it.
pub(crate) fn spelled(word: impl Serialize) -> String {
    serde_json::to_value(word).ok().and_then(|word| word.as_str().map(str::to_owned)).unwrap_or_default()
}

/// What somebody sent goes into a line of text: characters that would break it are written out.
fn escaped(text: &str) -> String {
    text.chars().fold(String::new(), |mut line, c| {
        if c.is_control() {
            line.extend(c.escape_unicode())
        } else {
            line.push(c)
        }
        line
    })
}

impl WrongRequest {
    /// A problem with the field at `path`.
    pub fn new(path: impl Into<String>, given: impl ToString, expected: impl Into<Expected>) -> Self {
        let plain = |text: String| if text.contains(char::is_control) { escaped(&text) } else { text };
        Self { path: plain(path.into()), given: plain(given.to_string()), expected: expected.into() }
    }

    /// The same, in what stands at `path` of a larger request.
    pub(crate) fn within(self, path: &str) -> Self {
        Self { path: format!("{path}.{}", self.path), ..self }
    }

    /// The field at `path` is missing.
    pub(crate) fn missing(path: impl Into<String>, expected: impl Into<Expected>) -> Self {
        Self::new(path, "missing", expected)
    }
}

impl From<Need> for Expected {
    fn from(need: Need) -> Self {
        Self::Need { need }
    }
}

impl Expected {
    /// A number that the computation can take.
    pub(crate) const NUMBER: Self =
        Self::Number(Range { least: Some(-LARGEST), above: None, most: Some(LARGEST), below: None });

    /// A number above 0.
    pub(crate) const POSITIVE: Self = Self::Number(Range { least: None, above: Some(0.0), most: None, below: None });

    /// A number from 0 up.
    pub(crate) const NOT_NEGATIVE: Self =
        Self::Number(Range { least: Some(0.0), above: None, most: None, below: None });

    /// A number from `least` to `most`.
    pub(crate) fn between(least: f64, most: f64) -> Self {
        Self::Number(Range { least: Some(least), most: Some(most), ..Range::default() })
    }

    /// A number above `above`, up to `most`.
    pub(crate) fn above_up_to(above: f64, most: f64) -> Self {
        Self::Number(Range { above: Some(above), most: Some(most), ..Range::default() })
    }

    /// A number up to `most`.
    pub(crate) fn up_to(most: f64) -> Self {
        Self::Number(Range { most: Some(most), ..Range::default() })
    }

    /// A number below `below`.
    pub(crate) fn below(below: f64) -> Self {
        Self::Number(Range { below: Some(below), ..Range::default() })
    }

    /// A whole number from `least` to `most`.
    pub(crate) fn whole(least: usize, most: usize) -> Self {
        Self::Whole(Range { least: Some(least as f64), most: Some(most as f64), ..Range::default() })
    }

    /// A whole number from `least` up.
    pub(crate) fn whole_from(least: usize) -> Self {
        Self::Whole(Range { least: Some(least as f64), ..Range::default() })
    }

    /// At least so many entries.
    pub(crate) fn at_least(least: usize, of: &'static str) -> Self {
        Self::Entries { of, least, most: None }
    }

    /// At most so many entries.
    pub(crate) fn at_most(most: usize, of: &'static str) -> Self {
        Self::Entries { of, least: 0, most: Some(most) }
    }

    /// Just so many entries.
    pub(crate) fn exactly(count: usize, of: &'static str) -> Self {
        Self::Entries { of, least: count, most: Some(count) }
    }

    /// One of these words.
    pub(crate) fn one_of<T: Serialize>(words: impl IntoIterator<Item = T>) -> Self {
        Self::OneOf { words: words.into_iter().map(spelled).collect() }
    }

    /// No such field, but with what is named.
    pub(crate) fn only_with(what: impl Into<String>) -> Self {
        Self::NoSuchField { only_with: what.into() }
    }
}

/// A bound as it is read: large ones with their power of ten.
struct Shown(f64);

impl fmt::Display for Shown {
    fn fmt(&self, f: &mut fmt::Formatter) -> fmt::Result {
        if self.0.abs() >= 1e15 { write!(f, "{:e}", self.0) } else { write!(f, "{}", self.0) }
    }
}

impl fmt::Display for Range {
    fn fmt(&self, f: &mut fmt::Formatter) -> fmt::Result {
        match (self.least, self.above) {
            (Some(least), _) => write!(f, " from {}", Shown(least))?,
            (None, Some(above)) => write!(f, " above {}", Shown(above))?,
            (None, None) => {}
        }
        match (self.most, self.below) {
            (Some(most), _) if self.least.is_some() => write!(f, " to {}", Shown(most)),
            (Some(most), _) => write!(f, " up to {}", Shown(most)),
            (None, Some(below)) => write!(f, " below {}", Shown(below)),
            (None, None) => Ok(()),
        }
    }
}

impl fmt::Display for Expected {
    fn fmt(&self, f: &mut fmt::Formatter) -> fmt::Result {
        match self {
            Self::Number(bounds) => write!(f, "a number{bounds}"),
            Self::Whole(bounds) => write!(f, "a whole number{bounds}"),
            Self::Entries { of, least, most: None } => write!(f, "at least {least} {of}"),
            Self::Entries { of, least: 0, most: Some(most) } => write!(f, "at most {most} {of}"),
            Self::Entries { of, least, most: Some(most) } if least == most => write!(f, "{least} {of}"),
            Self::Entries { of, least, most: Some(most) } => write!(f, "{least} to {most} {of}"),
            Self::OneOf { words } => match words.split_last() {
                Some((last, [])) => write!(f, "{last}"),
                Some((last, others)) => write!(f, "{} or {last}", others.join(", ")),
                None => write!(f, "nothing"),
            },
            Self::NoSuchField { only_with } => write!(f, "no such field but with {only_with}"),
            Self::Beside { field } => write!(f, "{field} beside it"),
            Self::Need { need } => need.fmt(f),
            Self::Form { says } => write!(f, "{says}"),
        }
    }
}

impl fmt::Display for Need {
    fn fmt(&self, f: &mut fmt::Formatter) -> fmt::Result {
        f.write_str(match self {
            Self::Value => "a value",
            Self::PhaseStarts => "start indices, ascending, the first 0",
            Self::ChartWithSigma => "a chart with a sigma",
            Self::LimitsWithSigma => "limits with a centre and a sigma above 0",
            Self::PointsInLastPhase => "a last phase with points",
            Self::DifferentValues => "at least two different values",
            Self::DegreeOfFreedom => "enough for a degree of freedom",
            Self::UnlikeTheOthers => "a name unlike the others'",
            Self::LevelName => "names of the levels",
            Self::OneLimit => "at least one of the two",
            Self::NotBoth => "one of them, or neither",
            Self::FamilyThatHolds => "a family that holds every value",
            Self::FamilyParameters => "those of the family: finite numbers, spreads and shapes above 0",
            Self::SoonerSignals => "rules that signal sooner",
            Self::FewerSignals => "rules that signal less often",
            Self::LessWork => "less to compute than anybody waits for",
            Self::SomebodyWaiting => "somebody who waits for the answer",
        })
    }
}
