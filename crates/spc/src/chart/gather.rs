//! Gathers flags into signals.

use std::collections::VecDeque;

use super::answer::Signal;
use super::statistic::Statistic;
use crate::bounds::SIGNALS_AT_MOST;
use crate::rules::{Flag, Side};

/// What was flagged in a panel.
#[derive(Debug)]
struct Flagged {
    panel: Statistic,
    /// Those that wait for other panels, sorted by point, place of the rule and side.
    flags: VecDeque<Flag>,
    /// By the place of a rule and the side: the signal that it last flagged.
    going: Vec<[Option<usize>; 3]>,
}

/// The signals found so far, sorted by `at`, then panel, rule, side.
#[derive(Debug)]
pub(super) struct Signals {
    pub found: Vec<Signal>,
    panels: Vec<Flagged>,
    /// There are more than an answer holds.
    pub too_many: bool,
}

impl Signals {
    /// None so far, of panels that plot this.
    pub fn new(statistics: &[Statistic]) -> Self {
        let flagged = |&panel: &_| Flagged { panel, flags: VecDeque::new(), going: vec![] };
        Self { found: vec![], panels: statistics.iter().map(flagged).collect(), too_many: false }
    }

    /// The next flag of a panel, by its number. They come in the order of the points.
    #[inline]
    pub fn push(&mut self, panel: usize, flag: Flag) {
        let flags = &mut self.panels[panel].flags;
        let order = |flag: &Flag| (flag.at, flag.place, slot(flag.side));
        // A judge that goes point by point tells what it found at one of them in an order of its own.
        let later = |before: &&Flag| before.at == flag.at && order(before) > order(&flag);
        let behind = match flags.back() {
            Some(last) if last.at == flag.at => flags.iter().rev().take_while(later).count(),
            _ => 0,
        };
        if behind == 0 { flags.push_back(flag) } else { flags.insert(flags.len() - behind, flag) }
    }

    /// Takes the flags of all panels, each told as it is taken, up to a point before which every panel has told all that
    /// it found; later ones stay. Each begins a signal, or lets the last one of the same panel, rule and side go on.
    pub fn take(&mut self, until: usize, mut told: impl FnMut(usize, &Flag)) {
        loop {
            let first = self.panels.iter().enumerate().filter_map(|(number, of)| Some((of.flags.front()?.at, number)));
            let Some((_, number)) = first.min().filter(|(at, _)| *at < until) else { return };
            let of = &mut self.panels[number];
            let Some(flag) = of.flags.front() else { return };
            told(number, flag);
            let Flag { place, rule, side, at, from, to, goes_on } = *flag;
            if of.going.len() <= place {
                of.going.resize(place + 1, [None; 3]);
            }
            let going = &mut of.going[place][slot(side)];
            match going {
                Some(going) if goes_on => self.found[*going].to = to,
                _ if self.found.len() == SIGNALS_AT_MOST => self.too_many = true,
                _ => {
                    *going = Some(self.found.len());
                    self.found.push(Signal { panel: of.panel, rule, side, at, from, to });
                }
            }
            of.flags.pop_front();
        }
    }
}

fn slot(side: Option<Side>) -> usize {
    match side {
        Some(Side::Above | Side::Rising) => 0,
        Some(Side::Below | Side::Falling) => 1,
        None => 2,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::rules::Rule;

    fn flag(at: usize, place: usize, side: Side) -> Flag {
        Flag { place, rule: Rule::Trend { n: 6 }, side: Some(side), at, from: at, to: at, goes_on: false }
    }

    /// Whichever panel tells first, and in whatever order a judge tells what it found at one point.
    #[test]
    fn signals_are_sorted_by_point_panel_rule_and_side() {
        let mut signals = Signals::new(&[Statistic::Individual, Statistic::MovingRange]);
        signals.push(1, flag(3, 0, Side::Above));
        for (at, place, side) in
            [(2, 4, Side::Below), (3, 2, Side::Below), (3, 2, Side::Above), (3, 1, Side::Above), (9, 0, Side::Above)]
        {
            signals.push(0, flag(at, place, side));
        }
        let mut told = vec![];
        signals.take(9, |panel, flag| told.push((flag.at, panel, flag.place, slot(flag.side))));
        assert_eq!(told, [(2, 0, 4, 1), (3, 0, 1, 0), (3, 0, 2, 0), (3, 0, 2, 1), (3, 1, 0, 0)]);
        assert_eq!(signals.found.iter().map(|signal| signal.at).collect::<Vec<_>>(), [2, 3, 3, 3, 3]);
    }
}
