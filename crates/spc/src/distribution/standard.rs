//! What is left of a family once its values are moved, scaled or put into logarithms.

use statrs::function::gamma::{checked_gamma_lr, checked_gamma_ur, ln_gamma};

use crate::normal;
use crate::solve::positive_root;

/// Density, tails and quantiles of a family whose other parameters have been taken out: what is left
/// of `x` once it is moved, scaled or put into logarithms.
#[derive(Debug, Clone, Copy)]
pub(super) enum Standard {
    Normal,
    /// F(u) = 1 − exp(−eᵘ), of logarithms: Weibull and exponential.
    SmallestExtreme,
    Logistic,
    LargestExtreme,
    /// Of x/scale.
    Gamma(f64),
}

/// How x becomes a standard u and back.
#[derive(Debug, Clone, Copy)]
pub(super) struct Form {
    pub standard: Standard,
    pub start: Option<f64>,
    pub log: bool,
    pub intercept: f64,
    pub slope: f64,
}

impl Form {
    /// u of x; `None` at or below the start.
    pub fn reduce(&self, x: f64) -> Option<f64> {
        let above = self.start.map_or(x, |start| x - start);
        if self.start.is_some() && above <= 0.0 {
            return None;
        }
        Some(((if self.log { above.ln() } else { above }) - self.intercept) / self.slope)
    }

    /// x of u.
    pub fn restore(&self, u: f64) -> f64 {
        let line = self.intercept + self.slope * u;
        self.start.unwrap_or(0.0) + if self.log { line.exp() } else { line }
    }
}

/// The incomplete gamma functions are refused at 0 and at infinity, where they are `at_zero` and its
/// complement; NaN for what is no distribution.
fn gamma_tail<E>(found: Result<f64, E>, u: f64, at_zero: f64) -> f64 {
    match found {
        Ok(p) => p,
        Err(_) if u == 0.0 => at_zero,
        Err(_) if u == f64::INFINITY => 1.0 - at_zero,
        Err(_) => f64::NAN,
    }
}

impl Standard {
    pub fn cdf(self, u: f64) -> f64 {
        match self {
            Self::Normal => normal::cdf(u),
            Self::SmallestExtreme => -(-u.exp()).exp_m1(),
            Self::Logistic => 1.0 / (1.0 + (-u).exp()),
            Self::LargestExtreme => (-(-u).exp()).exp(),
            Self::Gamma(shape) => gamma_tail(checked_gamma_lr(shape, u), u, 0.0),
        }
    }

    pub fn upper_tail(self, u: f64) -> f64 {
        match self {
            Self::Normal => normal::cdf(-u),
            Self::SmallestExtreme => (-u.exp()).exp(),
            Self::Logistic => 1.0 / (1.0 + u.exp()),
            Self::LargestExtreme => -(-(-u).exp()).exp_m1(),
            Self::Gamma(shape) => gamma_tail(checked_gamma_ur(shape, u), u, 1.0),
        }
    }

    pub fn log_density(self, u: f64) -> f64 {
        match self {
            Self::Normal => -0.5 * u * u - 0.5 * (2.0 * std::f64::consts::PI).ln(),
            Self::SmallestExtreme => u - u.exp(),
            // Symmetric; written for |u| so that the exponential cannot overflow.
            Self::Logistic => -u.abs() - 2.0 * (-u.abs()).exp().ln_1p(),
            Self::LargestExtreme => -u - (-u).exp(),
            Self::Gamma(shape) => (shape - 1.0) * u.ln() - u - ln_gamma(shape),
        }
    }

    pub fn quantile(self, p: f64, q: f64) -> f64 {
        // −ln of each tail, from the smaller one.
        let minus_ln_q = if p < q { -(-p).ln_1p() } else { -q.ln() };
        let minus_ln_p = if p < q { -p.ln() } else { -(-q).ln_1p() };
        match self {
            Self::Normal => {
                if p < q {
                    normal::quantile(p)
                } else {
                    -normal::quantile(q)
                }
            }
            Self::SmallestExtreme => minus_ln_q.ln(),
            Self::Logistic => (p / q).ln(),
            Self::LargestExtreme => -minus_ln_p.ln(),
            Self::Gamma(shape) => {
                let miss = |x: f64| if p < q { self.cdf(x) / p - 1.0 } else { 1.0 - self.upper_tail(x) / q };
                positive_root(shape, miss).unwrap_or(f64::NAN)
            }
        }
    }
}
