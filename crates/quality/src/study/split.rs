//! Samples told apart: by phase, by time, by a tag.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use super::span::Span;
use crate::shift::Calendar;

/// What samples are told apart by.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "by", rename_all = "snake_case", deny_unknown_fields)]
pub enum Split {
    /// The phases of the characteristic, in their order: before and after a change.
    Phase,
    /// Days of the site's calendar.
    Day,
    /// The weeks of the site's calendar, from Monday on (ISO 8601).
    Week,
    /// Months of the site's calendar.
    Month,
    /// The shifts: all early ones, all late ones.
    Shift,
    /// The values of a tag.
    Tag {
        /// The tag.
        name: String,
    },
}

impl Split {
    /// The part that a time belongs to, where time alone says it.
    pub fn part(&self, at: DateTime<Utc>, calendar: &Calendar) -> Option<String> {
        match self {
            Self::Shift => calendar.at(at).map(|turn| turn.name),
            _ => self.span().and_then(|span| span.holding(at, calendar)).map(|period| period.name),
        }
    }

    /// The span of time that it goes by.
    pub fn span(&self) -> Option<Span> {
        match self {
            Self::Day => Some(Span::Day),
            Self::Week => Some(Span::Week),
            Self::Month => Some(Span::Month),
            Self::Phase | Self::Shift | Self::Tag { .. } => None,
        }
    }
}

/// Groups that a study tells apart at most; of more the largest are kept.
pub const GROUPS_AT_MOST: usize = 60;

/// A part of the samples.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Group {
    /// Name of the phase or shift, value of the tag, the day, or the week as `2026-W47`.
    pub name: String,
    /// Number of its first and its last sample.
    pub numbers: (i64, i64),
}
