//! What a chart request may hold. Afterwards the computation trusts it.

use std::fmt::Display;

use super::figures::Figures;
use super::request::{ChartKind, ChartOptions, ChartRequest, Limits, LimitsBasis, Recorded};
use crate::constants::MAX_N;
use crate::points::{Count, Points};
use crate::rules::{OutOfBounds, RuleSet};
use crate::wrong_request::{Expected, LARGEST, Need, Range, WrongRequest, within_range};

/// Nobody reads the signals of more; each looks at every point.
const RULES_AT_MOST: usize = 100;
/// A moving average sums its window at each point.
const WIDEST_AVERAGE: usize = 10_000;

impl ChartRequest {
    /// Checks every field.
    ///
    /// # Errors
    /// The first field that is out of its bounds.
    pub fn check(&self) -> Result<(), WrongRequest> {
        self.check_points()?;
        let count = self.points.len();
        if self.phases.first() != Some(&0) || !self.phases.is_sorted_by(|a, b| a < b) {
            return Err(WrongRequest::new("phases", format!("{:?}", self.phases), Need::PhaseStarts));
        }
        for (field, indices) in [("phases", &self.phases), ("excluded", &self.excluded), ("restarts", &self.restarts)] {
            if let Some(i) = indices.iter().find(|&&i| i >= count) {
                return Err(WrongRequest::new(field, i, Expected::whole(0, count - 1)));
            }
        }
        if self.limits.len() != self.phases.len() {
            return Err(WrongRequest::new(
                "limits",
                format!("{} entries", self.limits.len()),
                Expected::exactly(self.phases.len(), "limits, or the same for all"),
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

    fn check_points(&self) -> Result<(), WrongRequest> {
        if self.points.is_empty() {
            return Err(WrongRequest::new("points", "none", Expected::at_least(1, "points; gaps count")));
        }
        let wrong = |i: usize, field: &str, given: String, expected: Expected| {
            Err(WrongRequest::new(format!("points[{i}].{field}"), given, expected))
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
                        let expected = Expected::at_most(most, "values a point");
                        return wrong(i, "values", format!("{} values", values.len()), expected);
                    }
                    if let Some(x) = values.iter().find(|&&x| !within_range(x)) {
                        return wrong(i, "values", x.to_string(), Expected::NUMBER);
                    }
                }
            }
            (Points::Counts(counts), Recorded::Counts) => {
                for (i, Count { count, size }) in counts.iter().enumerate().filter_map(|(i, c)| Some((i, (*c)?))) {
                    if !(size > 0.0 && within_range(size)) {
                        return wrong(i, "size", size.to_string(), Expected::POSITIVE);
                    }
                    if !(count >= 0.0 && count.fract() == 0.0 && within_range(count)) {
                        return wrong(i, "count", count.to_string(), Expected::whole_from(0));
                    }
                    if self.chart.counts_units() && count > size {
                        return wrong(i, "count", count.to_string(), Expected::up_to(size));
                    }
                }
            }
            (Points::Between(distances), Recorded::Between) => {
                let whole = self.chart == ChartKind::G;
                for (i, x) in distances.iter().enumerate().filter_map(|(i, x)| Some((i, (*x)?))) {
                    let (holds, expected) = if whole {
                        (x >= 0.0 && x.fract() == 0.0, Expected::whole_from(0))
                    } else {
                        (x > 0.0, Expected::POSITIVE)
                    };
                    if !holds || !within_range(x) {
                        return wrong(i, "value", x.to_string(), expected);
                    }
                }
            }
            (_, recorded) => {
                return Err(WrongRequest::new("points", "of another kind", Expected::one_of([recorded])));
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
    pub fn check(&self, field: &str) -> Result<(), WrongRequest> {
        let RuleSet::List(list) = self else { return Ok(()) };
        if list.len() > RULES_AT_MOST {
            let expected = Expected::at_most(RULES_AT_MOST, "rules");
            return Err(WrongRequest::new(format!("{field}.list"), format!("{} rules", list.len()), expected));
        }
        for (i, listed) in list.iter().enumerate() {
            listed.rule.check().map_err(|OutOfBounds { name, given, expected }| {
                WrongRequest::new(format!("{field}.list[{i}].{name}"), given, expected)
            })?;
        }
        Ok(())
    }
}

impl ChartOptions {
    pub(super) fn check(&self, chart: ChartKind, points: &Points) -> Result<(), WrongRequest> {
        let count = points.len();
        let needs = |name: &dyn Display, holds: bool, given: &dyn Display, expected: Expected| {
            if holds { Ok(()) } else { Err(WrongRequest::new(format!("options.{name}"), given, expected)) }
        };
        needs(&"span", (2..=10).contains(&self.span), &self.span, Expected::whole(2, 10))?;
        let share = Expected::Number(Range { above: Some(0.0), most: Some(1.0), ..Range::default() });
        needs(&"lambda", self.lambda > 0.0 && self.lambda <= 1.0, &self.lambda, share)?;
        let width = (1..=WIDEST_AVERAGE).contains(&self.width);
        needs(&"width", width, &self.width, Expected::whole(1, WIDEST_AVERAGE))?;
        needs(&"kappa", self.kappa >= 0.0 && within_range(self.kappa), &self.kappa, Expected::NOT_NEGATIVE)?;
        needs(&"h", self.h > 0.0 && within_range(self.h), &self.h, Expected::POSITIVE)?;
        if let Some(target) = self.target {
            needs(&"target", within_range(target), &target, Expected::NUMBER)?;
        }
        let of_shares = matches!(chart, ChartKind::P | ChartKind::PPrime);
        needs(&"conforming", !self.conforming || of_shares, &"true", Expected::only_with("charts p and p_prime"))?;
        let of_counts = chart.records() == Recorded::Counts;
        needs(&"mean_size", !self.mean_size || of_counts, &"true", Expected::only_with("charts of counts"))?;
        let of_values = chart.records() == Recorded::Values;
        for (name, each) in [("nominal", &self.nominal), ("part_sigma", &self.part_sigma)] {
            let Some(each) = each else { continue };
            needs(&name, of_values, &"present", Expected::only_with("charts of values"))?;
            let expected = Expected::exactly(count, "entries, one a point");
            needs(&name, each.len() == count, &format_args!("{} entries", each.len()), expected)?;
            for (i, x) in each.iter().enumerate() {
                let spread = name == "part_sigma";
                let holds = match x {
                    None => points.get(i).is_gap(),
                    Some(x) => within_range(*x) && (!spread || *x > 0.0),
                };
                let given: &dyn Display = if let Some(x) = x { x } else { &"missing" };
                needs(
                    &format_args!("{name}[{i}]"),
                    holds,
                    given,
                    if spread { Expected::POSITIVE } else { Expected::NUMBER },
                )?;
            }
        }
        needs(
            &"part_sigma",
            self.part_sigma.is_none() || self.nominal.is_some(),
            &"present",
            Expected::Beside { field: "nominal" },
        )
    }
}

impl Limits {
    pub(super) fn check(&self, path: &str, chart: ChartKind, count: usize) -> Result<(), WrongRequest> {
        let field = |name: &str| format!("{path}.{name}");
        if !(self.k > 0.0 && within_range(self.k)) {
            return Err(WrongRequest::new(field("k"), self.k, Expected::POSITIVE));
        }
        match self.basis {
            LimitsBasis::Given(figures) => chart.check_figures(&figures, field),
            LimitsBasis::Estimated { from, to, lower, upper } => {
                Figures { lower, upper, ..Figures::default() }.check_constants(field)?;
                for (name, index) in [("from", from), ("to", to)] {
                    if let Some(i) = index.filter(|&i| i >= count) {
                        return Err(WrongRequest::new(field(name), i, Expected::whole(0, count - 1)));
                    }
                }
                match (from, to) {
                    (Some(from), Some(to)) if from > to => {
                        Err(WrongRequest::new(field("from"), from, Expected::whole(0, to)))
                    }
                    _ => Ok(()),
                }
            }
        }
    }
}

impl ChartKind {
    /// Whether frozen figures are those that this chart is drawn from.
    ///
    /// # Errors
    /// The figure that is missing, of another chart or out of its bounds; `field` makes a path of its name.
    pub fn check_figures(self, figures: &Figures, field: impl Fn(&str) -> String) -> Result<(), WrongRequest> {
        let values = self.records() == Recorded::Values;
        let corrected = matches!(self, ChartKind::PPrime | ChartKind::UPrime);
        let between = self == ChartKind::BetweenWithin;
        let fitted = self == ChartKind::T;
        let (least, most, centers) = match self {
            _ if self.counts_units() => (0.0, 1.0, Expected::between(0.0, 1.0)),
            _ if values => (-LARGEST, LARGEST, Expected::NUMBER),
            _ => (0.0, LARGEST, Expected::NOT_NEGATIVE),
        };
        let positive = |x: f64| x > 0.0 && within_range(x);
        let spread = |x: f64| x >= 0.0 && within_range(x);
        let sized = between || self.records() == Recorded::Counts;
        let figure =
            |name: &str, x: Option<f64>, needed: bool, taken: &str, holds: &dyn Fn(f64) -> bool, expected| match x {
                None if needed => Err(WrongRequest::missing(field(name), expected)),
                Some(_) if !taken.is_empty() => {
                    Err(WrongRequest::new(field(name), "present", Expected::only_with(taken)))
                }
                Some(x) if !holds(x) => Err(WrongRequest::new(field(name), x, expected)),
                _ => Ok(()),
            };
        let only = |takes: bool, with: &'static str| if takes { "" } else { with };
        let Figures { center, sigma, sigma_between, mean_n, shape, scale, .. } = *figures;
        figures.check_constants(&field)?;
        let of_t = only(fitted, "chart t");
        figure("shape", shape, fitted, of_t, &positive, Expected::POSITIVE)?;
        figure("scale", scale, fitted, of_t, &positive, Expected::POSITIVE)?;
        let not_t = only(!fitted, "charts other than t");
        figure("center", center, !fitted, not_t, &|x| (least..=most).contains(&x), centers)?;
        let takes_sigma = only(values || corrected, "charts of values, p_prime and u_prime");
        let needs_sigma = takes_sigma.is_empty() && self != ChartKind::Run;
        figure("sigma", sigma, needs_sigma, takes_sigma, &positive, Expected::POSITIVE)?;
        let of_between = only(between, "chart between_within");
        figure("sigma_between", sigma_between, between, of_between, &spread, Expected::NOT_NEGATIVE)?;
        let takes_n = only(sized, "chart between_within and charts of counts");
        figure("mean_n", mean_n, false, takes_n, &positive, Expected::POSITIVE)
    }
}
