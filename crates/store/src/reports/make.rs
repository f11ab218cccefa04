//! Making a report.

use chrono::{DateTime, Utc};
use quality::field::{Allowed, WrongField};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;

use super::episodes::{self, EpisodeLine};
use super::head::{Asked, ReportHead, ReportKind};
use super::points::{self, PointLine};
use super::reviews::{self, ReviewLine};
use crate::StoreError;
use crate::once::compiled_once;
use crate::people::Person;

/// A report is whole: one with more lines than this is not made.
const LINES_AT_MOST: usize = 5000;

/// A report.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Report {
    pub head: ReportHead,
    pub lines: ReportLines,
}

/// Its lines, by what it tells of.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ReportLines {
    Episodes(Vec<EpisodeLine>),
    Points(Vec<PointLine>),
    Reviews(Vec<ReviewLine>),
}

impl ReportLines {
    fn count(&self) -> usize {
        match self {
            Self::Episodes(lines) => lines.len(),
            Self::Points(lines) => lines.len(),
            Self::Reviews(lines) => lines.len(),
        }
    }
}

/// Makes a report.
///
/// # Errors
/// When it ends before it begins, or would have more lines than a report may.
#[compiled_once]
pub async fn make(pool: &PgPool, asked: &Asked, by: &Person, now: DateTime<Utc>) -> Result<Report, StoreError> {
    if asked.until <= asked.from {
        return Err(WrongField::new("period", Allowed::FirstBeforeLast).into());
    }
    // The seal first: what is told below stood in the trail then, or came since.
    let head = asked.head(pool, by, now).await?;
    let most = i64::try_from(LINES_AT_MOST + 1).unwrap_or(i64::MAX);
    let lines = match asked.kind {
        ReportKind::Episodes => ReportLines::Episodes(episodes::lines(pool, asked, most).await?),
        ReportKind::Points => ReportLines::Points(points::lines(pool, asked, most).await?),
        ReportKind::Reviews => ReportLines::Reviews(reviews::lines(pool, asked, most).await?),
    };
    if lines.count() > LINES_AT_MOST {
        return Err(WrongField::new("lines", Allowed::Entries { least: 0, most: LINES_AT_MOST }).into());
    }
    Ok(Report { head, lines })
}
