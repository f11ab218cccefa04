//! Families of distributions, and one of them with its parameters.

use serde::{Deserialize, Serialize};

use super::standard::{Form, Standard};

/// The families that can be fitted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)] // each is the Distribution of the same name
pub enum Family {
    Normal,
    Lognormal,
    Weibull,
    Gamma,
    Exponential,
    Logistic,
    Gumbel,
    Lognormal3,
    Weibull3,
}

impl Family {
    /// Those with at most two parameters, in the order in which they are tried.
    pub const TWO_PARAMETERS: [Self; 7] =
        [Self::Normal, Self::Lognormal, Self::Weibull, Self::Gamma, Self::Exponential, Self::Logistic, Self::Gumbel];
}

/// A distribution with its parameters, in the unit of the values unless said otherwise.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "family", content = "parameters", rename_all = "snake_case", deny_unknown_fields)]
pub enum Distribution {
    /// Any value.
    Normal {
        /// Mean.
        mean: f64,
        /// Standard deviation, above 0.
        sd: f64,
    },
    /// Values above 0 whose logarithm is normal.
    Lognormal {
        /// Mean of ln x.
        mu: f64,
        /// Standard deviation of ln x, above 0.
        sigma: f64,
    },
    /// Lognormal, starting at a location.
    Lognormal3 {
        /// Mean of ln (x − location).
        mu: f64,
        /// Standard deviation of ln (x − location), above 0.
        sigma: f64,
        /// Lower end.
        location: f64,
    },
    /// Values above 0; F(x) = 1 − exp(−(x/scale)^shape).
    Weibull {
        /// Shape, above 0, no unit.
        shape: f64,
        /// Scale, above 0.
        scale: f64,
    },
    /// Weibull, starting at a location.
    Weibull3 {
        /// Shape, above 0, no unit.
        shape: f64,
        /// Scale, above 0.
        scale: f64,
        /// Lower end.
        location: f64,
    },
    /// Values above 0; density ∝ x^(shape−1) exp(−x/scale).
    Gamma {
        /// Shape, above 0, no unit.
        shape: f64,
        /// Scale, above 0.
        scale: f64,
    },
    /// Values from 0.
    Exponential {
        /// Mean, above 0.
        mean: f64,
    },
    /// Any value; F(x) = 1/(1 + exp(−(x−location)/scale)).
    Logistic {
        /// Middle.
        location: f64,
        /// Scale, above 0.
        scale: f64,
    },
    /// Any value, of largest extremes; F(x) = exp(−exp(−(x−location)/scale)).
    Gumbel {
        /// Mode.
        location: f64,
        /// Scale, above 0.
        scale: f64,
    },
}

impl Distribution {
    /// The family.
    pub fn family(&self) -> Family {
        match self {
            Self::Normal { .. } => Family::Normal,
            Self::Lognormal { .. } => Family::Lognormal,
            Self::Lognormal3 { .. } => Family::Lognormal3,
            Self::Weibull { .. } => Family::Weibull,
            Self::Weibull3 { .. } => Family::Weibull3,
            Self::Gamma { .. } => Family::Gamma,
            Self::Exponential { .. } => Family::Exponential,
            Self::Logistic { .. } => Family::Logistic,
            Self::Gumbel { .. } => Family::Gumbel,
        }
    }

    /// Number of parameters, which AIC charges for.
    pub fn parameters(&self) -> usize {
        match self {
            Self::Exponential { .. } => 1,
            Self::Lognormal3 { .. } | Self::Weibull3 { .. } => 3,
            _ => 2,
        }
    }

    /// Whether every parameter is finite and those that must be are above 0.
    pub fn is_proper(&self) -> bool {
        let positive = |x: f64| x > 0.0 && x.is_finite();
        match *self {
            Self::Normal { mean, sd } => mean.is_finite() && positive(sd),
            Self::Lognormal { mu, sigma } => mu.is_finite() && positive(sigma),
            Self::Lognormal3 { mu, sigma, location } => mu.is_finite() && positive(sigma) && location.is_finite(),
            Self::Weibull { shape, scale } | Self::Gamma { shape, scale } => positive(shape) && positive(scale),
            Self::Weibull3 { shape, scale, location } => positive(shape) && positive(scale) && location.is_finite(),
            Self::Exponential { mean } => positive(mean),
            Self::Logistic { location, scale } | Self::Gumbel { location, scale } => {
                location.is_finite() && positive(scale)
            }
        }
    }

    /// The standard form, where it starts (−∞ for any value), and whether it is of logarithms; with
    /// u = slope⁻¹ (x or ln(x − start) − intercept).
    pub(super) fn form(&self) -> Form {
        let plain = |standard, intercept, slope| Form { standard, start: None, log: false, intercept, slope };
        let log =
            |standard, start, intercept, slope| Form { standard, start: Some(start), log: true, intercept, slope };
        match *self {
            Self::Normal { mean, sd } => plain(Standard::Normal, mean, sd),
            Self::Lognormal { mu, sigma } => log(Standard::Normal, 0.0, mu, sigma),
            Self::Lognormal3 { mu, sigma, location } => log(Standard::Normal, location, mu, sigma),
            Self::Weibull { shape, scale } => log(Standard::SmallestExtreme, 0.0, scale.ln(), 1.0 / shape),
            Self::Weibull3 { shape, scale, location } => {
                log(Standard::SmallestExtreme, location, scale.ln(), 1.0 / shape)
            }
            Self::Exponential { mean } => log(Standard::SmallestExtreme, 0.0, mean.ln(), 1.0),
            Self::Logistic { location, scale } => plain(Standard::Logistic, location, scale),
            Self::Gumbel { location, scale } => plain(Standard::LargestExtreme, location, scale),
            Self::Gamma { shape, scale } => Form { start: Some(0.0), ..plain(Standard::Gamma(shape), 0.0, scale) },
        }
    }

    /// F(x) = P(X ≤ x).
    pub fn cdf(&self, x: f64) -> f64 {
        let form = self.form();
        form.reduce(x).map_or(0.0, |u| form.standard.cdf(u))
    }

    /// 1 − F(x), accurate where F(x) is next to 1.
    pub fn upper_tail(&self, x: f64) -> f64 {
        let form = self.form();
        form.reduce(x).map_or(1.0, |u| form.standard.upper_tail(u))
    }

    /// Logarithm of the density at x; −∞ outside the support.
    pub fn log_density(&self, x: f64) -> f64 {
        // At 0 the exponential has a density where its logarithm has none.
        if let Self::Exponential { mean } = *self {
            return if x >= 0.0 { -mean.ln() - x / mean } else { f64::NEG_INFINITY };
        }
        let form = self.form();
        form.reduce(x).map_or(f64::NEG_INFINITY, |u| {
            let stretch = if form.log { (x - form.start.unwrap_or(0.0)).ln() } else { 0.0 };
            form.standard.log_density(u) - form.slope.ln() - stretch
        })
    }

    /// Density at x; 0 outside the support.
    pub fn density(&self, x: f64) -> f64 {
        self.log_density(x).exp()
    }

    /// The x with F(x) = `p`, where `q` = 1 − p is also given because one of the two is accurate.
    pub fn quantile(&self, p: f64, q: f64) -> f64 {
        let form = self.form();
        form.restore(form.standard.quantile(p, q))
    }
}
