//! What is looked at, how, and what is shown.

use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, Figures, Statistic};
use spc::rules::Preset;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::characteristics::CharacteristicView;
use crate::drawn::Drawing;

/// How points are split by the values of a tag.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Arrange {
    /// A chart for each value, beside one another on one scale.
    #[default]
    SideBySide,
    /// A phase for each value on one chart.
    Phases,
    /// All in the order of time on one chart, each value with its own mark.
    Marks,
}

/// What is looked at, and how.
#[derive(Debug, Clone, Default)]
pub struct LookAt {
    /// Another kind of chart; the own one where none is named.
    pub chart: Option<ChartKind>,
    /// The tag whose values are told apart.
    pub tag: Option<String>,
    pub arrange: Arrange,
    /// Limits of all points for all values, not those of each.
    pub common: bool,
    /// So many of the latest points.
    pub last: u32,
    /// Limits at so many sigma; the own ones where nothing is said.
    pub k: Option<f64>,
    /// Other rules than the own ones.
    pub rules: Option<OtherRules>,
    /// Of what was counted, this kind of defect alone, by its name.
    pub defect: Option<String>,
}

/// Rules to look by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, Serialize, ToSchema)]
#[serde(untagged)]
pub enum OtherRules {
    /// A set of the trade.
    Preset(Preset),
    /// The latest version of a set that the site has named.
    Named(Uuid),
}

/// Points looked at otherwise than they are judged.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Looked {
    /// Of what.
    pub characteristic: CharacteristicView,
    /// The chart that is drawn.
    pub chart: ChartKind,
    /// How many sigma its limits lie from the centre line.
    pub k: f64,
    /// Charts that could be drawn of these data.
    pub charts: Vec<ChartKind>,
    /// Tags that the points have.
    pub tags: Vec<String>,
    /// Kinds of defects that the points have.
    pub defects: Vec<String>,
    /// Points that are not shown: without the tag, or of one value too many.
    pub left_out: usize,
    /// One, or one for each value.
    pub drawings: Vec<LookedDrawing>,
    /// What all of them reach over, panel by panel.
    pub ranges: Vec<PanelRange>,
}

/// One chart.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct LookedDrawing {
    /// The value of the tag; nothing where all are on one chart.
    pub value: Option<String>,
    #[serde(flatten)]
    pub drawing: Drawing,
    /// Its stretches of limits: one, or one for each value.
    pub stretches: Vec<LookedStretch>,
    /// Which of `values` each point has, where marks tell; nothing for a gap.
    pub marks: Vec<Option<usize>>,
    /// The values that marks tell apart.
    pub values: Vec<String>,
}

/// Points that share limits.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct LookedStretch {
    /// First point.
    pub start: usize,
    /// Last point.
    pub end: usize,
    /// The value of the tag; nothing where there is none.
    pub value: Option<String>,
    /// Points that limits could rest on.
    pub used: usize,
    /// What its limits are made of; nothing where there are too few points.
    pub figures: Option<Figures>,
}

/// What a panel reaches over on all charts.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
pub struct PanelRange {
    pub statistic: Statistic,
    pub lowest: f64,
    pub highest: f64,
}
