//! Maximum likelihood of each family. Values are finite and not all equal, or there is no fit.

use statrs::function::gamma::digamma;

use super::family::{Distribution, Family};
use super::tally::Tally;
use crate::solve::{positive_root, root};

/// A fit before its goodness is known.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Likely {
    /// The distribution of highest likelihood.
    pub distribution: Distribution,
    /// ln L.
    pub log_likelihood: f64,
}

/// The distribution of `family` with the highest likelihood; `None` where the family does not hold
/// every value, the values have no spread, or the likelihood has no maximum.
pub fn fit_one(family: Family, values: &Tally) -> Option<Likely> {
    let (low, high) = values.ends()?;
    if low >= high {
        return None;
    }
    let distribution = match family {
        Family::Normal => normal(values)?,
        Family::Logistic => logistic(values)?,
        Family::Gumbel => gumbel(values)?,
        Family::Exponential if low >= 0.0 => Distribution::Exponential { mean: values.mean()? },
        Family::Lognormal if low > 0.0 => lognormal(values)?,
        Family::Weibull if low > 0.0 => weibull(values)?,
        Family::Gamma if low > 0.0 => gamma(values)?,
        Family::Lognormal3 => at_best_location(values, low, high, lognormal, lognormal_slope)?,
        Family::Weibull3 => at_best_location(values, low, high, weibull, weibull_slope)?,
        _ => return None,
    };
    let log_likelihood = values.sum(|x| distribution.log_density(x));
    (distribution.is_proper() && log_likelihood.is_finite()).then_some(Likely { distribution, log_likelihood })
}

/// Mean, and the standard deviation with divisor N, which maximum likelihood asks for.
fn mean_and_spread(values: &Tally) -> Option<(f64, f64)> {
    let mean = values.mean()?;
    Some((mean, (values.sum(|x| (x - mean).powi(2)) / values.n()).sqrt()))
}

fn normal(values: &Tally) -> Option<Distribution> {
    mean_and_spread(values).map(|(mean, sd)| Distribution::Normal { mean, sd })
}

fn lognormal(values: &Tally) -> Option<Distribution> {
    mean_and_spread(&values.map(f64::ln)).map(|(mu, sigma)| Distribution::Lognormal { mu, sigma })
}

/// The shape k solves Σxᵏ ln x/Σxᵏ − 1/k = mean of ln x; then scale = (mean of xᵏ)^(1/k).
fn weibull(values: &Tally) -> Option<Distribution> {
    let logs = values.map(f64::ln);
    let (mean_log, spread) = mean_and_spread(&logs)?;
    let (_, largest) = logs.ends()?;
    // Powers of x over the largest x, which cannot overflow.
    let sums = |k: f64| logs.sums(|log| ((k * (log - largest)).exp(), log));
    let miss = |k: f64| {
        let (sum, weighted) = sums(k);
        weighted / sum - 1.0 / k - mean_log
    };
    let shape = positive_root(1.28 / spread, miss)?;
    let scale = (largest + (sums(shape).0 / values.n()).ln() / shape).exp();
    Some(Distribution::Weibull { shape, scale })
}

/// The shape k solves ln k − ψ(k) = ln x̄ − mean of ln x; then scale = x̄/k.
fn gamma(values: &Tally) -> Option<Distribution> {
    let average = values.mean()?;
    let target = -values.sum(|x| (x / average).ln()) / values.n();
    let shape = positive_root(0.5 / target, |k| k.ln() - digamma(k) - target)?;
    Some(Distribution::Gamma { shape, scale: average / shape })
}

/// The scale s solves s = x̄ − Σx e^(−x/s)/Σe^(−x/s); then location = −s ln(mean of e^(−x/s)).
fn gumbel(values: &Tally) -> Option<Distribution> {
    let (average, spread) = mean_and_spread(values)?;
    let (low, _) = values.ends()?;
    // Measured from the smallest value, so that no exponential overflows.
    let sums = |s: f64| values.sums(|x| ((-(x - low) / s).exp(), x - low));
    let miss = |s: f64| {
        let (sum, weighted) = sums(s);
        s - (average - low) + weighted / sum
    };
    let scale = positive_root(0.78 * spread, miss)?;
    Some(Distribution::Gumbel { location: low - scale * (sums(scale).0 / values.n()).ln(), scale })
}

/// A gain of ln L that is not less than its rounding, up to some million values.
const TOLD_APART: f64 = 1e-8;

/// Newton's method for a = 1/scale and b = location/scale, in which ln L is concave, on values moved
/// and scaled to mean 0 and spread 1.
fn logistic(values: &Tally) -> Option<Distribution> {
    let (mean, spread) = mean_and_spread(values)?;
    let x = values.map(|x| (x - mean) / spread);
    let n = x.n();
    let log_likelihood = |a: f64, b: f64| {
        let of = |w: f64| w + 2.0 * (-w).exp().ln_1p();
        n * a.ln() - x.sum(|x| of((a * x - b).abs()))
    };
    let (mut a, mut b) = (std::f64::consts::PI / 3f64.sqrt(), 0.0);
    let mut gain_before = f64::INFINITY;
    for _ in 0..100 {
        let (mut ga, mut gb, mut aa, mut ab, mut bb) = (n / a, 0.0, n / (a * a), 0.0, 0.0);
        for (x, count) in x.iter() {
            let t = (0.5 * (a * x - b)).tanh();
            let h = count * 0.5 * (1.0 - t * t);
            let t = count * t;
            (ga, gb) = (ga - t * x, gb + t);
            (aa, ab, bb) = (aa + h * x * x, ab - h * x, bb + h);
        }
        let determinant = aa * bb - ab * ab;
        let (da, db) = ((bb * ga - ab * gb) / determinant, (aa * gb - ab * ga) / determinant);
        // What a full step gains of ln L, by its curvature. Where that is less than the rounding of ln L, comparing
        // tells nothing any more: full steps then, until they gain no less than the one before.
        let gain = ga * da + gb * db;
        let near = gain <= TOLD_APART;
        if near && gain >= gain_before {
            break;
        }
        gain_before = gain;
        let before = if near { f64::NEG_INFINITY } else { log_likelihood(a, b) };
        let mut share = 1.0;
        // Shorter steps where a full one would overshoot.
        while !near
            && share > 1e-9
            && !(a + share * da > 0.0 && log_likelihood(a + share * da, b + share * db) >= before)
        {
            share /= 2.0;
        }
        (a, b) = (a + share * da, b + share * db);
        if da.abs() <= 1e-13 * a && db.abs() <= 1e-13 || share <= 1e-9 {
            break;
        }
    }
    Some(Distribution::Logistic { location: mean + spread * b / a, scale: spread / a })
}

/// Places looked at for the location of three-parameter families, from next to the smallest value to
/// ten thousand ranges below it.
const LOCATIONS: i32 = 160;

/// The highest interior maximum of the likelihood over the location. `fit` fits what is left of the
/// values; `slope` is the derivative of ln L by the location there.
fn at_best_location(
    values: &Tally,
    low: f64,
    high: f64,
    fit: impl Fn(&Tally) -> Option<Distribution>,
    slope: impl Fn(&Distribution, &Tally) -> f64,
) -> Option<Distribution> {
    let distance = |step: i32| (high - low) * (-20.0 + 30.0 * f64::from(step) / f64::from(LOCATIONS)).exp();
    let rest = |distance: f64| values.map(|x| (x - low) + distance);
    let slope_at = |distance: f64| {
        let rest = rest(distance);
        fit(&rest).map_or(f64::NAN, |found| slope(&found, &rest))
    };
    let mut best: Option<(f64, Distribution)> = None;
    let mut nearer = (distance(0), slope_at(distance(0)));
    for step in 1..=LOCATIONS {
        let farther = (distance(step), slope_at(distance(step)));
        // Towards the smallest value the likelihood must stop rising and begin to fall.
        if farther.1 > 0.0 && nearer.1 <= 0.0 {
            let found = root(nearer, farther, slope_at)?;
            let rest = rest(found);
            let base = fit(&rest)?;
            let log_likelihood = rest.sum(|x| base.log_density(x));
            let located = with_location(base, low - found);
            if located.is_some() && best.is_none_or(|(before, _)| log_likelihood > before) {
                best = located.map(|located| (log_likelihood, located));
            }
        }
        nearer = farther;
    }
    best.map(|(_, distribution)| distribution)
}

/// A Weibull shape of 1 or less has its highest density at the location itself: no interior maximum.
fn with_location(base: Distribution, location: f64) -> Option<Distribution> {
    match base {
        Distribution::Lognormal { mu, sigma } => Some(Distribution::Lognormal3 { mu, sigma, location }),
        Distribution::Weibull { shape, scale } if shape > 1.0 => {
            Some(Distribution::Weibull3 { shape, scale, location })
        }
        _ => None,
    }
}

/// ∂ ln L/∂location = Σ (1 + (ln y − μ)/σ²)/y, y = x − location.
fn lognormal_slope(found: &Distribution, rest: &Tally) -> f64 {
    let Distribution::Lognormal { mu, sigma } = *found else { return f64::NAN };
    rest.sum(|y| (1.0 + (y.ln() - mu) / (sigma * sigma)) / y)
}

/// ∂ ln L/∂location = Σ (k (y/scale)ᵏ − (k − 1))/y.
fn weibull_slope(found: &Distribution, rest: &Tally) -> f64 {
    let Distribution::Weibull { shape, scale } = *found else { return f64::NAN };
    rest.sum(|y| (shape * (y / scale).powf(shape) - (shape - 1.0)) / y)
}
