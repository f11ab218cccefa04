//! How a characteristic is charted and judged: chart, options, rule set, multiplier of sigma. Another scheme holds
//! from the next sample on, with a restart there; points before keep what they were judged by.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartOptions};
use spc::rules::RuleSet;

/// A scheme.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Scheme {
    /// The chart.
    pub chart: ChartKind,
    /// Its options.
    pub options: ChartOptions,
    /// The rules.
    pub rule_set: RuleSet,
    /// Multiplier of sigma that limits are drawn with.
    pub k: f64,
}

impl Scheme {
    /// Places before a point that its statistics reach over: moving ranges and moving averages.
    pub fn lead(&self) -> usize {
        match self.chart {
            ChartKind::MovingAverage => self.options.width,
            _ => self.options.span - 1,
        }
    }

    /// What it remembers is a sum over everything before, kept beside each point.
    pub fn keeps_sums(&self) -> bool {
        matches!(self.chart, ChartKind::Ewma | ChartKind::Cusum)
    }
}

/// The schemes of a characteristic in the order of time: earlier ones with the sample time before which they held,
/// and the one that holds now.
#[derive(Debug, Clone, PartialEq)]
pub struct Schemes {
    earlier: Vec<(DateTime<Utc>, Scheme)>,
    now: Scheme,
}

impl Schemes {
    /// `earlier` in the order of their ends.
    pub fn new(earlier: Vec<(DateTime<Utc>, Scheme)>, now: Scheme) -> Self {
        Self { earlier, now }
    }

    /// Which of them holds for a sample taken at `at`.
    pub fn holding(&self, at: DateTime<Utc>) -> usize {
        self.earlier.partition_point(|(ends, _)| *ends <= at)
    }

    /// One of them.
    pub fn get(&self, i: usize) -> &Scheme {
        self.earlier.get(i).map_or(&self.now, |(_, scheme)| scheme)
    }

    /// The one that holds now.
    pub fn now(&self) -> &Scheme {
        &self.now
    }

    /// The farthest that any of them looks back or ahead, in tested points: its longest rule.
    pub fn longest_window(&self) -> usize {
        self.all().map(|scheme| scheme.rule_set.longest_window()).max().unwrap_or(1)
    }

    /// The farthest that any of their statistics reaches over.
    pub fn lead(&self) -> usize {
        self.all().map(Scheme::lead).max().unwrap_or(0)
    }

    /// How many samples around one its judgement depends on where none of them lacks a point.
    pub fn usual_reach(&self) -> usize {
        self.longest_window() + self.lead() + 1
    }

    fn all(&self) -> impl Iterator<Item = &Scheme> {
        self.earlier.iter().map(|(_, scheme)| scheme).chain([&self.now])
    }
}
