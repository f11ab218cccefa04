//! What a judgement changes about the signals that stand.

use spc::chart::{Signal, Statistic, Watched};
use spc::rules::{Rule, Side};
use uuid::Uuid;

use super::change::{Change, End, Place, StandingSignal};

/// What the findings in a window change, where `changed` is the point that is new, was corrected or
/// was withdrawn.
///
/// The window reaches as far as [`reach`](super::reach) asks, or as the phase does. Before `changed`
/// what stands is left as it is; from there on it becomes what the window finds: flagged points that
/// follow one another are one signal, but for those that a reviewed signal covers. Patterns on both
/// sides of `changed` that now follow one another are joined, and one with a clean point in its middle
/// is parted.
pub fn reconcile(window: &Watched, changed: usize, standing: &[StandingSignal]) -> Vec<Change> {
    let mut tracks: Vec<Track> = Vec::new();
    let found = window.signals.iter().map(|f| (f.panel, f.rule, f.side));
    for (panel, rule, side) in found.chain(standing.iter().map(|s| (s.panel, s.rule, s.side))) {
        if !tracks.iter().any(|t| (t.panel, t.rule, t.side) == (panel, rule, side)) {
            tracks.push(Track::new(window, changed, standing, (panel, rule, side)));
        }
    }
    tracks.iter().flat_map(Track::changes).collect()
}

/// What one rule finds on one side of one panel.
struct Track {
    panel: Statistic,
    rule: Rule,
    side: Option<Side>,
    changed: usize,
    /// Tested places before `changed`.
    before: Vec<usize>,
    /// Tested places from `changed` on, and whether each is flagged.
    after: Vec<(usize, bool)>,
    open: Vec<StandingSignal>,
    reviewed: Vec<StandingSignal>,
}

/// Flagged points that follow one another, from `changed` on.
struct Pattern<'t> {
    first: usize,
    last: usize,
    /// The signal that it goes on from.
    begins: Option<&'t StandingSignal>,
    /// The signal that it goes on as, behind the window.
    ends: Option<&'t StandingSignal>,
}

impl StandingSignal {
    fn covers(&self, place: usize) -> bool {
        self.at <= Place::At(place) && Place::At(place) <= self.to
    }
}

impl Track {
    fn new(
        window: &Watched,
        changed: usize,
        standing: &[StandingSignal],
        (panel, rule, side): (Statistic, Rule, Option<Side>),
    ) -> Self {
        let points = window.panels.iter().find(|(of, _)| *of == panel).map_or(&[][..], |(_, points)| points);
        let tested = || points.iter().enumerate().filter(|(_, point)| point.tested).map(|(place, _)| place);
        let mut flagged = vec![false; points.len()];
        for f in window.signals.iter().filter(|f| (f.panel, f.rule, f.side) == (panel, rule, side)) {
            flagged[f.at..=f.to].fill(true);
        }
        let (reviewed, open): (Vec<StandingSignal>, Vec<StandingSignal>) = standing
            .iter()
            .filter(|s| (s.panel, s.rule, s.side) == (panel, rule, side))
            .copied()
            .partition(|s| s.reviewed);
        let mut after: Vec<_> = tested().filter(|&i| i >= changed).map(|i| (i, flagged[i])).collect();
        if let Some((last, flagged)) = after.last_mut() {
            // The point at the far edge is there for what goes on behind it, which is as it was.
            *flagged |= open.iter().any(|s| s.covers(*last) && s.to == Place::After);
        }
        Self { panel, rule, side, changed, before: tested().filter(|&i| i < changed).collect(), after, open, reviewed }
    }

    /// Every point beyond a limit is its own signal.
    fn alone(&self) -> bool {
        matches!(self.rule, Rule::Beyond { .. })
    }

    /// The last tested place before `changed` that a signal keeps, whatever happens behind it.
    fn kept_until(&self, s: &StandingSignal) -> Option<usize> {
        self.before.last().copied().filter(|&last| s.at <= Place::At(last))
    }

    fn patterns(&self) -> Vec<Pattern<'_>> {
        let mut patterns: Vec<Pattern> = Vec::new();
        let mut goes_on = false;
        for &(place, flagged) in &self.after {
            let flagged = flagged && !self.reviewed.iter().any(|s| s.covers(place));
            match patterns.last_mut() {
                Some(pattern) if flagged && goes_on => pattern.last = place,
                _ if flagged => patterns.push(Pattern { first: place, last: place, begins: None, ends: None }),
                _ => {}
            }
            goes_on = flagged && !self.alone();
        }
        if self.alone() {
            return patterns;
        }
        let edges = self.after.first().zip(self.after.last());
        if let Some(first) = patterns.first_mut().filter(|p| edges.is_some_and(|((edge, _), _)| p.first == *edge)) {
            first.begins = self.open.iter().find(|s| self.before.last().is_some_and(|&last| s.covers(last)));
        }
        if let Some(last) = patterns.last_mut().filter(|p| edges.is_some_and(|(_, (edge, _))| p.last == *edge)) {
            last.ends = self.open.iter().find(|s| s.covers(last.last) && s.to == Place::After);
        }
        patterns
    }

    fn changes(&self) -> Vec<Change> {
        let mut changes = Vec::new();
        let mut keepers: Vec<Option<Uuid>> = Vec::new();
        let patterns = self.patterns();
        let overlap = |s: &StandingSignal, p: &Pattern| s.at <= Place::At(p.last) && s.to >= Place::At(p.first);
        for pattern in &patterns {
            let keeper = pattern.begins.or_else(|| {
                let free = |s: &&StandingSignal| !keepers.contains(&Some(s.id)) && self.kept_until(s).is_none();
                self.open.iter().filter(free).find(|s| overlap(s, pattern))
            });
            let end = pattern.ends.map_or(End::At(pattern.last), |s| End::Of(s.id));
            keepers.push(keeper.map(|s| s.id));
            match keeper {
                None => changes.push(Change::Raise { finding: self.finding(pattern), end }),
                Some(s) => changes.extend(self.shaped(s, pattern, end)),
            }
        }
        for s in self.open.iter().filter(|s| s.to >= Place::At(self.changed) && !keepers.contains(&Some(s.id))) {
            match self.kept_until(s) {
                Some(last) => {
                    let end = Some(End::At(last));
                    changes.push(Change::Reshape { signal: s.id, start: None, end });
                }
                None if s.at < Place::After => {
                    let joined = patterns.iter().zip(&keepers).find(|(p, _)| overlap(s, p)).and_then(|(_, k)| *k);
                    changes.push(Change::Withdraw { signal: s.id, joined });
                }
                None => {}
            }
        }
        // What a person has reviewed stays as they saw it, as long as anything of it may hold.
        for s in self.reviewed.iter().filter(|s| s.at >= Place::At(self.changed) && s.to < Place::After) {
            if !self.after.iter().any(|&(place, flagged)| flagged && s.covers(place)) {
                changes.push(Change::Withdraw { signal: s.id, joined: None });
            }
        }
        changes
    }

    /// What becomes of a standing signal that is this pattern now.
    fn shaped(&self, s: &StandingSignal, pattern: &Pattern, end: End) -> Option<Change> {
        let (from, at) = (self.evidence(pattern.first), pattern.first);
        let moved = (s.from, s.at) != (Place::At(from), Place::At(at));
        let start = (pattern.begins.is_none() && moved).then_some((from, at));
        let new_end = match end {
            End::At(last) => Place::At(last),
            End::Of(_) => Place::After,
        };
        match (start, new_end.cmp(&s.to)) {
            (None, std::cmp::Ordering::Equal) => None,
            (None, std::cmp::Ordering::Greater) => Some(Change::Grow { signal: s.id, end }),
            (start, order) => Some(Change::Reshape { signal: s.id, start, end: order.is_ne().then_some(end) }),
        }
    }

    fn finding(&self, pattern: &Pattern) -> Signal {
        let Track { panel, rule, side, .. } = *self;
        Signal { panel, rule, side, from: self.evidence(pattern.first), at: pattern.first, to: pattern.last }
    }

    /// First tested point of the rule's window that ends at `at`.
    fn evidence(&self, at: usize) -> usize {
        let tested = self.before.iter().copied().chain(self.after.iter().map(|(place, _)| *place));
        let up_to: Vec<usize> = tested.take_while(|&place| place <= at).collect();
        up_to[up_to.len().saturating_sub(self.rule.window())]
    }
}
