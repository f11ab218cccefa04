//! The judge of a panel's long stretches.

use fearless_simd::{Level, Simd, dispatch};

use super::bits::{BLOCK, Bits, LOOKS_BACK, WORDS};
use super::block::Block;
use super::places::Places;
use super::scale::Scale;
use super::seen::Seen;
use crate::rules::{Flag, Rule, Side};

/// A rule at its place in the set, what it flags in the block on each side, and whether it flagged the point before.
#[derive(Debug, Clone)]
struct Row {
    place: usize,
    rule: Rule,
    flagged: [Bits; 2],
    any: [bool; 2],
    going_on: [bool; 2],
}

impl Row {
    /// Every point that it flags is a signal of its own.
    fn alone(&self) -> bool {
        matches!(self.rule, Rule::Beyond { .. })
    }

    /// Its flag on a side that begins at a bit of a word.
    #[inline]
    fn flag(&self, slot: usize, (at, first): (usize, usize), places: &Places) -> Flag {
        let Self { place, rule, .. } = *self;
        let (alone, words) = (self.alone(), self.flagged[slot].words());
        let word = words[at];
        let before = if at == 0 { self.going_on[slot] } else { words[at - 1] >> 63 == 1 };
        let many = if alone { 1 } else { (word >> first).trailing_ones() as usize };
        let point = 64 * at + first;
        Flag {
            place,
            rule,
            side: side(rule, slot),
            at: places.of(point),
            from: places.first_of(rule.window(), point),
            to: places.of(point + many - 1),
            goes_on: first == 0 && before && !alone,
        }
    }
}

/// Judges a panel's tested points, all with a z, by a list of rules whose windows words look back on.
#[derive(Debug, Clone)]
pub struct WordJudge {
    rules: Vec<Row>,
    seen: Seen,
    block: Block,
    places: Places,
    /// Rules by number and side that flag points of the block, and where in a word what they flag begins.
    telling: Vec<(usize, usize, u64)>,
    level: Level,
}

impl WordJudge {
    /// A judge with an empty memory; `None` where a rule looks further back than words do.
    pub fn new(rules: &[(usize, Rule)]) -> Option<Self> {
        if rules.iter().any(|(_, rule)| rule.window() > LOOKS_BACK) {
            return None;
        }
        let row =
            |&(place, rule): &_| Row { place, rule, flagged: [Bits::NONE; 2], any: [false; 2], going_on: [false; 2] };
        Some(Self {
            rules: rules.iter().map(row).collect(),
            seen: Seen::new(rules.iter().map(|(_, rule)| *rule)),
            block: Block::new(),
            places: Places::new(),
            telling: vec![],
            level: Level::new(),
        })
    }

    /// The next tested points, at places in a row from `place`, with lines that stand still; sigma is above 0. Flags
    /// come when a block is full.
    pub fn push_all(&mut self, place: usize, values: &[f64], center: f64, sigma: f64, mut found: impl FnMut(Flag)) {
        let (mut place, mut values) = (place, values);
        while !values.is_empty() {
            self.places.push(self.block.filled, place);
            let taken = self.block.take(values, Scale { center, sigma });
            (place, values) = (place + taken, &values[taken..]);
            if self.block.filled == BLOCK {
                self.judge(&mut found);
                self.block.next();
                self.places.next_block();
            }
        }
    }

    /// The first point whose flags have not come yet.
    pub fn untold(&self) -> Option<usize> {
        (self.block.filled > 0).then(|| self.places.of(0))
    }

    /// Judges what is left and forgets everything: at a restart and at the end.
    pub fn finish(&mut self, found: impl FnMut(Flag)) {
        if self.block.filled > 0 {
            self.judge(found);
        }
        self.block.clear();
        self.places.clear();
        self.seen.clear();
        self.rules.iter_mut().for_each(|row| row.going_on = [false; 2]);
    }

    fn judge(&mut self, mut found: impl FnMut(Flag)) {
        self.block.close();
        let (seen, block, rules) = (&mut self.seen, &mut self.block, &mut self.rules);
        dispatch!(self.level, simd => look(simd, seen, block, rules));
        self.tell(&mut found);
    }

    /// Tells what was flagged in the order of the points, and of one point in that of the rules; points in a row as one.
    fn tell(&mut self, found: &mut impl FnMut(Flag)) {
        let Self { rules, places, telling, .. } = self;
        for (number, row) in rules.iter().enumerate() {
            telling.extend((0..2).filter(|&slot| row.any[slot]).map(|slot| (number, slot, 0)));
        }
        for at in 0..if telling.is_empty() { 0 } else { WORDS } {
            let mut begin = 0;
            for (number, slot, begins) in &mut *telling {
                let row = &rules[*number];
                let word = row.flagged[*slot].words()[at];
                *begins = if row.alone() { word } else { word & !(word << 1) };
                begin |= *begins;
            }
            while begin != 0 {
                let first = begin.trailing_zeros() as usize;
                begin &= begin - 1;
                for (number, slot, _) in telling.iter().filter(|(_, _, begins)| begins >> first & 1 == 1) {
                    found(rules[*number].flag(*slot, (at, first), places));
                }
            }
        }
        rules.iter_mut().for_each(|row| row.going_on = [row.flagged[0].last(), row.flagged[1].last()]);
        telling.clear();
    }
}

/// Looks at a block and applies the rules to what was seen.
#[inline(always)]
fn look<S: Simd>(simd: S, seen: &mut Seen, block: &mut Block, rules: &mut [Row]) {
    if !seen.measure(simd, block.values(), block.scale) {
        block.become_z();
        seen.measure(simd, block.values(), block.scale);
    }
    seen.on(block.scale);
    seen.look(simd, block.scale);
    for row in rules {
        row.flagged = flagged(seen, row.rule);
        row.any = [row.flagged[0].any(), row.flagged[1].any()];
    }
}

/// Flagged points above and below, or rising and falling; those without a side come first.
#[inline(always)]
fn flagged(seen: &Seen, rule: Rule) -> [Bits; 2] {
    match rule {
        Rule::Beyond { k } => {
            let (above, below) = seen.beyond(k);
            [*above, *below]
        }
        Rule::OneSide { n } => {
            let (above, below) = seen.beyond(0.0);
            [above.in_a_row(n), below.in_a_row(n)]
        }
        Rule::Trend { n } => [seen.rising.in_a_row(n - 1), seen.falling.in_a_row(n - 1)],
        Rule::Alternating { n } => [seen.rising.alternate(&seen.falling).in_a_row(n - 2), Bits::NONE],
        Rule::MOfN { m, n, k } => {
            let (above, below) = seen.beyond(k);
            [above.at_least(m, n), below.at_least(m, n)]
        }
        Rule::Avoiding { n, k } => {
            let (above, below) = seen.beyond(k);
            [above.or(below).in_a_row(n), Bits::NONE]
        }
        Rule::Hugging { n, k } => [seen.within(k).in_a_row(n), Bits::NONE],
    }
}

fn side(rule: Rule, slot: usize) -> Option<Side> {
    match (rule, slot) {
        (Rule::Beyond { .. } | Rule::OneSide { .. } | Rule::MOfN { .. }, 0) => Some(Side::Above),
        (Rule::Beyond { .. } | Rule::OneSide { .. } | Rule::MOfN { .. }, _) => Some(Side::Below),
        (Rule::Trend { .. }, 0) => Some(Side::Rising),
        (Rule::Trend { .. }, _) => Some(Side::Falling),
        _ => None,
    }
}
