//! Entries of a process in control, made as they are asked for: a million of them are never held.

use chrono::{DateTime, Duration, Utc};
use quality::entry::{Accepted, Tags};
use quality::import::{Entries, Extent, ImportEntry};
use quality::sample::{Content, Counts, Defects};
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use uuid::Uuid;

/// What is made of each.
#[derive(Clone)]
pub enum Making {
    /// A single reading.
    Reading,
    /// Defects of these kinds in sixty pieces.
    Defects(Vec<Uuid>),
}

/// So many entries, one a minute.
pub struct Made {
    pub making: Making,
    pub many: usize,
    pub from: DateTime<Utc>,
    /// Another history for another seed.
    pub seed: u64,
}

/// What readings lie around.
pub const IN_CONTROL: f64 = 330.0;

/// Pieces that are looked over for a count.
pub const INSPECTED: u32 = 60;

impl Made {
    fn at(&self, n: usize) -> DateTime<Utc> {
        self.from + Duration::minutes(n as i64)
    }

    fn content(&self, random: &mut ChaCha8Rng) -> Content {
        match &self.making {
            Making::Reading => {
                let noise: f64 = (0..4).map(|_| random.random_range(-0.5..0.5)).sum();
                Content::readings([((IN_CONTROL + 4.0 * noise) * 10.0).round() / 10.0])
            }
            Making::Defects(kinds) => {
                let defects = kinds.iter().map(|kind| (kind, random.random_range(0..4)));
                let defects = defects.filter(|(_, count)| *count > 0);
                let defects = defects.map(|(kind, count)| Defects { kind: Some(*kind), word: None, count }).collect();
                Content::Counts(Counts { inspected: INSPECTED, defects })
            }
        }
    }
}

impl Entries for Made {
    fn each(&self) -> Box<dyn Iterator<Item = ImportEntry> + Send + '_> {
        let mut random = ChaCha8Rng::seed_from_u64(self.seed);
        Box::new((0..self.many).map(move |n| ImportEntry {
            row: u32::try_from(n + 2).ok(),
            entry: Uuid::from_u128(random.random()),
            digest: random.random(),
            taken_at: self.at(n),
            taken: Some(Accepted { content: self.content(&mut random), tags: Tags::default(), typed_first: vec![] }),
        }))
    }

    fn refused(&self) -> usize {
        0
    }

    fn extent(&self) -> Extent {
        let last = self.many.checked_sub(1).map(|last| self.at(last));
        Extent { many: self.many, from: last.map(|_| self.from), to: last }
    }
}
