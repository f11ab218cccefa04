//! Gathers flags into signals.

use super::answer::{Signal, Statistic};
use crate::rules::{Flag, Side};

/// Panel, place of the rule, side.
type Key = (usize, usize, Option<Side>);

/// The signals found so far.
#[derive(Debug, Default)]
pub(super) struct Signals {
    /// Panel and place of the rule beside each signal, by which they are sorted at last.
    found: Vec<(usize, usize, Signal)>,
    /// The signal that each rule of each panel last flagged on each side.
    going: Vec<(Key, usize)>,
}

impl Signals {
    /// Begins a signal, or lets the last one of the same panel, rule and side go on.
    pub fn flag(&mut self, panel: usize, statistic: Statistic, flag: &Flag) {
        let key = (panel, flag.place, flag.side);
        let going = self.going.iter_mut().find(|(of, _)| *of == key);
        match going {
            Some((_, signal)) if flag.goes_on => {
                self.found[*signal].2.to = flag.at;
                return;
            }
            Some((_, signal)) => *signal = self.found.len(),
            None => self.going.push((key, self.found.len())),
        }
        let Flag { rule, side, at, from, .. } = *flag;
        self.found.push((panel, flag.place, Signal { panel: statistic, rule, side, at, from, to: at }));
    }

    /// Sorted by `at`, then panel, rule, side.
    pub fn finish(mut self) -> Vec<Signal> {
        self.found.sort_unstable_by_key(|(panel, place, signal)| (signal.at, *panel, *place, signal.side));
        self.found.into_iter().map(|(_, _, signal)| signal).collect()
    }
}
