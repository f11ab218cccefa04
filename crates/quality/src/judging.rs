//! A sample is judged when it is saved, from a window of points around it. The cost does not grow
//! with the length of the history.
//!
//! One pattern, one signal: while a run or trend goes on its signal grows. After its review a
//! pattern that still goes on is a new signal. Every point beyond a limit is its own signal. A
//! finding that no longer holds after a late sample is withdrawn, never deleted.

use spc::chart::{Problem, Signal, Statistic, Watch, Watched};
use spc::points::Point;
use spc::rules::{Rule, Side};
use uuid::Uuid;

use crate::characteristic::Characteristic;
use crate::limits::Figures;

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
    /// The first flagged point.
    pub at: Place,
    /// The last flagged point.
    pub to: Place,
    /// Reviewed signals no longer grow.
    pub reviewed: bool,
}

/// What a judgement changes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Change {
    /// A new signal, in places of the window.
    Raise(Signal),
    /// The pattern of a signal goes on, to this point of the window.
    Grow {
        /// The signal.
        signal: Uuid,
        /// Its new last point.
        to: usize,
    },
    /// The finding no longer holds.
    Withdraw {
        /// The signal.
        signal: Uuid,
    },
}

/// A window of points judged against frozen figures.
///
/// # Errors
/// When the figures or rules are out of their bounds; those that were put in force never are.
pub fn judge_window<'p>(
    characteristic: &Characteristic,
    figures: &Figures,
    window: impl IntoIterator<Item = &'p [f64]>,
) -> Result<Watched, Problem> {
    let rules = Some(&characteristic.rule_set);
    let options = characteristic.chart_options();
    let mut watch = Watch::new(characteristic.chart, &figures.as_given(), None, rules, &options)?;
    Ok(watch.follow(window.into_iter().map(Point::Values)))
}

/// What the findings in a window change, where `changed` is the first point that is new.
///
/// The window holds [`Characteristic::look_back`] points before `changed` and
/// [`Characteristic::look_ahead`] after it, or as many as the phase has.
pub fn reconcile(window: &Watched, changed: usize, standing: &[Standing]) -> Vec<Change> {
    let mut changes = Vec::new();
    for found in window.signals.iter().filter(|found| found.to >= changed) {
        let same = standing.iter().filter(|s| s.panel == found.panel && s.rule == found.rule && s.side == found.side);
        let overlapping =
            same.filter(|s| s.at <= Place::At(found.to) && s.to >= Place::At(found.at)).max_by_key(|s| s.to);
        match overlapping {
            None => changes.push(Change::Raise(flagged_from(window, found, found.at.max(changed)))),
            Some(s) if s.to >= Place::At(found.to) => {}
            Some(s) if s.reviewed => {
                let next = match s.to {
                    Place::At(to) => (to + 1).max(changed),
                    _ => changed,
                };
                changes.push(Change::Raise(flagged_from(window, found, next)));
            }
            Some(s) => changes.push(Change::Grow { signal: s.id, to: found.to }),
        }
    }
    for s in standing {
        let (Place::At(at), Place::At(to)) = (s.at, s.to) else { continue };
        let holds = window.signals.iter().any(|found| {
            found.panel == s.panel && found.rule == s.rule && found.side == s.side && found.at <= to && found.to >= at
        });
        if at >= changed && !holds {
            changes.push(Change::Withdraw { signal: s.id });
        }
    }
    changes
}

/// `found`, flagged from `at` on. Where that is later than the pattern's own first flag, its
/// evidence is the rule's window that ends there.
fn flagged_from(window: &Watched, found: &Signal, at: usize) -> Signal {
    if at == found.at {
        return *found;
    }
    let points = window.panels.iter().find(|(panel, _)| *panel == found.panel).map_or(&[][..], |(_, points)| points);
    let tested = (0..=at).rev().filter(|&i| points[i].tested);
    Signal { at, from: tested.take(found.rule.window()).last().unwrap_or(at), ..*found }
}
