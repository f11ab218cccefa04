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
        for (word, now) in $words.iter_mut().zip($now.as_chunks::<16>().0) {
            let mut bits = 0;
            for at in 0..16 {
                let $x = f64x4::from_slice($simd, &now[at]);
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
    /// Whether a rule asks for steps, and how far each value is above the one before it.
    steps: bool,
    steps_of: Box<[f64; BLOCK]>,
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
        let (distances, steps_of, above) = (Box::new([f64::NAN; BLOCK]), Box::new([f64::NAN; BLOCK]), [0; WORDS]);
        Self { zones, close, distances, above, steps, steps_of, rising: Bits::NONE, falling: Bits::NONE, scale: None }
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

    /// Measures how far each value of a block is from the centre and from the value before it. Gives whether values of
    /// this scale tell every step apart from a tie as their z do.
    #[inline(always)]
    pub fn measure<S: Simd>(&mut self, simd: S, before: f64, values: &[f64; BLOCK], scale: Scale) -> bool {
        let all = |x: f64| f64x4::splat(simd, x);
        let (center, now) = (all(scale.center), values.as_chunks::<4>().0);
        let distances = self.distances.as_chunks_mut::<4>().0.iter_mut();
        bits!(self.above, simd, now, |x| x.simd_gt(scale.center));
        if !self.steps {
            for (distance, now) in distances.zip(now) {
                *distance = (f64x4::from_slice(simd, now) - center).abs().into();
            }
            return true;
        }
        let tie = TIE * scale.sigma;
        let of_z = scale == Scale::OF_Z;
        let (tie_of_all, near) = (all(tie), all(if of_z { 0.0 } else { NEAR * tie }));
        let limit = if of_z { f64::INFINITY } else { FAR * scale.sigma };
        let limit_of_all = all(limit);
        let mut untold = all(0.0).simd_gt(all(0.0));
        let first = [before, values[0], values[1], values[2]];
        let (mut befores, mut before_four) = (values[3..].as_chunks::<4>().0.iter(), &first);
        for ((distance, step), now) in distances.zip(self.steps_of.as_chunks_mut::<4>().0).zip(now) {
            let (before, now) = (f64x4::from_slice(simd, before_four), f64x4::from_slice(simd, now));
            let far = (now - center).abs();
            let by = now - before;
            untold = untold | (by.abs() - tie_of_all).abs().simd_lt(near) | far.simd_gt(limit_of_all);
            (*distance, *step) = (far.into(), by.into());
            before_four = befores.next().unwrap_or(&first);
        }
        // The first looks back at the value before the block.
        let too_far = (before - scale.center).abs() > limit;
        of_z || (tie >= SMALLEST && !untold.any_true() && !too_far)
    }

    /// Looks at the values of a block that were measured.
    #[inline(always)]
    pub fn look<S: Simd>(&mut self, simd: S, scale: Scale) {
        let far = self.distances.as_chunks::<4>().0;
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
            let (by, tie) = (self.steps_of.as_chunks::<4>().0, TIE * scale.sigma);
            bits!(self.rising.next_block(), simd, by, |by| by.simd_gt(tie));
            bits!(self.falling.next_block(), simd, by, |by| by.simd_lt(-tie));
        }
    }
}
