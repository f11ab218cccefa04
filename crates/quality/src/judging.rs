//! A sample is judged when it is saved, from a window of points around it. The cost does not grow
//! with the length of the history.
//!
//! One pattern, one signal: while a run or trend goes on its signal grows. After its review a
//! pattern that still goes on is a new signal. Every point beyond a limit is its own signal. A
//! finding that no longer holds after a late, corrected or withdrawn sample is withdrawn, never
//! deleted.

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
    /// The pattern of a signal begins elsewhere or ends earlier than it did.
    Reshape {
        /// The signal.
        signal: Uuid,
        /// Its new evidence and first flagged point, where that has moved.
        start: Option<(usize, usize)>,
        /// Its last point, where that has moved.
        to: Option<usize>,
    },
    /// The pattern of a signal that goes on behind the window is cut in two.
    Split {
        /// The signal, which keeps the earlier part.
        signal: Uuid,
        /// Its new last point.
        to: usize,
        /// The later part, a new signal. It ends where the signal ended.
        rest: Signal,
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
    window: impl IntoIterator<Item = Point<'p>>,
) -> Result<Watched, Problem> {
    let rules = Some(&characteristic.rule_set);
    let options = characteristic.chart_options();
    let mut watch = Watch::new(characteristic.chart, &figures.as_given(), None, rules, &options)?;
    Ok(watch.follow(window))
}

/// What the findings in a window change, where `changed` is the point that is new, was corrected or
/// was withdrawn.
///
/// The window holds [`Characteristic::look_back`] points before `changed` and
/// [`Characteristic::look_ahead`] after it, or as many as the phase has. Findings that end before
/// `changed` cannot have altered, and neither can those that begin behind the window.
pub fn reconcile(window: &Watched, changed: usize, standing: &[Standing]) -> Vec<Change> {
    let mut changes = Vec::new();
    let mut standing = standing.to_vec();
    standing.retain_mut(|s| match remains(window, changed, s) {
        Remains::AsItWas => true,
        Remains::Nothing => {
            changes.push(Change::Withdraw { signal: s.id });
            false
        }
        Remains::Part { start, to } => {
            changes.push(Change::Reshape { signal: s.id, start, to });
            s.at = start.map_or(s.at, |(_, at)| Place::At(at));
            s.to = to.map_or(s.to, Place::At);
            true
        }
        Remains::Halves { to, rest } => {
            changes.push(Change::Split { signal: s.id, to, rest });
            // The rest stands for itself from now on, so nothing more is to be done about this pattern.
            true
        }
    });
    for found in window.signals.iter().filter(|found| found.to >= changed) {
        let overlapping = standing
            .iter()
            .filter(|s| same(s, found) && s.at <= Place::At(found.to) && s.to >= Place::At(found.at))
            .max_by_key(|s| s.to);
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
    changes
}

fn same(s: &Standing, found: &Signal) -> bool {
    s.panel == found.panel && s.rule == found.rule && s.side == found.side
}

/// What is left of a standing signal.
enum Remains {
    AsItWas,
    Part { start: Option<(usize, usize)>, to: Option<usize> },
    Halves { to: usize, rest: Signal },
    Nothing,
}

fn remains(window: &Watched, changed: usize, s: &Standing) -> Remains {
    // What a person has reviewed stays as they saw it, as long as anything of it holds.
    let over_by = if let Place::At(to) = s.to { to } else { usize::MAX };
    if s.at == Place::After || s.to == Place::Before || over_by < changed {
        return Remains::AsItWas;
    }
    // One that began before the window has at least what lies before `changed`.
    let at = if let Place::At(at) = s.at { at } else { 0 };
    let mut left = window.signals.iter().filter(|found| same(s, found) && found.at <= over_by && found.to >= at);
    let Some(first) = left.next() else {
        return if s.at < Place::At(changed) { Remains::AsItWas } else { Remains::Nothing };
    };
    if s.reviewed {
        return Remains::AsItWas;
    }
    let begins = flagged_from(window, first, first.at.max(changed));
    let start = (s.at >= Place::At(changed) && begins.at != at).then_some((begins.from, begins.at));
    // Behind the window nothing has changed, so what goes on there ends with the window here.
    let to = match s.to {
        Place::At(to) => (first.to < to).then_some(first.to),
        _ => match left.next_back() {
            Some(rest) => return Remains::Halves { to: first.to, rest: *rest },
            None => None,
        },
    };
    if start.is_some() || to.is_some() { Remains::Part { start, to } } else { Remains::AsItWas }
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
