//! What a control chart shows.

use chrono::{DateTime, Utc};
use quality::entry::{Doubt, Tags};
use quality::episode::{Aspect, Pattern};
use quality::sample::Content;
use quality::signal::{Broken, SignalState};
use serde::{Deserialize, Serialize};
use spc::chart::{PanelPoint, Statistic, Sums, Zones};
use spc::rules::Side;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::characteristics::CharacteristicView;
use crate::events::Event;
use crate::look::ToLookAt;
use crate::phases::Phase;

/// More points than this are not sent at once.
pub const POINTS_AT_MOST: u32 = 2000;

/// A chart of the last points of a characteristic.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChartView {
    /// What is charted.
    pub characteristic: CharacteristicView,
    /// Samples that the characteristic has in all.
    pub total: i64,
    /// The points shown, in order of sample time, then arrival.
    pub points: Vec<ChartPoint>,
    /// Panels in drawing order; each has one entry a point.
    pub panels: Vec<ChartPanel>,
    /// The phases that the points lie in.
    pub phases: Vec<ChartPhase>,
    /// Signals that touch the points shown.
    pub signals: Vec<ChartSignal>,
    /// Signals of one happening.
    pub episodes: Vec<ChartEpisode>,
    /// Notes on the points shown.
    pub notes: Vec<ChartNote>,
    /// Its limits are to be looked at.
    pub look: Option<ToLookAt>,
    /// What happened at the station while these points were taken.
    pub events: Vec<Event>,
}

/// One sample on the chart.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartPoint {
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
    /// What a time-weighted chart had come to.
    #[serde(skip)]
    pub(super) sums: Option<Sums>,
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
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartPanel {
    /// What it plots.
    pub statistic: Statistic,
    pub points: Vec<PanelPoint>,
    /// Its zones; none where no rule looks at them.
    pub zones: Vec<Zones>,
}

/// A phase as far as it is shown.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartPhase {
    /// First point shown of it.
    pub start: usize,
    /// Last point shown of it.
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
}

/// A signal on the chart. Places before the first point shown are 0.
#[derive(Debug, Clone, Serialize, ToSchema)]
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

/// A note on a point.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartNote {
    pub point: usize,
    /// What it says.
    pub text: String,
    /// Who wrote it.
    pub person: String,
    pub at: DateTime<Utc>,
}
