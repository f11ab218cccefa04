//! What a control chart shows.

use chrono::{DateTime, Utc};
use quality::entry::{Doubt, Tags};
use quality::episode::{Aspect, Pattern};
use quality::sample::Content;
use quality::signal::{Broken, SignalState};
use serde::{Deserialize, Serialize};
use spc::chart::{PanelPoint, Statistic};
use spc::rules::Side;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::phases::Phase;

/// More points than this are not looked at one by one.
pub const POINTS_AT_MOST: u32 = 2000;
/// More points than this are not charted at once.
pub const PLACES_AT_MOST: u32 = 100_000;
/// So many points are drawn at most where it is not said how many there is room for.
pub const DRAWN: usize = 2000;
/// More are not drawn at all.
pub const DRAWN_AT_MOST: usize = 4000;

/// Which stretch of a chart, and how much of it.
#[derive(Debug, Clone, Copy)]
pub struct Asked {
    /// How many of its last points at most.
    pub last: u32,
    /// A sample to end at, with a few points after it.
    pub until: Option<Uuid>,
    /// The number of the sample to begin at.
    pub from: Option<i64>,
    /// The number of the sample to end at.
    pub to: Option<i64>,
    /// Taken at this time or later.
    pub since: Option<DateTime<Utc>>,
    /// Taken before this time.
    pub before: Option<DateTime<Utc>>,
    /// How many points there is room for.
    pub drawn: usize,
}

impl Asked {
    /// The last points.
    pub fn last(last: u32) -> Self {
        Self { last, until: None, from: None, to: None, since: None, before: None, drawn: DRAWN }
    }
}

/// One sample on the chart.
#[derive(Debug, Clone)]
pub struct ChartPoint {
    /// Where it stands on the axis.
    pub place: usize,
    pub sample: Uuid,
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    /// When it reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Who entered it.
    pub person: String,
    /// The shift, from the calendar, and what was asked.
    pub tags: Tags,
    /// Readings that were doubted when they came.
    pub doubts: Vec<Doubt>,
    /// What it recorded; of a withdrawn sample what it had recorded, of a skipped one nothing.
    pub content: Option<Content>,
    /// Why there is a gap.
    pub gap: Option<Gap>,
    /// Counts its changes.
    pub version: i32,
    /// Earlier contents are on record.
    pub corrected: bool,
    /// Left out of limits and rules, with the cause.
    pub aside: Option<Said>,
    /// Rules start afresh here, since something was corrected.
    pub restart: Option<Said>,
}

/// What somebody said of a point.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Said {
    /// In words.
    pub because: String,
    /// Who said it.
    pub person: String,
    pub at: DateTime<Utc>,
}

/// Why a place on the chart is empty.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Gap {
    /// A sample was taken and withdrawn; else none was taken.
    pub withdrawn: bool,
    /// Why, in words.
    pub because: String,
    /// Who skipped or withdrew it.
    pub person: String,
}

/// One panel.
#[derive(Debug, Clone)]
pub struct ChartPanel {
    /// What it plots.
    pub statistic: Statistic,
    pub points: Vec<PanelPoint>,
}

impl ChartPanel {
    /// What of it is drawn.
    pub(super) fn at(&self, places: &[usize]) -> Self {
        Self { statistic: self.statistic, points: places.iter().map(|place| self.points[*place]).collect() }
    }
}

/// A phase as far as it is shown.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartPhase {
    /// Place of its first point.
    pub start: usize,
    /// Place of its last point.
    pub end: usize,
    pub limits: Phase,
    /// Points that were set aside since the limits were put in force: they still rest on them.
    pub aside_since: i64,
}

/// An episode on the chart: from the first point of its signals that are shown to their last.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct ChartEpisode {
    pub id: Uuid,
    /// What of the process it speaks of.
    pub aspect: Aspect,
    pub side: Option<Side>,
    /// First point of the pattern.
    pub from: usize,
    /// The first flagged point.
    pub at: usize,
    /// The last flagged point.
    pub to: usize,
    /// That of its least settled signal.
    pub state: SignalState,
    /// The rules that were broken, the most telling first.
    pub patterns: Vec<Pattern>,
    /// Others so close by that a screen cannot tell them apart, and no less settled.
    pub others: usize,
}

/// A signal on the chart. Places before the first point shown are 0.
#[derive(Debug, Clone)]
pub struct ChartSignal {
    /// The signal.
    pub id: Uuid,
    /// The episode it belongs to.
    pub episode: Uuid,
    /// The panel it was found in.
    pub panel: Statistic,
    /// The rule that was broken.
    pub rule: Broken,
    pub side: Option<Side>,
    /// First point of the pattern.
    pub from: usize,
    /// The first flagged point.
    pub at: usize,
    /// The last flagged point.
    pub to: usize,
    /// Where it stands.
    pub state: SignalState,
    /// Raised against trial limits.
    pub trial: bool,
}
