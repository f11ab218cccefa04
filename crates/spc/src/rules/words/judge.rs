//! The judge of a panel's long stretches.

use fearless_simd::{Level, Simd, dispatch};

use super::bits::{BLOCK, Bits, LOOKS_BACK};
use super::block::Block;
use super::places::Places;
use super::scale::Scale;
use super::seen::Seen;
use crate::rules::{Flag, Rule, Side};

/// A rule at its place in the set, what it flags in the block on each side and what of that begins in a word, and whether
/// it flagged the point before.
#[derive(Debug, Clone)]
struct Row {
    place: usize,
    rule: Rule,
    flagged: [Bits; 2],
    begins: [Bits; 2],
    going_on: [bool; 2],
}

impl Row {
    /// Every point that it flags is a signal of its own.
    #[inline(always)]
    fn alone(&self) -> bool {
        matches!(self.rule, Rule::Beyond { .. })
    }

    /// What it flags in the block that was looked at.
    #[inline(always)]
    fn flags(&mut self, flagged: [Bits; 2]) {
        self.flagged = flagged;
        self.begins = if self.alone() { flagged } else { flagged.map(|flagged| flagged.begins_of_words()) };
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

const NOTHING: [Bits; 2] = [Bits::NONE; 2];

/// Judges a panel's tested points, all with a z, by a list of rules whose windows words look back on.
#[derive(Debug, Clone)]
pub struct WordJudge {
    rules: Vec<Row>,
    seen: Seen,
    block: Block,
    places: Places,
    /// Where any rule's flags begin.
    begins: Bits,
    level: Level,
}

impl WordJudge {
    /// A judge with an empty memory; `None` where a rule looks further back than words do.
    pub fn new(rules: &[(usize, Rule)]) -> Option<Self> {
        if rules.iter().any(|(_, rule)| rule.window() > LOOKS_BACK) {
            return None;
        }
        let row = |&(place, rule): &_| Row { place, rule, flagged: NOTHING, begins: NOTHING, going_on: [false; 2] };
        Some(Self {
            rules: rules.iter().map(row).collect(),
            seen: Seen::new(rules.iter().map(|(_, rule)| *rule)),
            block: Block::new(),
            places: Places::new(),
            begins: Bits::NONE,
            level: Level::new(),
        })
    }

    /// The next tested points, at places in a row from `place`, with lines that stand still; sigma is above 0. Flags
    /// come when a block is full.
    pub fn push_all(&mut self, place: usize, values: &[f64], center: f64, sigma: f64, mut found: impl FnMut(Flag)) {
        let (mut place, mut values, scale) = (place, values, Scale { center, sigma });
        while !values.is_empty() {
            self.places.push(self.block.filled, place);
            let taken = match values.first_chunk() {
                Some(whole) if self.block.filled == 0 && self.look_at(whole, scale) => {
                    self.block.next(whole[BLOCK - 1], scale);
                    BLOCK
                }
                _ => {
                    let taken = self.block.take(values, scale);
                    if self.block.filled == BLOCK {
                        self.look();
                        self.block.next(self.block.values()[BLOCK - 1], self.block.scale);
                    }
                    taken
                }
            };
            (place, values) = (place + taken, &values[taken..]);
            if self.block.filled == 0 {
                self.tell(&mut found);
                self.places.next_block();
            }
        }
    }

    /// The first point whose flags have not come yet.
    pub fn untold(&self) -> Option<usize> {
        (self.block.filled > 0).then(|| self.places.of(0))
    }

    /// Judges what is left and forgets everything: at a restart and at the end.
    pub fn finish(&mut self, mut found: impl FnMut(Flag)) {
        if self.block.filled > 0 {
            self.look();
            self.tell(&mut found);
        }
        self.block.clear();
        self.places.clear();
        self.seen.clear();
        self.rules.iter_mut().for_each(|row| row.going_on = [false; 2]);
    }

    /// Applies the rules to the values of a whole block where they lie, unless they are better looked at as their z.
    fn look_at(&mut self, values: &[f64; BLOCK], scale: Scale) -> bool {
        let Some(before) = self.block.before(scale) else { return false };
        let Self { seen, rules, begins, .. } = self;
        dispatch!(self.level, simd => look(simd, seen, (before, values), scale, (rules, begins)))
    }

    /// Applies the rules to the block as far as it is filled.
    fn look(&mut self) {
        self.block.close();
        let Self { seen, block, rules, begins, .. } = self;
        dispatch!(self.level, simd => look_closely(simd, seen, block, (rules, begins)));
    }

    /// Tells what was flagged in the order of the points, and of one point in that of the rules; points in a row as one.
    fn tell(&mut self, found: &mut impl FnMut(Flag)) {
        let Self { rules, places, .. } = self;
        for (at, begins) in self.begins.words().iter().enumerate() {
            let mut begins = *begins;
            while begins != 0 {
                let first = begins.trailing_zeros() as usize;
                begins &= begins - 1;
                for few in rules.chunks(32) {
                    // Which of them begin here cannot be foreseen, so they are told apart without a branch.
                    let begins = |row: &Row, slot: usize| row.begins[slot].words()[at] >> first & 1;
                    let here = |here, row: &Row| here << 2 | begins(row, 1) << 1 | begins(row, 0);
                    let mut here: u64 = few.iter().rev().fold(0, here);
                    while here != 0 {
                        let (number, slot) = (here.trailing_zeros() as usize / 2, here.trailing_zeros() as usize % 2);
                        here &= here - 1;
                        found(few[number].flag(slot, (at, first), places));
                    }
                }
            }
        }
        rules.iter_mut().for_each(|row| row.going_on = [row.flagged[0].last(), row.flagged[1].last()]);
    }
}

/// Looks at a block, as its values or, where these do not tell, as their z.
#[inline(always)]
fn look_closely<S: Simd>(simd: S, seen: &mut Seen, block: &mut Block, found: (&mut [Row], &mut Bits)) {
    let (rules, begins) = found;
    for _ in 0..2 {
        let before = block.before(block.scale).unwrap_or(f64::NAN);
        if look(simd, seen, (before, block.values()), block.scale, (rules, begins)) {
            return;
        }
        block.become_z();
    }
}

/// Looks at values, behind the one before them, and applies the rules to what was seen; gives whether they told it.
#[inline(always)]
fn look<S: Simd>(
    simd: S,
    seen: &mut Seen,
    (before, values): (f64, &[f64; BLOCK]),
    scale: Scale,
    (rules, begins): (&mut [Row], &mut Bits),
) -> bool {
    if !seen.measure(simd, before, values, scale) {
        return false;
    }
    seen.on(scale);
    seen.look(simd, scale);
    *begins = Bits::NONE;
    for row in rules {
        row.flags(flagged(seen, row.rule));
        *begins = begins.or(&row.begins[0]).or(&row.begins[1]);
    }
    true
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
