//! Rates of nonconformities side by side.

use serde::Serialize;

use super::request::Estimate;
use super::share;
use crate::distribution::chi_square_quantile;
use crate::exact::binomial;
use crate::points::Count;

/// Figures of one set.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EventSet {
    /// What it is called.
    pub name: String,
    /// Points with a count.
    pub points: usize,
    /// Nonconformities.
    pub count: f64,
    /// Area of opportunity.
    pub size: f64,
    /// count/size
    pub rate: f64,
    /// Lower end of its exact interval (Garwood).
    pub low: f64,
    /// Upper end.
    pub high: f64,
}

/// One set against the base.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RateAgainst {
    /// Of the set.
    pub name: String,
    /// Its rate over that of the base, given how many both have.
    pub ratio: Estimate,
}

impl EventSet {
    /// The interval by F. Garwood, Biometrika 28 (1936) 437: half the chi-square quantiles of 2c and 2c + 2 degrees.
    pub(super) fn of(name: &str, counts: &[Count], confidence: f64) -> Self {
        let count: f64 = counts.iter().map(|one| one.count).sum();
        let size: f64 = counts.iter().map(|one| one.size).sum();
        let tail = 0.5 * (1.0 - confidence);
        let end = |events: f64, p: f64| if events == 0.0 { 0.0 } else { 0.5 * chi_square_quantile(2.0 * events, p) };
        Self {
            name: name.to_owned(),
            points: counts.len(),
            count,
            size,
            rate: count / size,
            low: end(count, tail) / size,
            high: end(count + 1.0, 1.0 - tail) / size,
        }
    }
}

impl RateAgainst {
    /// Of the events of both, a share π falls to the set; where rates are equal, π is its share of the area. The
    /// exact interval of π becomes one of the ratio π/(1 − π) · base area/area, and the binomial test of π its p.
    /// Source: J. Przyborowski & H. Wilenski, Biometrika 31 (1940) 313; C. Clopper & E. Pearson, Biometrika 26 (1934) 404.
    pub(super) fn of(base: &EventSet, set: &EventSet, confidence: f64) -> Self {
        let areas = base.size / set.size;
        let both = base.count + set.count;
        let [low, high] = share::exact(set.count, both, confidence);
        let ratio = Estimate {
            value: (base.count > 0.0).then(|| set.count / base.count * areas),
            low: Some(if set.count > 0.0 { low.with / low.without * areas } else { 0.0 }),
            high: (base.count > 0.0).then(|| high.with / high.without * areas),
            p: binomial(both as u64, 1.0 / areas).as_rare_as(set.count as u64),
        };
        Self { name: set.name.clone(), ratio }
    }
}
