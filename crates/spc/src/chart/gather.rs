//! Gathers flags into signals.

use std::iter::Peekable;
use std::slice::Iter;

use super::answer::Signal;
use super::statistic::Statistic;
use crate::bounds::SIGNALS_AT_MOST;
use crate::rules::{Flag, Side};

/// A flag of a panel by its number and by what it plots.
pub(super) type PanelFlag = (usize, Statistic, Flag);

/// The signals found so far.
#[derive(Debug, Default)]
pub(super) struct Signals {
    panels: Vec<OfPanel>,
    many: usize,
    /// Of the flags of a stretch: panel, point, place of the rule, side, and which it is.
    order: Vec<(usize, usize, usize, usize, usize)>,
    /// There are more than an answer holds.
    pub too_many: bool,
}

/// Signals of a panel, in order.
#[derive(Debug, Default)]
struct OfPanel {
    found: Vec<Signal>,
    /// By the place of a rule and the side: the signal that it last flagged.
    going: Vec<[usize; 3]>,
}

impl Signals {
    /// Takes the flags of a stretch: each begins a signal, or lets the last one of the same panel, rule and side go on.
    /// Those of a panel come in the order of their stretches.
    pub fn take(&mut self, flags: &mut Vec<PanelFlag>) {
        // Short, since sorting moves it about.
        let order =
            flags.iter().enumerate().map(|(i, (panel, _, flag))| (*panel, flag.at, flag.place, slot(flag.side), i));
        self.order.clear();
        self.order.extend(order);
        self.order.sort_unstable();
        for &(panel, _, place, side, i) in &self.order {
            let (_, statistic, flag) = flags[i];
            if self.panels.len() <= panel {
                self.panels.resize_with(panel + 1, OfPanel::default);
            }
            let of = &mut self.panels[panel];
            if of.going.len() <= place {
                of.going.resize(place + 1, [usize::MAX; 3]);
            }
            let going = &mut of.going[place][side];
            if flag.goes_on && *going != usize::MAX {
                of.found[*going].to = flag.to;
            } else if self.many == SIGNALS_AT_MOST {
                self.too_many = true;
            } else {
                *going = of.found.len();
                self.many += 1;
                let Flag { rule, side, at, from, to, .. } = flag;
                of.found.push(Signal { panel: statistic, rule, side, at, from, to });
            }
        }
        flags.clear();
    }

    /// Sorted by `at`, then panel, rule, side.
    pub fn finish(self) -> Vec<Signal> {
        let mut all = Vec::with_capacity(self.many);
        let mut left: Vec<_> = self.panels.iter().map(|panel| panel.found.iter().peekable()).collect();
        loop {
            // Of the same point the panel above comes first.
            let first =
                |(number, left): (usize, &mut Peekable<Iter<'_, Signal>>)| left.peek().map(|next| (next.at, number));
            let next = left.iter_mut().enumerate().filter_map(first).min();
            match next.and_then(|(_, number)| left[number].next()) {
                Some(signal) => all.push(*signal),
                None => return all,
            }
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
