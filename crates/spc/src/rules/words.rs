//! Judging 64 points at a time, for long series. What each point is (above, beyond 2 sigma, rising …)
//! becomes one bit of a word, and a rule becomes a few shifts of words: that n points in a row are
//! above is n shifted words and-ed. Finds exactly what [`Judge`](super::Judge) finds, which judges
//! points as they arrive; a contract test holds the two equal.

use wide::f64x8;

use super::{Flag, Rule, Side};
use crate::TIE;

/// Points in a block, and the longest window that words can look back on.
pub const BLOCK: usize = 64;

/// Bits of a block of points and of the block before it; the newest point has the highest bit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
struct Bits {
    now: u64,
    before: u64,
}

impl Bits {
    /// The next block.
    fn push(&mut self, block: u64) {
        (self.before, self.now) = (self.now, block);
    }

    /// At each point the bit of the point `by` places before it, 0…63. Bits from before both blocks
    /// come as 0; no window of 64 points that ends in the newest block reaches there.
    #[inline]
    fn back(self, by: usize) -> Self {
        Self { now: self.now << by | self.before >> 1 >> (63 - by), before: self.before << by }
    }

    fn and(self, other: Self) -> Self {
        Self { now: self.now & other.now, before: self.before & other.before }
    }

    fn or(self, other: Self) -> Self {
        Self { now: self.now | other.now, before: self.before | other.before }
    }

    /// Points of the block with which `n` set bits in a row end.
    fn in_a_row(self, n: usize) -> u64 {
        let (mut row, mut length) = (self, 1);
        while length < n {
            let further = length.min(n - length);
            row = row.and(row.back(further));
            length += further;
        }
        row.now
    }

    /// Points of the block with which at least `m` of `n` bits are set; counts in binary, one word a
    /// digit.
    fn at_least(self, m: usize, n: usize) -> u64 {
        let mut all = [0; 7];
        let digits = &mut all[..=n.ilog2() as usize];
        for by in 0..n {
            let mut carry = self.back(by).now;
            for digit in digits.iter_mut() {
                (*digit, carry) = (*digit ^ carry, *digit & carry);
            }
        }
        let (mut more, mut equal) = (0, u64::MAX);
        for (place, digit) in digits.iter().enumerate().rev() {
            if m >> place & 1 == 1 {
                equal &= digit;
            } else {
                more |= equal & digit;
                equal &= !digit;
            }
        }
        more | equal
    }
}

/// One bit for each place of a block where `holds`, eight at a time.
#[inline]
fn bits(of: &[f64; BLOCK], holds: impl Fn(f64x8) -> f64x8) -> u64 {
    let (eights, _) = of.as_chunks::<8>();
    eights
        .iter()
        .enumerate()
        .fold(0, |word, (place, eight)| word | u64::from(holds(f64x8::new(*eight)).to_bitmask()) << (8 * place))
}

#[inline]
fn bits_above(of: &[f64; BLOCK], edge: f64) -> u64 {
    bits(of, |x| x.simd_gt(f64x8::splat(edge)))
}

#[inline]
fn bits_below(of: &[f64; BLOCK], edge: f64) -> u64 {
    bits(of, |x| x.simd_lt(f64x8::splat(edge)))
}

/// Which points are beyond k on either side.
#[derive(Debug, Clone, Copy)]
struct Zone {
    k: f64,
    above: Bits,
    below: Bits,
}

/// A rule at its place in the set, and whether it flagged the point before the block on each side.
#[derive(Debug, Clone, Copy)]
struct Row {
    place: usize,
    rule: Rule,
    going_on: [bool; 2],
}

/// Judges a panel's tested points, all with a z, by a list of rules whose windows fit a block.
#[derive(Debug, Clone)]
pub struct WordJudge {
    rules: Vec<Row>,
    zones: Vec<Zone>,
    hugging: Vec<(f64, Bits)>,
    above: Bits,
    below: Bits,
    rising: Bits,
    falling: Bits,
    z: [f64; BLOCK],
    places: [usize; BLOCK],
    /// Places of the block before.
    earlier: [usize; BLOCK],
    filled: usize,
    /// Points before the block since the start or the last restart, up to a block of them.
    before: usize,
    last_z: f64,
}

impl WordJudge {
    /// A judge with an empty memory; `None` where a rule looks further back than words do.
    pub fn new(rules: &[(usize, Rule)]) -> Option<Self> {
        if rules.iter().any(|(_, rule)| rule.window() > BLOCK) {
            return None;
        }
        let mut zones: Vec<Zone> = Vec::new();
        let mut hugging: Vec<(f64, Bits)> = Vec::new();
        for (_, rule) in rules {
            match *rule {
                Rule::Beyond { k } | Rule::MOfN { k, .. } | Rule::Avoiding { k, .. }
                    if zones.iter().all(|zone| zone.k != k) =>
                {
                    zones.push(Zone { k, above: Bits::default(), below: Bits::default() });
                }
                Rule::Hugging { k, .. } if hugging.iter().all(|(kept, _)| *kept != k) => {
                    hugging.push((k, Bits::default()));
                }
                _ => {}
            }
        }
        Some(Self {
            rules: rules.iter().map(|&(place, rule)| Row { place, rule, going_on: [false; 2] }).collect(),
            zones,
            hugging,
            above: Bits::default(),
            below: Bits::default(),
            rising: Bits::default(),
            falling: Bits::default(),
            z: [f64::NAN; BLOCK],
            places: [0; BLOCK],
            earlier: [0; BLOCK],
            filled: 0,
            before: 0,
            last_z: f64::NAN,
        })
    }

    /// The next tested point. Flags come when a block is full.
    #[inline]
    pub fn push(&mut self, place: usize, z: f64, found: impl FnMut(Flag)) {
        self.z[self.filled] = z;
        self.places[self.filled] = place;
        self.filled += 1;
        if self.filled == BLOCK {
            self.judge(found);
        }
    }

    /// The next tested points, at places in a row from `place`, with lines that stand still.
    pub fn push_all(&mut self, place: usize, values: &[f64], center: f64, sigma: f64, mut found: impl FnMut(Flag)) {
        let z = |x: f64| (x - center) / sigma;
        let (mut place, mut left) = (place, values);
        while let Some((first, rest)) = left.split_first() {
            match left.first_chunk::<BLOCK>() {
                Some(block) if self.filled == 0 => {
                    self.z = block.map(z);
                    self.places = std::array::from_fn(|i| place + i);
                    self.judge(&mut found);
                    (place, left) = (place + BLOCK, &left[BLOCK..]);
                }
                _ => {
                    self.push(place, z(*first), &mut found);
                    (place, left) = (place + 1, rest);
                }
            }
        }
    }

    /// Judges what is left and forgets everything: at a restart and at the end.
    pub fn finish(&mut self, found: impl FnMut(Flag)) {
        if self.filled > 0 {
            // No comparison with NaN holds, so no bit is set where there is no point.
            self.z[self.filled..].fill(f64::NAN);
            self.judge(found);
        }
        for bits in [&mut self.above, &mut self.below, &mut self.rising, &mut self.falling] {
            *bits = Bits::default();
        }
        for zone in &mut self.zones {
            (zone.above, zone.below) = (Bits::default(), Bits::default());
        }
        self.hugging.iter_mut().for_each(|(_, bits)| *bits = Bits::default());
        self.rules.iter_mut().for_each(|row| row.going_on = [false; 2]);
        (self.before, self.last_z) = (0, f64::NAN);
    }

    fn judge(&mut self, mut found: impl FnMut(Flag)) {
        self.push_bits();
        for number in 0..self.rules.len() {
            let Row { place, rule, going_on } = self.rules[number];
            let words = self.flagged(rule);
            if words == [0; 2] {
                self.rules[number].going_on = [false; 2];
                continue;
            }
            for (slot, word) in words.into_iter().enumerate() {
                let mut left = word;
                let earlier = word << 1 | u64::from(going_on[slot]);
                while left != 0 {
                    let bit = left.trailing_zeros() as usize;
                    left &= left - 1;
                    let goes_on = earlier >> bit & 1 == 1 && !matches!(rule, Rule::Beyond { .. });
                    let (at, from) = (self.places[bit], self.from(bit, rule.window()));
                    found(Flag { place, rule, side: side(rule, slot), at, from, goes_on });
                }
                self.rules[number].going_on[slot] = word >> (BLOCK - 1) == 1;
            }
        }
        self.earlier = self.places;
        (self.before, self.filled) = (BLOCK, 0);
        self.last_z = self.z[BLOCK - 1];
    }

    fn push_bits(&mut self) {
        let z = &self.z;
        let mut steps = [0.0; BLOCK];
        steps[0] = z[0] - self.last_z;
        for i in 1..BLOCK {
            steps[i] = z[i] - z[i - 1];
        }
        self.above.push(bits_above(z, TIE));
        self.below.push(bits_below(z, -TIE));
        self.rising.push(bits_above(&steps, TIE));
        self.falling.push(bits_below(&steps, -TIE));
        for zone in &mut self.zones {
            let edge = zone.k + TIE;
            zone.above.push(bits_above(z, edge));
            zone.below.push(bits_below(z, -edge));
        }
        for (k, close) in &mut self.hugging {
            let edge = *k - TIE;
            close.push(bits(z, |z| z.abs().simd_lt(f64x8::splat(edge))));
        }
    }

    fn zone(&self, k: f64) -> (Bits, Bits) {
        self.zones.iter().find(|zone| zone.k == k).map_or_else(Default::default, |zone| (zone.above, zone.below))
    }

    /// Flagged points above and below, or rising and falling; those without a side come first.
    fn flagged(&self, rule: Rule) -> [u64; 2] {
        match rule {
            Rule::Beyond { k } => {
                let (above, below) = self.zone(k);
                [above.now, below.now]
            }
            Rule::OneSide { n } => [self.above.in_a_row(n), self.below.in_a_row(n)],
            Rule::Trend { n } => [self.rising.in_a_row(n - 1), self.falling.in_a_row(n - 1)],
            Rule::Alternating { n } => {
                let (up, down) = (self.rising, self.falling);
                [up.and(down.back(1)).or(down.and(up.back(1))).in_a_row(n - 2), 0]
            }
            Rule::MOfN { m, n, k } => {
                let (above, below) = self.zone(k);
                [above.now & above.at_least(m, n), below.now & below.at_least(m, n)]
            }
            Rule::Avoiding { n, k } => {
                let (above, below) = self.zone(k);
                [above.or(below).in_a_row(n), 0]
            }
            Rule::Hugging { n, k } => {
                let close =
                    self.hugging.iter().find(|(kept, _)| *kept == k).map_or_else(Bits::default, |(_, bits)| *bits);
                [close.in_a_row(n), 0]
            }
        }
    }

    /// First tested point of the window of `n` that ends at a bit of the block.
    fn from(&self, bit: usize, n: usize) -> usize {
        let back = (n - 1).min(bit + self.before);
        if back <= bit { self.places[bit - back] } else { self.earlier[BLOCK + bit - back] }
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
