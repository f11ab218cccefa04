//! What a judgement changes about the signals that stand.

use spc::chart::{Signal, Statistic, Watched};
use spc::rules::{Rule, Side};
use uuid::Uuid;

use super::change::{Change, End, Lies, StandingSignal};
use crate::place::Place;

/// What the findings in a stretch change.
///
/// The window reaches as far as [`reach`](super::reach) asks, or as the phase does. Before `changed`
/// what stands is left as it is; from there on it becomes what the window finds: flagged points that
/// follow one another are one signal, but for those that a reviewed signal covers. Patterns on both
/// sides of `changed` that now follow one another are joined, and one with a clean point in its middle
/// is parted. A restart parts patterns too. What was withdrawn and holds again is taken up again.
pub fn reconcile(judgement: &Judgement, standing: &[StandingSignal]) -> Vec<Change> {
    let window = judgement.window;
    let epochs = epochs(judgement.places);
    let mut tracks: Vec<Track> = Vec::new();
    let found = window.signals.iter().map(|f| (f.panel, f.rule, f.side));
    for (panel, rule, side) in found.chain(standing.iter().map(|s| (s.panel, s.rule, s.side))) {
        if !tracks.iter().any(|t| (t.panel, t.rule, t.side) == (panel, rule, side)) {
            tracks.push(Track::new(judgement, &epochs, standing, (panel, rule, side)));
        }
    }
    tracks.iter().flat_map(Track::changes).collect()
}

/// A stretch of places as it is judged, from a first place that changed on.
#[derive(Debug, Clone, Copy)]
pub struct Judgement<'a> {
    /// What was found in it.
    pub window: &'a Watched,
    /// What was looked at.
    pub places: &'a [&'a Place],
    /// The first place that is new, was changed, or is judged by something else than before.
    pub changed: usize,
    /// Its phase ends with the last place: no pattern goes on behind it.
    pub ends_here: bool,
}

/// For each place, how often rule windows have started afresh up to there.
fn epochs(places: &[&Place]) -> Vec<usize> {
    let mut epoch = 0;
    let cut = |i: usize| places[i].restart || i > 0 && places[i].scheme != places[i - 1].scheme;
    (0..places.len())
        .map(|i| {
            epoch += usize::from(cut(i));
            epoch
        })
        .collect()
}

/// What one rule finds on one side of one panel.
struct Track<'w> {
    panel: Statistic,
    rule: Rule,
    side: Option<Side>,
    changed: usize,
    ends_here: bool,
    epochs: &'w [usize],
    /// Tested places.
    tested: Vec<usize>,
    /// Those of them from `changed` on, and whether each is flagged.
    after: Vec<(usize, bool)>,
    open: Vec<StandingSignal>,
    reviewed: Vec<StandingSignal>,
    withdrawn: Vec<StandingSignal>,
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
        self.at <= Lies::At(place) && Lies::At(place) <= self.to
    }
}

impl<'w> Track<'w> {
    fn new(
        judgement: &Judgement,
        epochs: &'w [usize],
        standing: &[StandingSignal],
        (panel, rule, side): (Statistic, Rule, Option<Side>),
    ) -> Self {
        let Judgement { window, changed, ends_here, .. } = *judgement;
        let points = window.panels.iter().find(|(of, _)| *of == panel).map_or(&[][..], |(_, points)| points);
        let tested: Vec<usize> = (0..points.len()).filter(|&place| points[place].tested).collect();
        let mut flagged = vec![false; points.len()];
        for f in window.signals.iter().filter(|f| (f.panel, f.rule, f.side) == (panel, rule, side)) {
            flagged[f.at..=f.to].fill(true);
        }
        let (mut open, mut reviewed, mut withdrawn) = (vec![], vec![], vec![]);
        for s in standing.iter().filter(|s| (s.panel, s.rule, s.side) == (panel, rule, side)) {
            match (s.withdrawn, s.reviewed) {
                (false, false) => open.push(*s),
                (false, true) => reviewed.push(*s),
                (true, false) => withdrawn.push(*s),
                // It was reviewed with the remark that it is gone.
                (true, true) => {}
            }
        }
        let first_after = tested.partition_point(|&place| place < changed);
        let mut after: Vec<_> = tested[first_after..].iter().map(|&place| (place, flagged[place])).collect();
        if let Some((last, flagged)) = after.last_mut().filter(|_| !ends_here) {
            // The point at the far edge is there for what goes on behind it, which is as it was.
            *flagged |= open.iter().any(|s| s.covers(*last) && s.to == Lies::After);
        }
        Self { panel, rule, side, changed, ends_here, epochs, tested, after, open, reviewed, withdrawn }
    }

    /// The last tested place before `changed`.
    fn before(&self) -> Option<usize> {
        (self.tested.len() - self.after.len()).checked_sub(1).map(|last| self.tested[last])
    }

    /// Every point beyond a limit is its own signal.
    fn alone(&self) -> bool {
        matches!(self.rule, Rule::Beyond { .. })
    }

    /// The last tested place before `changed` that a signal keeps, whatever happens behind it.
    fn kept_until(&self, s: &StandingSignal) -> Option<usize> {
        self.before().filter(|&last| s.at <= Lies::At(last))
    }

    fn patterns(&self) -> Vec<Pattern<'_>> {
        let mut patterns: Vec<Pattern> = Vec::new();
        let mut goes_on = None;
        for &(place, flagged) in &self.after {
            let flagged = flagged && !self.reviewed.iter().any(|s| s.covers(place));
            let epoch = Some(self.epochs[place]);
            match patterns.last_mut() {
                Some(pattern) if flagged && goes_on == epoch => pattern.last = place,
                _ if flagged => patterns.push(Pattern { first: place, last: place, begins: None, ends: None }),
                _ => {}
            }
            goes_on = epoch.filter(|_| flagged && !self.alone());
        }
        if self.alone() {
            return patterns;
        }
        let edges = self.after.first().zip(self.after.last());
        if let Some(first) = patterns.first_mut().filter(|p| edges.is_some_and(|((edge, _), _)| p.first == *edge)) {
            let before = self.before().filter(|&last| self.epochs[last] == self.epochs[first.first]);
            first.begins = self.open.iter().find(|s| before.is_some_and(|last| s.covers(last)));
        }
        if let Some(last) = patterns.last_mut().filter(|p| edges.is_some_and(|(_, (edge, _))| p.last == *edge)) {
            let goes_on = |s: &&StandingSignal| !self.ends_here && s.covers(last.last) && s.to == Lies::After;
            last.ends = self.open.iter().find(goes_on);
        }
        patterns
    }

    fn changes(&self) -> Vec<Change> {
        let mut changes = Vec::new();
        let mut keepers: Vec<Option<Uuid>> = Vec::new();
        let mut taken_up: Vec<Uuid> = Vec::new();
        let patterns = self.patterns();
        let overlap = |s: &StandingSignal, p: &Pattern| s.at <= Lies::At(p.last) && s.to >= Lies::At(p.first);
        for pattern in &patterns {
            let keeper = pattern.begins.or_else(|| {
                let free = |s: &&StandingSignal| !keepers.contains(&Some(s.id)) && self.kept_until(s).is_none();
                self.open.iter().filter(free).find(|s| overlap(s, pattern))
            });
            let end = pattern.ends.map_or(End::At(pattern.last), |s| End::Of(s.id));
            keepers.push(keeper.map(|s| s.id));
            match keeper {
                None => match self.again(pattern, &taken_up) {
                    Some(signal) => {
                        let start = (self.evidence(pattern.first), pattern.first);
                        taken_up.push(signal);
                        changes.push(Change::TakeUp { signal, start, end });
                    }
                    None => changes.push(Change::Raise { finding: self.finding(pattern), end }),
                },
                Some(s) => changes.extend(self.shaped(s, pattern, end)),
            }
        }
        for s in self.open.iter().filter(|s| s.to >= Lies::At(self.changed) && !keepers.contains(&Some(s.id))) {
            match self.kept_until(s) {
                Some(last) => {
                    let end = Some(End::At(last));
                    changes.push(Change::Reshape { signal: s.id, start: None, end });
                }
                None if s.at < Lies::After => {
                    let joined = patterns.iter().zip(&keepers).find(|(p, _)| overlap(s, p)).and_then(|(_, k)| *k);
                    changes.push(Change::Withdraw { signal: s.id, joined });
                }
                None => {}
            }
        }
        // What a person has reviewed stays as they saw it, as long as anything of it may hold.
        for s in self.reviewed.iter().filter(|s| s.at >= Lies::At(self.changed) && s.to < Lies::After) {
            if !self.after.iter().any(|&(place, flagged)| flagged && s.covers(place)) {
                changes.push(Change::Withdraw { signal: s.id, joined: None });
            }
        }
        changes
    }

    /// What becomes of a standing signal that is this pattern now.
    fn shaped(&self, s: &StandingSignal, pattern: &Pattern, end: End) -> Option<Change> {
        let (from, at) = (self.evidence(pattern.first), pattern.first);
        let moved = (s.from, s.at) != (Lies::At(from), Lies::At(at));
        let start = (pattern.begins.is_none() && moved).then_some((from, at));
        let new_end = match end {
            End::At(last) => Lies::At(last),
            End::Of(_) => Lies::After,
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

    /// A withdrawn signal that was this pattern: one that began where it begins, or else one that overlaps it.
    fn again(&self, pattern: &Pattern, taken_up: &[Uuid]) -> Option<Uuid> {
        let free = || self.withdrawn.iter().filter(|s| !taken_up.contains(&s.id));
        let began = free().find(|s| s.at == Lies::At(pattern.first));
        let inside = |s: &&StandingSignal| Lies::At(pattern.first) <= s.at && s.at <= Lies::At(pattern.last);
        began.or_else(|| free().find(inside).filter(|_| !self.alone())).map(|s| s.id)
    }

    /// First tested point of the rule's window that ends at `at`.
    fn evidence(&self, at: usize) -> usize {
        let until = self.tested.partition_point(|&place| place <= at);
        let from = until.saturating_sub(self.rule.window());
        let same = |&&place: &&usize| self.epochs[place] == self.epochs[at];
        self.tested[from..until].iter().find(same).copied().unwrap_or(at)
    }
}
