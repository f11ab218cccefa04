//! One bit for each point of a block, and what rules do with them.

/// Words of a block.
pub(super) const WORDS: usize = 16;

/// Points of a block.
pub const BLOCK: usize = 64 * WORDS;

/// The longest window that words look back on.
pub const LOOKS_BACK: usize = 64;

/// Bits of a block, behind the last word of the block before; of each word the newest point has the highest bit.
/// Functions on them are inlined always, so that they are made for the processor that the block is judged on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Bits([u64; 1 + WORDS]);

impl Bits {
    pub const NONE: Self = Self([0; 1 + WORDS]);

    /// The words of the block, once the last of the block before has made room for them.
    #[inline(always)]
    pub fn next_block(&mut self) -> &mut [u64] {
        self.0[0] = self.0[WORDS];
        &mut self.0[1..]
    }

    /// The words of the block.
    #[inline(always)]
    pub fn words(&self) -> &[u64] {
        &self.0[1..]
    }

    /// Whether the last point of the block has its bit set.
    pub fn last(&self) -> bool {
        self.0[WORDS] >> 63 == 1
    }

    /// At each point the bit of the point `by` places before it, 1 to 63. Bits from before both come as 0; no window
    /// that ends in the block reaches there.
    #[inline(always)]
    fn back(&self, by: usize) -> Self {
        let mut back = [self.0[0] << by; 1 + WORDS];
        for (at, [before, now]) in self.0.array_windows().enumerate() {
            back[1 + at] = now << by | before >> (64 - by);
        }
        Self(back)
    }

    #[inline(always)]
    pub fn and(&self, other: &Self) -> Self {
        let mut both = *self;
        for (both, other) in both.0.iter_mut().zip(&other.0) {
            *both &= other;
        }
        both
    }

    #[inline(always)]
    pub fn or(&self, other: &Self) -> Self {
        let mut either = *self;
        for (either, other) in either.0.iter_mut().zip(&other.0) {
            *either |= other;
        }
        either
    }

    /// Points whose bit is set, and not that of the point before them in the same word.
    #[inline(always)]
    pub fn begins_of_words(&self) -> Self {
        Self(self.0.map(|word| word & !(word << 1)))
    }

    /// Points with which `n` set bits in a row end.
    #[inline(always)]
    pub fn in_a_row(&self, n: usize) -> Self {
        let (mut row, mut length) = (*self, 1);
        while length < n {
            let further = length.min(n - length);
            row = row.and(&row.back(further));
            length += further;
        }
        row
    }

    /// Points at which bits alternate with those of `other`.
    #[inline(always)]
    pub fn alternate(&self, other: &Self) -> Self {
        self.and(&other.back(1)).or(&other.and(&self.back(1)))
    }

    /// Points whose bit is set, and at least `m` of the `n` up to them; counts in binary, one word a digit.
    #[inline(always)]
    pub fn at_least(&self, m: usize, n: usize) -> Self {
        let mut all = [*self, Self::NONE, Self::NONE, Self::NONE, Self::NONE, Self::NONE, Self::NONE];
        let digits = &mut all[..=n.ilog2() as usize];
        for by in 1..n {
            let mut carry = self.back(by);
            for digit in digits.iter_mut() {
                for (digit, carry) in digit.0.iter_mut().zip(&mut carry.0) {
                    (*digit, *carry) = (*digit ^ *carry, *digit & *carry);
                }
            }
        }
        let (mut more, mut equal) = (Self::NONE, Self([u64::MAX; 1 + WORDS]));
        for (place, digit) in digits.iter().enumerate().rev() {
            if m >> place & 1 == 1 {
                equal = equal.and(digit);
            } else {
                more = more.or(&equal.and(digit));
                for (equal, digit) in equal.0.iter_mut().zip(&digit.0) {
                    *equal &= !digit;
                }
            }
        }
        self.and(&more.or(&equal))
    }
}
