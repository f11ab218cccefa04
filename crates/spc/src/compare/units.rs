//! Shares of nonconforming units side by side.

use serde::Serialize;

use super::request::Estimate;
use super::share;
use crate::exact::hypergeometric;
use crate::normal;
use crate::points::Count;

/// Figures of one set.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UnitSet {
    /// What it is called.
    pub name: String,
    /// Points with a count.
    pub points: usize,
    /// Nonconforming units.
    pub count: f64,
    /// Units inspected.
    pub size: f64,
    /// Share of them: count/size.
    pub rate: f64,
    /// Lower end of its exact interval (Clopper and Pearson).
    pub low: f64,
    /// Upper end.
    pub high: f64,
}

/// One set against the base.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShareAgainst {
    /// Of the set.
    pub name: String,
    /// Its share less that of the base: Newcombe's hybrid score interval, Fisher's exact test.
    pub difference: Estimate,
}

impl UnitSet {
    pub(super) fn of(name: &str, counts: &[Count], confidence: f64) -> Self {
        let count: f64 = counts.iter().map(|one| one.count).sum();
        let size: f64 = counts.iter().map(|one| one.size).sum();
        let [low, high] = share::exact(count, size, confidence);
        let points = counts.len();
        Self { name: name.to_owned(), points, count, size, rate: count / size, low: low.with, high: high.with }
    }

    /// The score interval of its share, without correction. Source: E. B. Wilson, J. Am. Stat. Assoc. 22 (1927) 209.
    fn wilson(&self, z: f64) -> [f64; 2] {
        let (n, p, zz) = (self.size, self.rate, z * z);
        let half = z * (p * (1.0 - p) / n + zz / (4.0 * n * n)).sqrt();
        [-half, half].map(|half| (p + zz / (2.0 * n) + half) / (1.0 + zz / n))
    }
}

impl ShareAgainst {
    /// Source: R. Newcombe, Statistics in Medicine 17 (1998) 873, method 10; R. A. Fisher, Statistical Methods for
    /// Research Workers, § 21.02, both sides by the probabilities not above that seen.
    pub(super) fn of(base: &UnitSet, set: &UnitSet, confidence: f64) -> Self {
        let z = -normal::quantile(0.5 * (1.0 - confidence));
        let ([base_low, base_high], [low, high]) = (base.wilson(z), set.wilson(z));
        let value = set.rate - base.rate;
        let with = (base.count + set.count) as u64;
        let without = (base.size + set.size) as u64 - with;
        let difference = Estimate {
            value: Some(value),
            low: Some(value - (set.rate - low).hypot(base_high - base.rate)),
            high: Some(value + (high - set.rate).hypot(base.rate - base_low)),
            p: hypergeometric(with, without, set.size as u64).as_rare_as(set.count as u64),
        };
        Self { name: set.name.clone(), difference }
    }
}
