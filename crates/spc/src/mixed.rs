//! Are different streams mixed in one subgroup? Their spread widens the limits, and the points hug the centre.
//!
//! Of N points in control, those within one sigma of the centre are binomial with q = Φ(1) − Φ(−1) ≈ 0.6827.
//! p = P(X ≥ x) = I_q(x, N − x + 1), the regularised incomplete beta function.
//! Source: Montgomery, ch. 5.3.6 (stratification); Nelson (1984), test 7, which sees runs of such points alone.

use serde::Serialize;
use statrs::function::beta::beta_reg;

use crate::chart::{ChartRequest, compute};
use crate::normal;
use crate::wrong_request::WrongRequest;

/// Points near the centre.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mixed {
    /// Points of the location panel within one sigma of the centre.
    pub within: usize,
    /// Points with a z.
    pub of: usize,
    /// So many of them would be within one sigma by chance.
    pub expected: f64,
    /// Probability of as many by chance.
    pub p: f64,
}

/// With fewer points nothing is said.
const POINTS_AT_LEAST: usize = 25;

/// How many points of the last phase hug the centre; `None` for fewer than 25 points with a z.
///
/// # Errors
/// What is wrong with the chart request.
pub fn mixed(request: &ChartRequest) -> Result<Option<Mixed>, WrongRequest> {
    let answer = compute(&ChartRequest { rules: None, ..request.clone() })?;
    let start = answer.phases.last().map_or(0, |phase| phase.start);
    let tested = answer.panels[0].points().skip(start).filter(|point| point.tested);
    let z: Vec<f64> = tested.filter_map(|point| point.z.get()).collect();
    let (within, of) = (z.iter().filter(|z| z.abs() < 1.0).count(), z.len());
    let share = normal::cdf(1.0) - normal::cdf(-1.0);
    let p = if within == 0 { 1.0 } else { beta_reg(within as f64, (of - within + 1) as f64, share) };
    Ok((of >= POINTS_AT_LEAST).then_some(Mixed { within, of, expected: share * of as f64, p }))
}

#[cfg(test)]
mod tests {
    use super::mixed;
    use crate::chart::{ChartKind, ChartRequest, Limits};

    fn of(values: impl Iterator<Item = f64>) -> Option<super::Mixed> {
        let points: Vec<Vec<f64>> = values.map(|x| vec![x]).collect();
        let request =
            ChartRequest { limits: vec![Limits::given(0.0, 1.0, 3.0)], ..ChartRequest::new(ChartKind::IMr, points) };
        mixed(&request).ok().flatten()
    }

    /// 0.6827 to the power of 30, all of them; and the sum of the binomial for 20 of 30.
    #[test]
    fn the_tail_is_that_of_the_binomial() {
        let all = of((0..30).map(|i| 0.1 * f64::from(i % 3))).map(|found| found.p);
        let share: f64 = 0.682_689_492_137_085_9;
        let expected = of((0..30).map(|i| 0.1 * f64::from(i % 3))).map(|found| found.expected);
        assert!(expected.is_some_and(|expected| (expected / (30.0 * share) - 1.0).abs() < 1e-9), "{expected:?}");
        assert!(all.is_some_and(|p| (p / share.powi(30) - 1.0).abs() < 1e-9), "{all:?}");
        let some = of((0..30).map(|i| if i < 20 { 0.5 } else { 1.5 })).map(|found| (found.within, found.p));
        let mut tail = 0.0;
        let mut choose = 1.0;
        for k in 0..=30 {
            if k >= 20 {
                tail += choose * share.powi(k) * (1.0 - share).powi(30 - k);
            }
            choose *= f64::from(30 - k) / f64::from(k + 1);
        }
        assert!(some.is_some_and(|(within, p)| within == 20 && (p / tail - 1.0).abs() < 1e-9), "{some:?} {tail}");
    }

    #[test]
    fn few_points_say_nothing() {
        assert_eq!(of((0..24).map(|_| 0.0)), None);
    }
}
