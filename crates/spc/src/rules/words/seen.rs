//! What each point of a block is, as bits.

use fearless_simd::{Simd, SimdBase, SimdMask, f64x4};

use super::bits::{BLOCK, Bits, WORDS};
use super::scale::Scale;
use crate::TIE;
use crate::rules::Rule;

/// Which points are beyond k on either side; beyond 0 of them is on a side of the centre.
#[derive(Debug, Clone)]
pub(super) struct Zone {
    k: f64,
    /// Those are that are farther from the centre.
    edge: f64,
    pub above: Bits,
    pub below: Bits,
}

/// Which points are within k.
#[derive(Debug, Clone)]
struct Close {
    k: f64,
    /// Those are that are nearer to the centre.
    edge: f64,
    within: Bits,
}

/// One bit for each value that a mask holds for, four at a time. No function: what it would call for each four is not
/// made for the processor that the block is judged on.
macro_rules! bits {
    ($words:expr, $simd:expr, $now:expr, |$x:ident| $mask:expr) => {
        bits!($words, $simd, $now, $now, |$x, _same| $mask)
    };
    ($words:expr, $simd:expr, $now:expr, $before:expr, |$x:ident, $last:ident| $mask:expr) => {
        for ((word, now), before) in $words.iter_mut().zip($now.as_chunks::<16>().0).zip($before.as_chunks::<16>().0) {
            let mut bits = 0;
            for at in 0..16 {
                let ($x, $last) = (f64x4::from_slice($simd, &now[at]), f64x4::from_slice($simd, &before[at]));
                bits |= $mask.to_bitmask() << (4 * at);
            }
            *word = bits;
        }
    };
}

/// What rules ask of points.
#[derive(Debug, Clone)]
pub(super) struct Seen {
    zones: Vec<Zone>,
    close: Vec<Close>,
    /// How far each value of the block is from the centre, and which are above it.
    distances: Box<[f64; BLOCK]>,
    above: [u64; WORDS],
    steps: bool,
    pub rising: Bits,
    pub falling: Bits,
    /// Edges are those of this scale.
    scale: Option<Scale>,
}

/// Farther from the centre than so many sigma, the rounding of a z is no longer far below a tie.
const FAR: f64 = 400.0;

/// Steps that differ from a tie by less than this share of it are told apart by their z alone.
const NEAR: f64 = 1e-3;

/// Ties smaller than this are rounded themselves.
const SMALLEST: f64 = 1e-280;

impl Seen {
    pub fn new(rules: impl Iterator<Item = Rule> + Clone) -> Self {
        let (mut zones, mut close): (Vec<Zone>, Vec<Close>) = (vec![], vec![]);
        let edge = f64::NAN;
        for rule in rules.clone() {
            match rule {
                Rule::Beyond { k } | Rule::MOfN { k, .. } | Rule::Avoiding { k, .. }
                    if zones.iter().all(|zone| zone.k != k) =>
                {
                    zones.push(Zone { k, edge, above: Bits::NONE, below: Bits::NONE });
                }
                Rule::OneSide { .. } if zones.iter().all(|zone| zone.k != 0.0) => {
                    zones.push(Zone { k: 0.0, edge, above: Bits::NONE, below: Bits::NONE });
                }
                Rule::Hugging { k, .. } if close.iter().all(|close| close.k != k) => {
                    close.push(Close { k, edge, within: Bits::NONE });
                }
                _ => {}
            }
        }
        let steps = rules.clone().any(|rule| matches!(rule, Rule::Trend { .. } | Rule::Alternating { .. }));
        let (distances, above) = (Box::new([f64::NAN; BLOCK]), [0; WORDS]);
        Self { zones, close, distances, above, steps, rising: Bits::NONE, falling: Bits::NONE, scale: None }
    }

    /// Points beyond k.
    #[inline(always)]
    pub fn beyond(&self, k: f64) -> (&Bits, &Bits) {
        let zone = self.zones.iter().find(|zone| zone.k == k);
        zone.map_or((&Bits::NONE, &Bits::NONE), |zone| (&zone.above, &zone.below))
    }

    /// Points within k.
    #[inline(always)]
    pub fn within(&self, k: f64) -> &Bits {
        self.close.iter().find(|close| close.k == k).map_or(&Bits::NONE, |close| &close.within)
    }

    /// What was before is forgotten.
    pub fn clear(&mut self) {
        for zone in &mut self.zones {
            (zone.above, zone.below) = (Bits::NONE, Bits::NONE);
        }
        self.close.iter_mut().for_each(|close| close.within = Bits::NONE);
        (self.rising, self.falling) = (Bits::NONE, Bits::NONE);
    }

    /// Edges as distances on a scale.
    pub fn on(&mut self, scale: Scale) {
        if self.scale.replace(scale) == Some(scale) {
            return;
        }
        for zone in &mut self.zones {
            zone.edge = scale.last_not_beyond(zone.k + TIE);
        }
        for close in &mut self.close {
            close.edge = scale.first_not_within(close.k - TIE);
        }
    }

    /// Whether values of this scale tell every step apart from a tie as their z do.
    #[inline(always)]
    pub fn tells_steps<S: Simd>(&self, simd: S, values: &[f64; 1 + BLOCK], scale: Scale) -> bool {
        if !self.steps || scale == Scale::OF_Z {
            return true;
        }
        let tie = TIE * scale.sigma;
        if tie < SMALLEST {
            return false;
        }
        let all = |x: f64| f64x4::splat(simd, x);
        let (low, high) = (all(scale.center - FAR * scale.sigma), all(scale.center + FAR * scale.sigma));
        let (tie, near) = (all(tie), all(NEAR * tie));
        let mut untold = all(0.0).simd_gt(all(0.0));
        let (before, now) = steps(values);
        for (before, now) in before.iter().zip(now) {
            let (before, now) = (f64x4::from_slice(simd, before), f64x4::from_slice(simd, now));
            let apart = ((now - before).abs() - tie).abs();
            untold = untold | apart.simd_lt(near) | now.simd_gt(high) | now.simd_lt(low);
        }
        // The first looks back at the value before the block.
        let far = values[0] < scale.center - FAR * scale.sigma || values[0] > scale.center + FAR * scale.sigma;
        !untold.any_true() && !far
    }

    /// Looks at the values of a block, behind the last of the block before.
    #[inline(always)]
    pub fn look<S: Simd>(&mut self, simd: S, values: &[f64; 1 + BLOCK], scale: Scale) {
        let (before, now) = steps(values);
        let (far, _) = self.distances.as_chunks_mut::<4>();
        for (far, x) in far.iter_mut().zip(now) {
            *far = (f64x4::from_slice(simd, x) - scale.center).abs().into();
        }
        let (far, _) = self.distances.as_chunks::<4>();
        bits!(self.above, simd, now, |x| x.simd_gt(scale.center));
        for zone in &mut self.zones {
            let mut beyond = [0; WORDS];
            bits!(beyond, simd, far, |far| far.simd_gt(zone.edge));
            let sides = zone.above.next_block().iter_mut().zip(zone.below.next_block());
            for ((above, below), (beyond, high)) in sides.zip(beyond.iter().zip(&self.above)) {
                (*above, *below) = (beyond & high, beyond & !high);
            }
        }
        for close in &mut self.close {
            bits!(close.within.next_block(), simd, far, |far| far.simd_lt(close.edge));
        }
        if self.steps {
            let tie = TIE * scale.sigma;
            bits!(self.rising.next_block(), simd, now, before, |x, last| (x - last).simd_gt(tie));
            bits!(self.falling.next_block(), simd, now, before, |x, last| (x - last).simd_lt(-tie));
        }
    }
}

/// Four values at a time: those before, and those themselves.
#[inline(always)]
fn steps(values: &[f64; 1 + BLOCK]) -> (&[[f64; 4]], &[[f64; 4]]) {
    (values[..BLOCK].as_chunks().0, values[1..].as_chunks().0)
}
