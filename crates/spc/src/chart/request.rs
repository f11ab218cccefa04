use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::constants::MAX_N;
use crate::rules::RuleSet;

/// Which chart.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ChartKind {
    /// Mean and range.
    XbarR,
    /// Mean and standard deviation.
    XbarS,
    /// Median and range.
    MedianR,
    /// Individuals and moving range.
    IMr,
    /// Values about their median, without limits.
    Run,
}

/// How the sigma of individuals is estimated.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum SigmaMethod {
    /// Mean moving range / d2(w). The default: it holds against shifts of the mean, and is what the trade expects.
    #[default]
    MeanMr,
    /// Median moving range / median of the range of w normal values: also holds against single wild points.
    MedianMr,
    /// s with divisor N − 1, without bias correction, as laboratory charts use it.
    Overall,
}

/// Options of charts that have them.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct ChartOptions {
    /// Span w of the moving range, 2…10. Default 2.
    pub span: usize,
    /// Sigma of individuals.
    pub sigma_method: SigmaMethod,
}

impl Default for ChartOptions {
    fn default() -> Self {
        Self { span: 2, sigma_method: SigmaMethod::default() }
    }
}

/// Where the limits of a phase come from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum LimitsBasis {
    /// From the phase's own points; `from`/`to` (inclusive, counted in the whole series) narrow them.
    Estimated {
        /// First point used.
        from: Option<usize>,
        /// Last point used.
        to: Option<usize>,
    },
    /// Frozen figures.
    Given {
        /// Centre of the location panel.
        center: f64,
        /// Within sigma of single values, above 0.
        sigma: f64,
    },
}

/// Limits of one phase.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Limits {
    /// Estimated or given.
    pub basis: LimitsBasis,
    /// Multiplier of sigma, above 0. Default 3.
    pub k: f64,
    /// Constant that replaces the lower limit of the location panel.
    pub lower: Option<f64>,
    /// Constant that replaces the upper limit of the location panel.
    pub upper: Option<f64>,
}

impl Limits {
    /// Limits at 3 sigma estimated from all points of the phase.
    pub const ESTIMATED: Self =
        Self { basis: LimitsBasis::Estimated { from: None, to: None }, k: 3.0, lower: None, upper: None };

    /// Limits at `k` sigma around frozen figures.
    pub const fn given(center: f64, sigma: f64, k: f64) -> Self {
        Self { basis: LimitsBasis::Given { center, sigma }, k, lower: None, upper: None }
    }
}

/// A control chart to compute.
#[derive(Debug, Clone, PartialEq)]
pub struct ChartRequest {
    /// Which chart.
    pub chart: ChartKind,
    /// The values present at each point; an empty one is a gap.
    pub points: Vec<Vec<f64>>,
    /// Start of each phase, ascending; the first is 0.
    pub phases: Vec<usize>,
    /// Points set aside: plotted, but neither used nor tested.
    pub excluded: Vec<usize>,
    /// Points at which rule windows start afresh.
    pub restarts: Vec<usize>,
    /// One for each phase.
    pub limits: Vec<Limits>,
    /// The rules; `None` for no rules.
    pub rules: Option<RuleSet>,
    /// Options of the chart.
    pub options: ChartOptions,
}

/// What is wrong with a request: the field as a path, what was given, what is allowed.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("{field}: {given}; expected {expected}")]
pub struct Problem {
    /// Path of the field, such as `limits[1].k`.
    pub field: String,
    /// What was given.
    pub given: String,
    /// What is allowed.
    pub expected: String,
}

impl Problem {
    /// A problem with `field`.
    pub fn new(field: impl Into<String>, given: impl ToString, expected: impl Into<String>) -> Self {
        Self { field: field.into(), given: given.to_string(), expected: expected.into() }
    }
}

/// Values are refused from here on: their squares and sums would leave the range of a double.
pub(crate) const LARGEST: f64 = 1e100;

impl ChartRequest {
    /// A chart of one phase with estimated limits at 3 sigma and nothing set aside.
    pub fn new(chart: ChartKind, points: Vec<Vec<f64>>) -> Self {
        Self {
            chart,
            points,
            phases: vec![0],
            excluded: vec![],
            restarts: vec![],
            limits: vec![Limits::ESTIMATED],
            rules: None,
            options: ChartOptions::default(),
        }
    }

    /// First and last point of phase `i`.
    pub(crate) fn phase_bounds(&self, i: usize) -> (usize, usize) {
        let end = self.phases.get(i + 1).copied().unwrap_or(self.points.len()) - 1;
        (self.phases[i], end)
    }

    /// Checks every field; afterwards the computation trusts them.
    ///
    /// # Errors
    /// The first field that is out of its bounds.
    pub fn check(&self) -> Result<(), Problem> {
        let count = self.points.len();
        if self.points.iter().all(Vec::is_empty) {
            return Err(Problem::new("points", "no values", "at least one point with a value"));
        }
        let most = if self.chart == ChartKind::IMr { 1 } else { MAX_N };
        for (i, values) in self.points.iter().enumerate() {
            if values.len() > most {
                let expected = if most == 1 { "one value a point".into() } else { format!("at most {most} values") };
                return Err(Problem::new(format!("points[{i}].values"), format!("{} values", values.len()), expected));
            }
            if let Some(x) = values.iter().find(|x| x.is_nan() || x.abs() > LARGEST) {
                return Err(Problem::new(format!("points[{i}].values"), x, "numbers between -1e100 and 1e100"));
            }
        }
        if self.phases.first() != Some(&0) || !self.phases.is_sorted_by(|a, b| a < b) {
            return Err(Problem::new("phases", format!("{:?}", self.phases), "start indices, ascending, the first 0"));
        }
        for (field, indices) in [("phases", &self.phases), ("excluded", &self.excluded), ("restarts", &self.restarts)] {
            if let Some(i) = indices.iter().find(|&&i| i >= count) {
                return Err(Problem::new(field, i, format!("indices from 0 to {}", count - 1)));
            }
        }
        if self.limits.len() != self.phases.len() {
            return Err(Problem::new(
                "limits",
                format!("{} entries", self.limits.len()),
                format!("one for all phases, or one for each of {}", self.phases.len()),
            ));
        }
        for (i, limits) in self.limits.iter().enumerate() {
            let path = if self.limits.len() == 1 { "limits".into() } else { format!("limits[{i}]") };
            limits.check(&path, count)?;
        }
        if let Some(RuleSet::List(list)) = &self.rules {
            for (i, rule) in list.iter().enumerate() {
                rule.check().map_err(|(name, expected)| {
                    Problem::new(format!("rules.list[{i}].{name}"), "out of bounds", expected)
                })?;
            }
        }
        if !(2..=10).contains(&self.options.span) {
            return Err(Problem::new("options.span", self.options.span, "a whole number from 2 to 10"));
        }
        Ok(())
    }
}

impl Limits {
    fn check(&self, path: &str, count: usize) -> Result<(), Problem> {
        let field = |name: &str| format!("{path}.{name}");
        let within = |x: f64| x.is_finite() && x.abs() <= LARGEST;
        if !(self.k > 0.0 && within(self.k)) {
            return Err(Problem::new(field("k"), self.k, "a number above 0"));
        }
        for (name, constant) in [("lower", self.lower), ("upper", self.upper)] {
            if let Some(x) = constant.filter(|&x| !within(x)) {
                return Err(Problem::new(field(name), x, "a number between -1e100 and 1e100"));
            }
        }
        if let (Some(lower), Some(upper)) = (self.lower, self.upper)
            && lower >= upper
        {
            return Err(Problem::new(field("lower"), lower, format!("a number below upper, {upper}")));
        }
        match self.basis {
            LimitsBasis::Given { center, .. } if !within(center) => {
                Err(Problem::new(field("center"), center, "a number between -1e100 and 1e100"))
            }
            LimitsBasis::Given { sigma, .. } if !(sigma > 0.0 && within(sigma)) => {
                Err(Problem::new(field("sigma"), sigma, "a number above 0"))
            }
            LimitsBasis::Estimated { from, to } => {
                for (name, index) in [("from", from), ("to", to)] {
                    if let Some(i) = index.filter(|&i| i >= count) {
                        return Err(Problem::new(field(name), i, format!("an index from 0 to {}", count - 1)));
                    }
                }
                match (from, to) {
                    (Some(from), Some(to)) if from > to => {
                        Err(Problem::new(field("from"), from, format!("an index up to `to`, {to}")))
                    }
                    _ => Ok(()),
                }
            }
            LimitsBasis::Given { .. } => Ok(()),
        }
    }
}
