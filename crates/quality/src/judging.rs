//! A sample is judged when it is saved, from a window of points around it. The cost does not grow
//! with the length of the history.
//!
//! One pattern, one signal: while a run or trend goes on its signal grows. After its review a
//! pattern that still goes on is a new signal. Every point beyond a limit is its own signal. A
//! finding that no longer holds after a late, corrected or withdrawn sample is withdrawn, never
//! deleted.

mod reconcile;

use spc::chart::{ChartKind, Problem, Signal, Statistic, Watch, Watched};
use spc::points::Point;
use spc::rules::{Rule, Side};
use uuid::Uuid;

use crate::characteristic::Characteristic;
use crate::limits::Figures;

pub use reconcile::reconcile;

/// Where a sample lies as seen from the window.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Place {
    /// Before the window's first point.
    Before,
    /// At this point of the window.
    At(usize),
    /// After the window's last point.
    After,
}

/// A signal that was raised earlier and has not been withdrawn.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Standing {
    /// Identity.
    pub id: Uuid,
    /// The panel it was found in.
    pub panel: Statistic,
    /// The rule that was broken.
    pub rule: Rule,
    /// Its side.
    pub side: Option<Side>,
    /// First point of the pattern.
    pub from: Place,
    /// The first flagged point.
    pub at: Place,
    /// The last flagged point.
    pub to: Place,
    /// Reviewed signals stay as they were seen.
    pub reviewed: bool,
}

/// Where a pattern ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum End {
    /// At this point of the window.
    At(usize),
    /// Behind the window, where this signal ended until now.
    Of(Uuid),
}

/// What a judgement changes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Change {
    /// A new signal.
    Raise {
        /// What was found, in places of the window.
        finding: Signal,
        /// Its last point.
        end: End,
    },
    /// The pattern of a signal goes on.
    Grow {
        /// The signal.
        signal: Uuid,
        /// Its new last point.
        end: End,
    },
    /// The pattern of a signal begins elsewhere or ends earlier than it did.
    Reshape {
        /// The signal.
        signal: Uuid,
        /// Its new evidence and first flagged point, where they have moved.
        start: Option<(usize, usize)>,
        /// Its last point, where that has moved.
        end: Option<End>,
    },
    /// The finding no longer holds.
    Withdraw {
        /// The signal.
        signal: Uuid,
        /// The signal that its pattern belongs to now, where two have become one.
        joined: Option<Uuid>,
    },
}

/// A window of points judged against frozen figures. Without any, nothing is flagged, and the points
/// that have a statistic count as tested all the same.
///
/// # Errors
/// When the figures or rules are out of their bounds; those that were put in force never are.
pub fn judge_window<'p>(
    characteristic: &Characteristic,
    figures: Option<&Figures>,
    window: impl IntoIterator<Item = Point<'p>>,
) -> Result<Watched, Problem> {
    /// What has a statistic does not depend on figures.
    const ANY: Figures = Figures { center: 0.5, sigma: Some(1.0), k: 3.0 };
    let options = characteristic.chart_options();
    let rules = figures.map(|_| &characteristic.rule_set);
    let given = match (figures, characteristic.chart) {
        (Some(figures), _) => figures.as_given(),
        (None, ChartKind::P | ChartKind::Np | ChartKind::C | ChartKind::U) => Figures { sigma: None, ..ANY }.as_given(),
        (None, _) => ANY.as_given(),
    };
    let mut watch = Watch::new(characteristic.chart, &given, None, rules, &options)?;
    Ok(watch.follow(window))
}

/// Whether a window holds all that the judgement of its point `changed` depends on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Reach {
    /// Before it each panel has as many tested points as the longest rule looks back to.
    pub back: bool,
    /// After it each panel has all tested points whose rule windows can hold it, and one more, to see
    /// whether a pattern goes on behind them.
    pub ahead: bool,
}

/// How far a window reaches. Rules count tested points, and a moving range among gaps has fewer than
/// there are samples.
pub fn reach(characteristic: &Characteristic, window: &Watched, changed: usize) -> Reach {
    let longest = characteristic.rule_set.longest_window();
    // The point is part of the moving ranges up to here.
    let touched = changed + characteristic.chart_options().span - 1;
    let tested = |from: usize, to: usize| {
        window.panels.iter().all(|(_, points)| {
            let part = points.iter().take(to).skip(from);
            part.filter(|point| point.tested).count() >= longest
        })
    };
    Reach { back: tested(0, changed), ahead: tested(touched + 1, usize::MAX) }
}
