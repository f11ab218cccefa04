//! Points laid out on a chart that is only looked at: no signal of it is kept.

use chrono::{DateTime, Utc};
use serde::Serialize;
use spc::chart::{ChartAnswer, Panel, PanelPoint, Signal, Statistic};
use spc::rules::{Rule, Side};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::characteristics::CharacteristicView;
use crate::charts::{ChartPanel, PanelColumns, panel_columns};
use crate::series::SeriesPoint;

/// A chart that is only looked at.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Drawing {
    pub samples: Vec<DrawnSample>,
    /// Panels in drawing order.
    #[serde(serialize_with = "panel_columns")]
    #[schema(value_type = Vec<PanelColumns>)]
    pub panels: Vec<ChartPanel>,
    /// Patterns that break rules, in places of the samples.
    pub patterns: Vec<DrawnPattern>,
}

/// A place on the chart.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct DrawnSample {
    /// The sample; nothing for a gap.
    pub sample: Option<Uuid>,
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    pub aside: bool,
    pub restart: bool,
}

/// A pattern on the chart.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct DrawnPattern {
    /// The panel.
    pub panel: Statistic,
    pub rule: Rule,
    pub side: Option<Side>,
    /// First point of the pattern.
    pub from: usize,
    /// The first flagged point.
    pub at: usize,
    /// The last flagged point.
    pub to: usize,
}

impl Drawing {
    /// The points behind the first `hidden` ones, as the core computed all of them.
    pub(crate) fn of(setup: &CharacteristicView, points: &[SeriesPoint], answer: &ChartAnswer, hidden: usize) -> Self {
        let panel = |panel: &Panel| {
            let points: Vec<PanelPoint> = (hidden..panel.len()).map(|i| panel.point(i)).collect();
            ChartPanel { statistic: panel.statistic, points }
        };
        let pattern = |s: &Signal| DrawnPattern {
            panel: s.panel,
            rule: s.rule,
            side: s.side,
            from: s.from.saturating_sub(hidden),
            at: s.at.saturating_sub(hidden),
            to: s.to - hidden,
        };
        let sample = |point: &SeriesPoint| DrawnSample {
            sample: point.sample,
            number: point.number,
            taken_at: point.taken_at,
            aside: point.place.aside,
            restart: point.place.restart,
        };
        let shown = |statistic: Statistic| setup.shows(statistic);
        Self {
            samples: points[hidden..].iter().map(sample).collect(),
            panels: answer.panels.iter().filter(|p| shown(p.statistic)).map(panel).collect(),
            patterns: answer.signals.iter().filter(|s| s.to >= hidden && shown(s.panel)).map(pattern).collect(),
        }
    }

    /// Takes lines and patterns away from a stretch that has too few points for them.
    pub(crate) fn unlimited(&mut self, start: usize, end: usize) {
        for panel in &mut self.panels {
            for point in &mut panel.points[start..=end] {
                *point = PanelPoint { value: point.value, ..PanelPoint::default() };
            }
        }
        self.patterns.retain(|pattern| pattern.to < start || pattern.from > end);
    }
}
