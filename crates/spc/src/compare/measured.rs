//! Measured values side by side.

use serde::Serialize;

use super::request::{CompareRequest, DataSet, Estimate};
use crate::capability::{Indices, Spec};
use crate::chart::{ChartRequest, compute};
use crate::distribution::{f_quantile, f_tails, student_quantile, student_two_sided};
use crate::points::Points;
use crate::subgroup::{mean, median, sd};
use crate::wrong_request::WrongRequest;

/// Figures of one set; a figure that its values do not give is nothing.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)] // the usual figures, by their names
pub struct MeasuredSet {
    pub name: String,
    /// Points with a value.
    pub points: usize,
    /// Values.
    pub n: usize,
    pub mean: f64,
    /// s, divisor n − 1.
    pub sd: Option<f64>,
    /// 100 s/mean
    pub cv_percent: Option<f64>,
    pub min: f64,
    pub median: f64,
    pub max: f64,
    /// As its chart estimates it from the points as one phase.
    pub sigma_within: Option<f64>,
    /// Values below LSL, where there is one.
    pub below: Option<usize>,
    /// Values above USL.
    pub above: Option<usize>,
    pub cp: Option<f64>,
    pub cpk: Option<f64>,
    pub pp: Option<f64>,
    pub ppk: Option<f64>,
}

/// One set against the base.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasuredAgainst {
    /// Of the set.
    pub name: String,
    /// Its mean less that of the base, by Welch's t; nothing where either has no spread.
    pub mean_difference: Option<Estimate>,
    /// Its s over that of the base, by F.
    pub sd_ratio: Option<Estimate>,
    /// 100 (mean − base mean)/base mean
    pub bias_percent: Option<f64>,
    /// (mean − base mean)/base s
    pub sdi: Option<f64>,
    /// CV over that of the base.
    pub cvr: Option<f64>,
}

impl MeasuredSet {
    pub(super) fn of(set: &DataSet, request: &CompareRequest) -> Result<Self, WrongRequest> {
        let chart = compute(&ChartRequest::new(request.chart, set.points.clone()))?;
        let readings = match &set.points {
            Points::Values(readings) => readings,
            // Such a set was refused.
            _ => &crate::points::Readings::default(),
        };
        let values = readings.values();
        let center = mean(values).unwrap_or(f64::NAN);
        let s = sd(values);
        let sigma_within = chart.phases.first().and_then(|phase| phase.figures.sigma);
        let spec = Spec { lsl: request.lsl, usl: request.usl };
        let indices = |sigma: Option<f64>| {
            let reach = sigma.filter(|sigma| *sigma > 0.0).map(|sigma| 3.0 * sigma);
            reach.map_or_else(Indices::default, |reach| Indices::of(&spec, center, reach, reach))
        };
        let (within, overall) = (indices(sigma_within), indices(s));
        let outside = |beyond: &dyn Fn(f64) -> bool| values.iter().filter(|x| beyond(**x)).count();
        Ok(Self {
            name: set.name.clone(),
            points: (0..readings.len()).filter(|&i| !readings.get(i).is_empty()).count(),
            n: values.len(),
            mean: center,
            sd: s,
            cv_percent: s.filter(|_| center != 0.0).map(|s| 100.0 * s / center),
            min: values.iter().copied().fold(f64::INFINITY, f64::min),
            median: median(values).unwrap_or(f64::NAN),
            max: values.iter().copied().fold(f64::NEG_INFINITY, f64::max),
            sigma_within,
            below: request.lsl.map(|lsl| outside(&|x| x < lsl)),
            above: request.usl.map(|usl| outside(&|x| x > usl)),
            cp: within.both,
            cpk: within.smaller(),
            pp: overall.both,
            ppk: overall.smaller(),
        })
    }

    /// The interval of its mean: mean ± t·s/√n; nothing where there is no spread. What is drawn of a set beside others.
    pub fn mean_interval(&self, confidence: f64) -> Option<[f64; 2]> {
        let (n, _, v) = self.spread()?;
        let half = student_quantile(n - 1.0, 1.0 - confidence)? * v.sqrt();
        Some([self.mean - half, self.mean + half])
    }

    /// n, s and s²/n, where there is a spread.
    fn spread(&self) -> Option<(f64, f64, f64)> {
        let n = self.n as f64;
        self.sd.filter(|s| *s > 0.0).map(|s| (n, s, s * s / n))
    }
}

impl MeasuredAgainst {
    pub(super) fn of(base: &MeasuredSet, set: &MeasuredSet, confidence: f64) -> Self {
        let difference = set.mean - base.mean;
        let divided = |x: f64, by: f64| (by != 0.0).then(|| x / by);
        Self {
            name: set.name.clone(),
            mean_difference: means(base, set, confidence),
            sd_ratio: spreads(base, set, confidence),
            bias_percent: divided(100.0 * difference, base.mean),
            sdi: base.sd.and_then(|s| divided(difference, s)),
            cvr: set.cv_percent.zip(base.cv_percent).and_then(|(own, base)| divided(own, base)),
        }
    }
}

/// Welch's t: standard error √(s₁²/n₁ + s₂²/n₂), degrees of freedom by Satterthwaite.
/// Source: B. L. Welch, Biometrika 34 (1947) 28; F. Satterthwaite, Biometrics Bull. 2 (1946) 110.
fn means(base: &MeasuredSet, set: &MeasuredSet, confidence: f64) -> Option<Estimate> {
    let ((n1, _, v1), (n2, _, v2)) = base.spread().zip(set.spread())?;
    // Relative to their sum, whose square may leave the range of a double.
    let (r1, r2) = (v1 / (v1 + v2), v2 / (v1 + v2));
    let df = 1.0 / (r1 * r1 / (n1 - 1.0) + r2 * r2 / (n2 - 1.0));
    let error = (v1 + v2).sqrt();
    let value = set.mean - base.mean;
    let half = error * student_quantile(df, 1.0 - confidence)?;
    let p = student_two_sided(value / error, Some(df));
    Some(Estimate { value: Some(value), low: Some(value - half), high: Some(value + half), p })
}

/// F of the two variances with n − 1 degrees of freedom each; the interval is that of the ratio of s.
fn spreads(base: &MeasuredSet, set: &MeasuredSet, confidence: f64) -> Option<Estimate> {
    let ((n1, s1, _), (n2, s2, _)) = base.spread().zip(set.spread())?;
    let (df, df0) = (n2 - 1.0, n1 - 1.0);
    let value = s2 / s1;
    let tail = 0.5 * (1.0 - confidence);
    let (lower, upper) = f_tails(value * value, df, Some(df0));
    // The lower quantile is the reciprocal of the upper one of the degrees turned about.
    let low = value / f_quantile(df, df0, tail)?.sqrt();
    let high = value * f_quantile(df0, df, tail)?.sqrt();
    Some(Estimate { value: Some(value), low: Some(low), high: Some(high), p: (2.0 * lower.min(upper)).min(1.0) })
}
