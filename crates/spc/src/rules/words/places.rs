//! Where the points of a block stand in their series: mostly in a row, with gaps here and there.

use super::bits::{BLOCK, LOOKS_BACK};

/// Places of the points of a block, and of some before it.
#[derive(Debug, Clone)]
pub(super) struct Places {
    /// From which point of the block on, and where that stands: points behind it stand in a row.
    runs: Vec<(usize, usize)>,
    /// The last before the block, the newest last.
    earlier: [usize; LOOKS_BACK],
    /// So many points came before the block since the start or the last restart, up to all that are kept.
    before: usize,
}

impl Places {
    pub fn new() -> Self {
        Self { runs: vec![], earlier: [0; LOOKS_BACK], before: 0 }
    }

    /// Points from `at` of the block on stand in a row from `place`.
    pub fn push(&mut self, at: usize, place: usize) {
        if self.runs.last().is_none_or(|(from, first)| first + (at - from) != place) {
            self.runs.push((at, place));
        }
    }

    /// Where a point of the block stands.
    #[inline]
    pub fn of(&self, at: usize) -> usize {
        let run = match &self.runs[..] {
            [only] => only,
            runs => &runs[runs.partition_point(|(from, _)| *from <= at) - 1],
        };
        run.1 + (at - run.0)
    }

    /// Where the first point of the window of `n` stands that ends at a point of the block.
    #[inline]
    pub fn first_of(&self, n: usize, at: usize) -> usize {
        let back = (n - 1).min(at + self.before);
        if back <= at { self.of(at - back) } else { self.earlier[LOOKS_BACK + at - back] }
    }

    /// A full block ends.
    pub fn next_block(&mut self) {
        self.earlier = std::array::from_fn(|i| self.of(BLOCK - LOOKS_BACK + i));
        self.before = LOOKS_BACK;
        self.runs.clear();
    }

    /// What was before is forgotten.
    pub fn clear(&mut self) {
        self.before = 0;
        self.runs.clear();
    }
}
