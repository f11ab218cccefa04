//! Defects by kind: counts sorted, with share and cumulative share.

use crate::wrong_request::{Expected, WrongRequest, within_range};

use serde::{Deserialize, Serialize};

/// Counts of kinds, in the order in which the kinds were defined.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ParetoRequest {
    /// At least one.
    pub kinds: Vec<Kind>,
    /// Kinds whose share is strictly below this are pooled as "others", even a single one. Default: none.
    pub pool_below: Option<f64>,
}

/// A kind of defect.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Kind {
    /// Its name.
    pub name: String,
    /// How often it was found.
    pub count: u64,
    /// Weight of one, such as its cost; from 0. Default 1.
    pub weight: Option<f64>,
}

/// A bar.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Bar {
    /// The kind, or "others".
    pub name: String,
    /// How often it was found.
    pub count: u64,
    /// count · weight
    pub weighted: f64,
    /// Share of all that is weighted, 0…1; 0 when there is nothing.
    pub share: f64,
    /// Share of this bar and those before it.
    pub cumulative: f64,
}

/// Bars sorted by weighted count; ties keep the order given; "others" is always last, though it may
/// be larger. Source: Montgomery, ch. 5.4.
///
/// # Errors
/// No kinds, weights or a threshold that are no numbers from 0.
pub fn pareto(request: &ParetoRequest) -> Result<Vec<Bar>, WrongRequest> {
    if request.kinds.is_empty() {
        return Err(WrongRequest::new("kinds", "none", Expected::at_least(1, "kinds")));
    }
    for (i, weight) in request.kinds.iter().enumerate().filter_map(|(i, kind)| Some((i, kind.weight?))) {
        if !(weight >= 0.0 && within_range(weight)) {
            return Err(WrongRequest::new(format!("kinds[{i}].weight"), weight, Expected::NOT_NEGATIVE));
        }
    }
    let pool_below = request.pool_below.unwrap_or(0.0);
    if !(0.0..=1.0).contains(&pool_below) {
        return Err(WrongRequest::new("pool_below", pool_below, Expected::between(0.0, 1.0)));
    }
    let weighted = |kind: &Kind| kind.count as f64 * kind.weight.unwrap_or(1.0);
    let total: f64 = request.kinds.iter().map(weighted).sum();
    let share = |weighted: f64| if total > 0.0 { weighted / total } else { 0.0 };
    let bar = |kind: &Kind| {
        let weighted = weighted(kind);
        Bar { name: kind.name.clone(), count: kind.count, weighted, share: share(weighted), cumulative: 0.0 }
    };
    let (pooled, mut bars): (Vec<Bar>, Vec<Bar>) =
        request.kinds.iter().map(bar).partition(|bar| bar.share < pool_below);
    bars.sort_by(|a, b| b.weighted.total_cmp(&a.weighted));
    if !pooled.is_empty() {
        let weighted: f64 = pooled.iter().map(|bar| bar.weighted).sum();
        let count = pooled.iter().fold(0u64, |sum, bar| sum.saturating_add(bar.count));
        bars.push(Bar { name: "others".into(), count, weighted, share: share(weighted), cumulative: 0.0 });
    }
    let mut sum = 0.0;
    for bar in &mut bars {
        sum += bar.weighted;
        bar.cumulative = share(sum);
    }
    Ok(bars)
}
