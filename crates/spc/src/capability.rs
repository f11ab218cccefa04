//! Is the process able to meet its specification?
//!
//! Within: Cp = (USL−LSL)/6σ̂, Cpl = (x̄−LSL)/3σ̂, Cpu = (USL−x̄)/3σ̂, Cpk the smaller of the two.
//! Overall, with s of all values (divisor N−1): Pp, Ppl, Ppu, Ppk. With a target T:
//! Cpm = (USL−LSL)/(6√(s² + (x̄−T)²)). With a distribution other than the normal, overall figures are of its
//! quantiles: Pp = (USL−LSL)/(X₀.₉₉₈₆₅−X₀.₀₀₁₃₅), Ppu = (USL−X₀.₅)/(X₀.₉₉₈₆₅−X₀.₅), Ppl likewise.
//! A side that has no limit has no figures. Source: ISO 22514-2; Montgomery, ch. 8; Bissell (1990).

use serde::{Deserialize, Serialize};

use crate::chart::{ChartKind, ChartRequest, set_aside, usable};
use crate::distribution::{Family, Fit, Normality, Tally, best, chi_square_quantile, fit_family, normality};
use crate::normal;
use crate::points::Readings;
use crate::sigma::{Dispersion, Location, Stretch, dispersion_for, pooled, sigma_from_mean};
use crate::subgroup::{mean, sd};
use crate::wrong_request::{Expected, Need, WrongRequest, spelled, within_range};

/// How sigma within is estimated.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum WithinMethod {
    /// Pooled ranges, as on a mean and range chart.
    Range,
    /// Pooled standard deviations, as on a mean and s chart.
    Sd,
    /// Mean moving range of 2, of one value a point.
    MeanMr,
}

/// The distribution that overall figures are taken from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Chosen {
    /// Lowest AIC among the families of two parameters.
    Auto,
    /// This one, fitted by maximum likelihood.
    #[serde(untagged)]
    Family(Family),
}

/// A capability study.
#[derive(Debug, Clone, PartialEq)]
pub struct CapabilityRequest {
    /// The subgroups in order.
    pub points: Readings,
    /// Points set aside: their values are not used, nor moving ranges that touch them.
    pub excluded: Vec<usize>,
    /// Lower specification limit; this or `usl` is needed.
    pub lsl: Option<f64>,
    /// Target value.
    pub target: Option<f64>,
    /// Upper specification limit.
    pub usl: Option<f64>,
    /// Default: moving ranges for single values, ranges for equal n up to 10, else s.
    pub sigma_method: Option<WithinMethod>,
    /// Default: the normal.
    pub distribution: Chosen,
    /// Open signals in the values used, echoed as a caution: the process must be stable first.
    pub signals: usize,
}

/// Lower and upper end of a 95 % interval.
pub type Interval = Option<[f64; 2]>;

/// Intervals of the indices. Cp and Pp by chi-square, Cpk and Ppk by Bissell's approximation.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)] // each is of the index of its name
pub struct Intervals {
    #[cfg_attr(feature = "schema", schema(value_type = Option<Vec<f64>>))]
    pub cp: Interval,
    #[cfg_attr(feature = "schema", schema(value_type = Option<Vec<f64>>))]
    pub cpk: Interval,
    #[cfg_attr(feature = "schema", schema(value_type = Option<Vec<f64>>))]
    pub pp: Interval,
    #[cfg_attr(feature = "schema", schema(value_type = Option<Vec<f64>>))]
    pub ppk: Interval,
}

/// Nonconforming parts per million on each side that has a limit.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartsPerMillion {
    /// Below LSL; a value equal to it is not outside.
    pub below: Option<f64>,
    /// Above USL.
    pub above: Option<f64>,
}

/// Nonconforming parts: counted, and expected.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Nonconforming {
    /// Among the values used.
    pub observed: PartsPerMillion,
    /// By the normal distribution with sigma within.
    pub within: PartsPerMillion,
    /// By the chosen distribution; the normal with s.
    pub overall: PartsPerMillion,
}

/// What the indices must be read with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Unstable {
    /// Open signals in the values used: indices of an unstable process foretell nothing.
    pub signals: usize,
}

/// A capability study answered; it repeats what it rests on.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)] // the indices are defined above
pub struct Capability {
    /// Values used.
    pub n: usize,
    pub mean: f64,
    /// How sigma within was estimated.
    pub sigma_method: WithinMethod,
    pub sigma_within: Option<f64>,
    /// s, divisor N − 1.
    pub sigma_overall: f64,
    pub cp: Option<f64>,
    pub cpl: Option<f64>,
    pub cpu: Option<f64>,
    pub cpk: Option<f64>,
    pub pp: Option<f64>,
    pub ppl: Option<f64>,
    pub ppu: Option<f64>,
    pub ppk: Option<f64>,
    pub cpm: Option<f64>,
    /// Distance of x̄ from the middle of the specification as a share of half its width.
    pub centring: Option<f64>,
    pub intervals: Intervals,
    pub ppm: Nonconforming,
    /// The maximum-likelihood fit of the chosen distribution.
    pub distribution: Fit,
    pub normality: Normality,
    pub caution: Option<Unstable>,
}

/// One index of each side, and both together.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Indices {
    pub both: Option<f64>,
    pub lower: Option<f64>,
    pub upper: Option<f64>,
}

impl Indices {
    /// Of a spec against a middle and the reach to either side that a process needs.
    pub fn of(spec: &Spec, middle: f64, reach_down: f64, reach_up: f64) -> Self {
        let finite = |x: f64| x.is_finite().then_some(x);
        Self {
            both: spec.width().and_then(|width| finite(width / (reach_down + reach_up))),
            lower: spec.lsl.and_then(|lsl| finite((middle - lsl) / reach_down)),
            upper: spec.usl.and_then(|usl| finite((usl - middle) / reach_up)),
        }
    }

    pub fn smaller(&self) -> Option<f64> {
        match (self.lower, self.upper) {
            (Some(lower), Some(upper)) => Some(lower.min(upper)),
            (one, other) => one.or(other),
        }
    }
}

/// What a good part is, as far as indices need it.
pub(crate) struct Spec {
    pub lsl: Option<f64>,
    pub usl: Option<f64>,
}

impl Spec {
    fn width(&self) -> Option<f64> {
        self.lsl.zip(self.usl).map(|(lsl, usl)| usl - lsl)
    }

    fn ppm(&self, below: impl Fn(f64) -> f64, above: impl Fn(f64) -> f64) -> PartsPerMillion {
        let million = |share: f64| (1e6 * share).is_finite().then_some(1e6 * share);
        PartsPerMillion {
            below: self.lsl.and_then(|lsl| million(below(lsl))),
            above: self.usl.and_then(|usl| million(above(usl))),
        }
    }
}

/// Answers a capability study.
///
/// # Errors
/// No specification limit, limits out of order, fewer than two different values, several values a
/// point where moving ranges are asked for, a family that does not hold every value.
pub fn capability(request: &CapabilityRequest) -> Result<Capability, WrongRequest> {
    let chart = request.check()?;
    let used = usable(&chart, &set_aside(&chart));
    let stretch = Stretch::whole(&chart.points, &used);
    let mut values: Vec<f64> = stretch.used().flat_map(|point| point.values().iter().copied()).collect();
    values.sort_unstable_by(f64::total_cmp);
    let few = || WrongRequest::new("points", format!("{} values", values.len()), Need::DifferentValues);
    let (mean, s, normality) =
        mean(&values).zip(sd(&values)).zip(normality(&values)).map(|((m, s), n)| (m, s, n)).ok_or_else(few)?;
    let spec = Spec { lsl: request.lsl, usl: request.usl };
    let (method, sigma, df) = request.within(stretch)?;
    let cp = sigma.map_or_else(Indices::default, |sigma| Indices::of(&spec, mean, 3.0 * sigma, 3.0 * sigma));
    let fit = request.fit(&Tally::of(&values))?;
    let is_normal = fit.distribution.family() == Family::Normal;
    let (pp, overall) = if is_normal {
        let tail = |x: f64| normal::cdf(x / s);
        (Indices::of(&spec, mean, 3.0 * s, 3.0 * s), spec.ppm(|lsl| tail(lsl - mean), |usl| tail(mean - usl)))
    } else {
        let of = &fit.distribution;
        let [low, middle, high] = [(0.00135, 0.99865), (0.5, 0.5), (0.99865, 0.00135)].map(|(p, q)| of.quantile(p, q));
        let ppm = spec.ppm(|lsl| of.cdf(lsl), |usl| of.upper_tail(usl));
        (Indices::of(&spec, middle, middle - low, high - middle), ppm)
    };
    let n = values.len() as f64;
    let overall_df = n - 1.0;
    let share = |outside: usize| outside as f64 / n;
    let tail_within = |distance: f64| sigma.map_or(f64::NAN, |sigma| normal::cdf(distance / sigma));
    let cpm = request.target.zip(spec.width()).map(|(target, width)| width / (6.0 * s.hypot(mean - target)));
    Ok(Capability {
        n: values.len(),
        mean,
        sigma_method: method,
        sigma_within: sigma,
        sigma_overall: s,
        cp: cp.both,
        cpl: cp.lower,
        cpu: cp.upper,
        cpk: cp.smaller(),
        pp: pp.both,
        ppl: pp.lower,
        ppu: pp.upper,
        ppk: pp.smaller(),
        cpm,
        centring: spec.lsl.zip(spec.usl).map(|(l, u)| (mean - 0.5 * (l + u)).abs() / (0.5 * (u - l))),
        intervals: Intervals {
            cp: cp.both.and_then(|cp| chi_square_interval(cp, df)),
            cpk: cp.smaller().and_then(|cpk| bissell_interval(cpk, n, df)),
            pp: pp.both.filter(|_| is_normal).and_then(|pp| chi_square_interval(pp, overall_df)),
            ppk: pp.smaller().filter(|_| is_normal).and_then(|ppk| bissell_interval(ppk, n, overall_df)),
        },
        ppm: Nonconforming {
            observed: spec.ppm(
                |lsl| share(values.iter().filter(|x| **x < lsl).count()),
                |usl| share(values.iter().filter(|x| **x > usl).count()),
            ),
            within: spec.ppm(|lsl| tail_within(lsl - mean), |usl| tail_within(mean - usl)),
            overall,
        },
        distribution: fit,
        normality,
        caution: (request.signals > 0).then_some(Unstable { signals: request.signals }),
    })
}

/// Ĉ √(χ²_{0.025, ν}/ν) … Ĉ √(χ²_{0.975, ν}/ν).
fn chi_square_interval(index: f64, df: f64) -> Interval {
    (df > 0.0).then(|| [0.025, 0.975].map(|p| index * (chi_square_quantile(df, p) / df).sqrt()))
}

/// Ĉ ± z √(1/(9N) + Ĉ²/(2ν)).
fn bissell_interval(index: f64, n: f64, df: f64) -> Interval {
    let half = -normal::quantile(0.025) * (1.0 / (9.0 * n) + index * index / (2.0 * df)).sqrt();
    (df > 0.0).then_some([index - half, index + half])
}

/// Numbers, and in order.
pub(crate) fn check_specification(lsl: Option<f64>, target: Option<f64>, usl: Option<f64>) -> Result<(), WrongRequest> {
    for (name, x) in [("lsl", lsl), ("target", target), ("usl", usl)] {
        if let Some(x) = x.filter(|x| !within_range(*x)) {
            return Err(WrongRequest::new(name, x, Expected::NUMBER));
        }
    }
    match lsl.zip(usl) {
        Some((lsl, usl)) if lsl >= usl => Err(WrongRequest::new("lsl", lsl, Expected::below(usl))),
        _ => Ok(()),
    }
}

impl CapabilityRequest {
    /// Checks every field; the subgroups as a chart takes them.
    fn check(&self) -> Result<ChartRequest, WrongRequest> {
        let excluded = self.excluded.clone();
        let chart = ChartRequest { excluded, ..ChartRequest::new(ChartKind::XbarS, self.points.clone()) };
        chart.check()?;
        check_specification(self.lsl, self.target, self.usl)?;
        if self.lsl.or(self.usl).is_none() {
            return Err(WrongRequest::new("lsl", "missing, and so is usl", Need::OneLimit));
        }
        Ok(chart)
    }

    /// Sigma within, how it was estimated, and its degrees of freedom: Σ(nᵢ−1) for s, 0.9 Σ(nᵢ−1) for
    /// ranges, 0.62 (N−1) for moving ranges of 2.
    fn within(&self, stretch: Stretch) -> Result<(WithinMethod, Option<f64>, f64), WrongRequest> {
        let sizes = || stretch.used().map(|point| point.values().len());
        let singles = sizes().all(|n| n == 1);
        let method = self.sigma_method.unwrap_or_else(|| match dispersion_for(sizes()) {
            _ if singles => WithinMethod::MeanMr,
            Dispersion::Range => WithinMethod::Range,
            Dispersion::Sd => WithinMethod::Sd,
        });
        let within_df: f64 = sizes().map(|n| n as f64 - 1.0).sum();
        let (sigma, df) = match method {
            WithinMethod::Range => (pooled(stretch, Location::Mean, Dispersion::Range).sigma, 0.9 * within_df),
            WithinMethod::Sd => (pooled(stretch, Location::Mean, Dispersion::Sd).sigma, within_df),
            WithinMethod::MeanMr if !singles => {
                return Err(WrongRequest::new("sigma_method", "mean_mr", Expected::exactly(1, "value a point")));
            }
            WithinMethod::MeanMr => {
                (sigma_from_mean(&stretch.singles(), stretch.used_flags(), 2), 0.62 * (sizes().count() as f64 - 1.0))
            }
        };
        Ok((method, sigma.filter(|sigma| *sigma > 0.0), df))
    }

    fn fit(&self, values: &Tally) -> Result<Fit, WrongRequest> {
        let fitted = match self.distribution {
            Chosen::Family(family) => fit_family(family, values),
            Chosen::Auto => {
                let fits: Vec<Fit> = Family::TWO_PARAMETERS.iter().filter_map(|f| fit_family(*f, values)).collect();
                best(&fits)
            }
        };
        let given = || match self.distribution {
            Chosen::Auto => "auto".into(),
            Chosen::Family(family) => spelled(family),
        };
        fitted.ok_or_else(|| WrongRequest::new("distribution", given(), Need::FamilyThatHolds))
    }
}
