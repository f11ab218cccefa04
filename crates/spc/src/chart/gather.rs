//! Gathers flags into signals.

use super::answer::Signal;
use super::statistic::Statistic;
use crate::bounds::SIGNALS_AT_MOST;
use crate::rules::{Flag, Side};

/// Panel, place of the rule, side.
type Key = (usize, usize, Option<Side>);

/// The signals found so far.
#[derive(Debug, Default)]
pub(super) struct Signals {
    found: Vec<Signal>,
    /// What the signals are sorted by at last: `at` and key. Short, since sorting moves it about.
    order: Vec<(usize, Key)>,
    /// The signal that each rule of each panel last flagged on each side.
    going: Vec<(Key, usize)>,
    /// There are more than an answer holds.
    pub too_many: bool,
}

impl Signals {
    /// Begins a signal, or lets the last one of the same panel, rule and side go on.
    pub fn flag(&mut self, panel: usize, statistic: Statistic, flag: &Flag) {
        let key = (panel, flag.place, flag.side);
        let going = self.going.iter_mut().find(|(of, _)| *of == key);
        match going {
            Some((_, signal)) if flag.goes_on => {
                self.found[*signal].to = flag.at;
                return;
            }
            _ if self.found.len() == SIGNALS_AT_MOST => {
                self.too_many = true;
                return;
            }
            Some((_, signal)) => *signal = self.found.len(),
            None => self.going.push((key, self.found.len())),
        }
        let Flag { rule, side, at, from, .. } = *flag;
        self.found.push(Signal { panel: statistic, rule, side, at, from, to: at });
        self.order.push((at, key));
    }

    /// Sorted by `at`, then panel, rule, side.
    pub fn finish(self) -> Vec<Signal> {
        let mut order: Vec<(usize, usize)> = self.order.iter().enumerate().map(|(i, (at, _))| (*at, i)).collect();
        order.sort_unstable_by(|(a, i), (b, j)| a.cmp(b).then_with(|| self.order[*i].1.cmp(&self.order[*j].1)));
        order.into_iter().map(|(_, i)| self.found[i]).collect()
    }
}
