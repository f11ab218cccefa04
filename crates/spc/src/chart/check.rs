//! What a chart request may hold. Afterwards the computation trusts it.

use super::request::{ChartKind, ChartOptions, ChartRequest, Limits, LimitsBasis, Problem, Recorded};
use crate::constants::MAX_N;
use crate::points::{Count, Points};
use crate::rules::{OutOfBounds, RuleSet};

/// Values are refused from here on: their squares and sums would leave the range of a double.
pub(crate) const LARGEST: f64 = 1e100;
/// Nobody reads the signals of more; each looks at every point.
const RULES_AT_MOST: usize = 100;
/// A moving average sums its window at each point.
const WIDEST_AVERAGE: usize = 10_000;

pub(crate) fn within_range(x: f64) -> bool {
    x.abs() <= LARGEST
}

const FINITE: &str = "a number between -1e100 and 1e100";

impl ChartRequest {
    /// Checks every field.
    ///
    /// # Errors
    /// The first field that is out of its bounds.
    pub fn check(&self) -> Result<(), Problem> {
        self.check_points()?;
        let count = self.points.len();
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
            limits.check(&path, self.chart, count)?;
        }
        if let Some(rules) = &self.rules {
            rules.check("rules")?;
        }
        self.options.check(self.chart, &self.points)
    }

    fn check_points(&self) -> Result<(), Problem> {
        if self.points.is_empty() {
            return Err(Problem::new("points", "none", "at least one point; gaps count"));
        }
        let wrong = |i: usize, field: &str, given: String, expected: &str| {
            Err(Problem::new(format!("points[{i}].{field}"), given, expected))
        };
        match (&self.points, self.chart.records()) {
            (Points::Values(readings), Recorded::Values) => {
                let most = if self.chart == ChartKind::IMr { 1 } else { MAX_N };
                // One look at all values in a row; point by point only to say which is wrong.
                let all_within = readings.values().iter().fold(true, |all, &x| all & within_range(x));
                if all_within && readings.equal_size().is_some_and(|size| (1..=most).contains(&size)) {
                    return Ok(());
                }
                for i in 0..readings.len() {
                    let values = readings.get(i);
                    if values.len() > most {
                        let expected = if most == 1 { "one value a point" } else { "at most 200 values" };
                        return wrong(i, "values", format!("{} values", values.len()), expected);
                    }
                    if let Some(x) = values.iter().find(|&&x| !within_range(x)) {
                        return wrong(i, "values", x.to_string(), FINITE);
                    }
                }
            }
            (Points::Counts(counts), Recorded::Counts) => {
                for (i, Count { count, size }) in counts.iter().enumerate().filter_map(|(i, c)| Some((i, (*c)?))) {
                    if !(size > 0.0 && within_range(size)) {
                        return wrong(i, "size", size.to_string(), "a number above 0");
                    }
                    if !(count >= 0.0 && count.fract() == 0.0 && within_range(count)) {
                        return wrong(i, "count", count.to_string(), "a whole number from 0");
                    }
                    if self.chart.counts_units() && count > size {
                        return wrong(i, "count", count.to_string(), &format!("at most size, {size}"));
                    }
                }
            }
            (Points::Between(distances), Recorded::Between) => {
                let whole = self.chart == ChartKind::G;
                for (i, x) in distances.iter().enumerate().filter_map(|(i, x)| Some((i, (*x)?))) {
                    let (holds, expected) = if whole {
                        (x >= 0.0 && x.fract() == 0.0, "a whole number from 0")
                    } else {
                        (x > 0.0, "a number above 0")
                    };
                    if !holds || !within_range(x) {
                        return wrong(i, "value", x.to_string(), expected);
                    }
                }
            }
            (_, recorded) => {
                return Err(Problem::new("points", "of another kind", format!("{recorded:?}").to_lowercase()));
            }
        }
        Ok(())
    }
}

impl RuleSet {
    /// Checks each rule of a list; presets are always right.
    ///
    /// # Errors
    /// The parameter that is out of its bounds, as a path under `field`.
    pub fn check(&self, field: &str) -> Result<(), Problem> {
        let RuleSet::List(list) = self else { return Ok(()) };
        if list.len() > RULES_AT_MOST {
            let expected = format!("at most {RULES_AT_MOST} rules");
            return Err(Problem::new(format!("{field}.list"), format!("{} rules", list.len()), expected));
        }
        for (i, rule) in list.iter().enumerate() {
            rule.check().map_err(|OutOfBounds { name, given, expected }| {
                Problem::new(format!("{field}.list[{i}].{name}"), given, expected)
            })?;
        }
        Ok(())
    }
}

impl ChartOptions {
    pub(super) fn check(&self, chart: ChartKind, points: &Points) -> Result<(), Problem> {
        let count = points.len();
        let needs = |name: &str, holds: bool, given: String, expected: &str| {
            if holds { Ok(()) } else { Err(Problem::new(format!("options.{name}"), given, expected)) }
        };
        needs("span", (2..=10).contains(&self.span), self.span.to_string(), "a whole number from 2 to 10")?;
        needs(
            "lambda",
            self.lambda > 0.0 && self.lambda <= 1.0,
            self.lambda.to_string(),
            "a number above 0, at most 1",
        )?;
        let width = (1..=WIDEST_AVERAGE).contains(&self.width);
        needs("width", width, self.width.to_string(), "a whole number from 1 to 10000")?;
        needs("kappa", self.kappa >= 0.0 && within_range(self.kappa), self.kappa.to_string(), "a number from 0")?;
        needs("h", self.h > 0.0 && within_range(self.h), self.h.to_string(), "a number above 0")?;
        if let Some(target) = self.target {
            needs("target", within_range(target), target.to_string(), FINITE)?;
        }
        let of_shares = matches!(chart, ChartKind::P | ChartKind::PPrime);
        needs("conforming", !self.conforming || of_shares, "true".into(), "false for charts other than p and p_prime")?;
        let of_counts = chart.records() == Recorded::Counts;
        needs("mean_size", !self.mean_size || of_counts, "true".into(), "false for charts other than of counts")?;
        let of_values = chart.records() == Recorded::Values;
        for (name, each) in [("nominal", &self.nominal), ("part_sigma", &self.part_sigma)] {
            let Some(each) = each else { continue };
            needs(name, of_values, "present".into(), "no such option for this chart")?;
            let expected = format!("one for each of {count} points");
            needs(name, each.len() == count, format!("{} entries", each.len()), &expected)?;
            for (i, x) in each.iter().enumerate() {
                let spread = name == "part_sigma";
                let holds = match x {
                    None => points.get(i).is_gap(),
                    Some(x) => within_range(*x) && (!spread || *x > 0.0),
                };
                let given = x.map_or_else(|| "missing".into(), |x| x.to_string());
                needs(&format!("{name}[{i}]"), holds, given, if spread { "a number above 0" } else { FINITE })?;
            }
        }
        needs("part_sigma", self.part_sigma.is_none() || self.nominal.is_some(), "present".into(), "nominal beside it")
    }
}

impl Limits {
    pub(super) fn check(&self, path: &str, chart: ChartKind, count: usize) -> Result<(), Problem> {
        let field = |name: &str| format!("{path}.{name}");
        if !(self.k > 0.0 && within_range(self.k)) {
            return Err(Problem::new(field("k"), self.k, "a number above 0"));
        }
        for (name, constant) in [("lower", self.lower), ("upper", self.upper)] {
            if let Some(x) = constant.filter(|&x| !within_range(x)) {
                return Err(Problem::new(field(name), x, FINITE));
            }
        }
        if let (Some(lower), Some(upper)) = (self.lower, self.upper)
            && lower >= upper
        {
            return Err(Problem::new(field("lower"), lower, format!("a number below upper, {upper}")));
        }
        match self.basis {
            LimitsBasis::Given { center, sigma, sigma_between } => {
                check_given(field, chart, center, sigma, sigma_between)
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
        }
    }
}

fn check_given(
    field: impl Fn(&str) -> String,
    chart: ChartKind,
    center: f64,
    sigma: Option<f64>,
    sigma_between: Option<f64>,
) -> Result<(), Problem> {
    let centers = match chart {
        ChartKind::T => {
            return Err(Problem::new(field("basis"), "given", "estimated: limits of t are quantiles of a fit"));
        }
        _ if chart.counts_units() => (0.0..=1.0, "a share from 0 to 1"),
        _ if chart.records() == Recorded::Values => (-LARGEST..=LARGEST, FINITE),
        _ => (0.0..=LARGEST, "a number from 0"),
    };
    if !centers.0.contains(&center) {
        return Err(Problem::new(field("center"), center, centers.1));
    }
    let corrected = matches!(chart, ChartKind::PPrime | ChartKind::UPrime);
    let takes_sigma = chart.records() == Recorded::Values || corrected;
    match sigma {
        Some(_) if !takes_sigma => return Err(Problem::new(field("sigma"), "present", "no such field for this chart")),
        Some(sigma) if !(sigma > 0.0 && within_range(sigma)) => {
            return Err(Problem::new(field("sigma"), sigma, "a number above 0"));
        }
        None if takes_sigma && chart != ChartKind::Run => {
            return Err(Problem::new(field("sigma"), "missing", "a number above 0"));
        }
        _ => {}
    }
    match (sigma_between, chart == ChartKind::BetweenWithin) {
        (None, true) => Err(Problem::new(field("sigma_between"), "missing", "a number from 0")),
        (Some(_), false) => Err(Problem::new(field("sigma_between"), "present", "no such field for this chart")),
        (Some(x), true) if !(x >= 0.0 && within_range(x)) => {
            Err(Problem::new(field("sigma_between"), x, "a number from 0"))
        }
        _ => Ok(()),
    }
}
