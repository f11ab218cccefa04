//! Student's t and F: tails, and the values that a tail belongs to.

use statrs::function::beta::beta_reg;

use super::chi_square::{chi_square_lower_tail, chi_square_upper_tail};
use crate::normal;
use crate::solve::positive_root;

/// Two-sided p of Student's t; of the normal distribution without degrees of freedom.
pub(crate) fn student_two_sided(t: f64, df: Option<f64>) -> f64 {
    df.map_or_else(|| 2.0 * normal::cdf(-t.abs()), |df| beta_reg(df / 2.0, 0.5, df / (df + t * t)))
}

/// The t above 0 with this two-sided p.
pub(crate) fn student_quantile(df: f64, p: f64) -> Option<f64> {
    positive_root(-normal::quantile(p / 2.0), |t| student_two_sided(t, Some(df)) - p)
}

/// Both tails of F with `df` and `df0` degrees of freedom; of χ²/df where `df0` is not given.
pub(crate) fn f_tails(f: f64, df: f64, df0: Option<f64>) -> (f64, f64) {
    match df0 {
        // Next to a sigma that is hardly one.
        _ if !f.is_finite() => (1.0, 0.0),
        None => (chi_square_lower_tail(df, f * df), chi_square_upper_tail(df, f * df)),
        Some(df0) => {
            let share = df * f / (df * f + df0);
            (beta_reg(df / 2.0, df0 / 2.0, share), beta_reg(df0 / 2.0, df / 2.0, df0 / (df * f + df0)))
        }
    }
}

/// The F that is exceeded with probability `p`.
pub(crate) fn f_quantile(df: f64, df0: f64, p: f64) -> Option<f64> {
    positive_root(1.0, |f| f_tails(f, df, Some(df0)).1 - p)
}
