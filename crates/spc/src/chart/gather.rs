//! Gathers flags into signals.

use super::answer::Signal;
use super::statistic::Statistic;
use crate::bounds::SIGNALS_AT_MOST;
use crate::rules::{Flag, Side};

/// A flag of a panel by its number and by what it plots.
pub(super) type PanelFlag = (usize, Statistic, Flag);

/// Rule sets have fewer places.
const PLACES_AT_MOST: usize = 1 << 16;

/// By the place of a rule and the side: the signal that it last flagged.
type Going = Vec<[usize; 3]>;

/// The signals found so far, sorted by `at`, then panel, rule, side.
#[derive(Debug, Default)]
pub(super) struct Signals {
    pub found: Vec<Signal>,
    going: Vec<Going>,
    /// Of the flags of a stretch: point, then panel, place of the rule and side as digits, and which it is.
    order: Vec<(usize, u32, u32)>,
    /// There are more than an answer holds.
    pub too_many: bool,
}

impl Signals {
    /// Takes the flags of a stretch up to a point before which every panel has told all that it found; later ones stay.
    /// Each begins a signal, or lets the last one of the same panel, rule and side go on.
    pub fn take(&mut self, flags: &mut Vec<PanelFlag>, until: usize) {
        // Short, since sorting moves it about.
        let digits = |panel: usize, flag: &Flag| ((panel * PLACES_AT_MOST + flag.place) * 3 + slot(flag.side)) as u32;
        let order = (0..).zip(&*flags).map(|(i, (panel, _, flag))| (flag.at, digits(*panel, flag), i));
        self.order.clear();
        self.order.extend(order.filter(|(at, ..)| *at < until));
        self.order.sort_unstable();
        for &(.., i) in &self.order {
            let (panel, statistic, flag) = flags[i as usize];
            let (place, side) = (flag.place, slot(flag.side));
            if self.going.len() <= panel {
                self.going.resize_with(panel + 1, Going::default);
            }
            let of = &mut self.going[panel];
            if of.len() <= place {
                of.resize(place + 1, [usize::MAX; 3]);
            }
            let going = &mut of[place][side];
            if flag.goes_on && *going != usize::MAX {
                self.found[*going].to = flag.to;
            } else if self.found.len() == SIGNALS_AT_MOST {
                self.too_many = true;
            } else {
                *going = self.found.len();
                let Flag { rule, side, at, from, to, .. } = flag;
                self.found.push(Signal { panel: statistic, rule, side, at, from, to });
            }
        }
        flags.retain(|(_, _, flag)| flag.at >= until);
    }
}

fn slot(side: Option<Side>) -> usize {
    match side {
        Some(Side::Above | Side::Rising) => 0,
        Some(Side::Below | Side::Falling) => 1,
        None => 2,
    }
}
