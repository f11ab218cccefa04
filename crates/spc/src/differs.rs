//! What differs inside a pattern: tags that are commoner among its samples than among others.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};

use crate::exact::hypergeometric;
use crate::wrong_request::{Expected, WrongRequest};

/// Samples inside a pattern must be at least so many to be compared, with a tag or at all.
const INSIDE_AT_LEAST: u64 = 3;
/// And samples outside so many.
const OUTSIDE_AT_LEAST: u64 = 5;
/// A value that a single sample inside has says nothing.
const WITH_IT_AT_LEAST: u64 = 2;

/// Samples to compare.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DiffersRequest {
    /// Those inside the pattern; may be none.
    pub inside: Vec<Tagged>,
    /// Those outside it; may be none.
    pub outside: Vec<Tagged>,
    /// Largest adjusted p that is told; above 0, at most 1. Default 0.05.
    pub alpha: Option<f64>,
}

/// A sample by what is said of it. Who entered it is not for comparing: leave it out.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Tagged {
    /// Values by tag.
    pub tags: BTreeMap<String, String>,
}

/// What was found.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Differs {
    /// How many values were tested, of all tags together.
    pub tested: usize,
    /// Fewer than 3 samples inside, or fewer than 5 outside: nothing can be said.
    pub too_few: bool,
    /// By p, then tag, then value.
    pub found: Vec<Difference>,
}

/// A value of a tag that is commoner inside.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Difference {
    /// The tag.
    pub tag: String,
    /// Its value.
    pub value: String,
    /// Samples inside that have it, of those that have the tag at all.
    pub inside: Share,
    /// The same of those outside.
    pub outside: Share,
    /// P(X ≥ with), X hypergeometric.
    pub p: f64,
    /// The same by Holm over all values tested, at most 1.
    pub p_adjusted: f64,
}

/// So many of so many.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Share(pub u64, pub u64);

/// Compares the samples by each value of each tag that occurs inside. Samples without a tag are left out of its
/// comparison. With a of A inside and c of C outside a value is tested when A ≥ 3, C ≥ 5, a ≥ 2 and a/A > c/C:
/// p = P(X ≥ a), X the number with it among A drawn from all A + C, of which a + c have it (Fisher's exact test, one
/// side). Holm's adjustment covers all values tested.
///
/// Source: R. A. Fisher, Statistical Methods for Research Workers, § 21.02; S. Holm, Scand. J. Statist. 6 (1979) 65.
///
/// # Errors
/// `alpha` out of its range.
pub fn differs(request: &DiffersRequest) -> Result<Differs, WrongRequest> {
    let alpha = request.alpha.unwrap_or(0.05);
    if !(alpha > 0.0 && alpha <= 1.0) {
        return Err(WrongRequest::new("alpha", alpha, Expected::above_up_to(0.0, 1.0)));
    }
    let enough = |samples: &[Tagged], least: u64| samples.len() as u64 >= least;
    let too_few = !enough(&request.inside, INSIDE_AT_LEAST) || !enough(&request.outside, OUTSIDE_AT_LEAST);
    let tags: BTreeSet<&String> = request.inside.iter().flat_map(|sample| sample.tags.keys()).collect();
    let mut found: Vec<Difference> = tags.into_iter().flat_map(|tag| commoner(request, tag)).collect();
    // Tags and values come in their order, and the sort keeps it where p is the same.
    found.sort_by(|a, b| a.p.total_cmp(&b.p));
    let tested = found.len();
    let mut adjusted: f64 = 0.0;
    for (i, difference) in found.iter_mut().enumerate() {
        adjusted = adjusted.max(((tested - i) as f64 * difference.p).min(1.0));
        difference.p_adjusted = adjusted;
    }
    found.retain(|difference| difference.p_adjusted <= alpha);
    Ok(Differs { tested, too_few, found })
}

/// The values of a tag that can be tested.
fn commoner(request: &DiffersRequest, tag: &str) -> Vec<Difference> {
    let count = |samples: &[Tagged]| {
        let mut with: BTreeMap<String, u64> = BTreeMap::new();
        for value in samples.iter().filter_map(|sample| sample.tags.get(tag)) {
            *with.entry(value.clone()).or_default() += 1;
        }
        let of: u64 = with.values().sum();
        (with, of)
    };
    let (inside, all_inside) = count(&request.inside);
    let (outside, all_outside) = count(&request.outside);
    if all_inside < INSIDE_AT_LEAST || all_outside < OUTSIDE_AT_LEAST {
        return vec![];
    }
    let test = |(value, with): (String, u64)| {
        let without = outside.get(&value).copied().unwrap_or(0);
        let more = u128::from(with) * u128::from(all_outside) > u128::from(without) * u128::from(all_inside);
        (with >= WITH_IT_AT_LEAST && more).then(|| {
            let (inside, outside) = (Share(with, all_inside), Share(without, all_outside));
            let p = at_least(inside, outside);
            Difference { tag: tag.to_owned(), value, inside, outside, p, p_adjusted: p }
        })
    };
    inside.into_iter().filter_map(test).collect()
}

/// P(X ≥ a).
fn at_least(Share(a, inside): Share, Share(c, outside): Share) -> f64 {
    hypergeometric(a + c, inside - a + outside - c, inside).at_least(a)
}
