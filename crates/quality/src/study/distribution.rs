//! Which distribution do the values follow?

use serde::{Deserialize, Serialize};
use spc::distribution::{
    Distribution, Family, Filter, Fit, Histogram, HistogramRequest, Normality, Tally, anderson_darling, best,
    fit_family, histogram, normality,
};

use super::drawing::{BINS, FitPlot, bins_hold, fit_plot, shares};
use super::refusal::StudyRefusal;
use super::selection::{Picked, Selection};
use super::used::{Extent, values_of};
use crate::characteristic::{Characteristic, Kind};
use crate::field::{Allowed, WrongField, broken};

/// Families that begin somewhere above or below 0.
const FROM_A_START: [Family; 2] = [Family::Lognormal3, Family::Weibull3];
/// Values of a drawn curve.
const CURVE: usize = 160;
/// Shares whose values are told.
const SHARES: [f64; 11] = [0.001_35, 0.01, 0.05, 0.1, 0.25, 0.5, 0.75, 0.9, 0.95, 0.99, 0.998_65];
/// Two families whose AIC differ by less are alike.
const ALIKE: f64 = 2.0;
/// Samples drawn in order at most.
const DRAWN_AT_MOST: u32 = 1000;
/// Samples drawn in order unless asked otherwise.
const DRAWN: u32 = 100;

/// Which distribution is taken.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "as", rename_all = "snake_case", deny_unknown_fields)]
pub enum TakenDistribution {
    /// The family that fits best: lowest AIC.
    #[default]
    Best,
    /// A family, fitted.
    Family {
        /// The family.
        family: Family,
    },
    /// A family with parameters that are known from elsewhere.
    Typed {
        /// The family with them.
        distribution: Distribution,
    },
}

/// A question of distribution.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DistributionQuestion {
    /// Of which samples.
    pub of: Selection,
    /// Which distribution is taken.
    #[serde(default)]
    pub taken: TakenDistribution,
    /// Lognormal and Weibull from a start of their own are tried, too.
    #[serde(default)]
    pub from_a_start: bool,
    /// Which values are kept.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub filter: Option<Filter>,
    /// Bars of the histogram, 1 to 200; otherwise by Freedman and Diaconis.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bins: Option<u16>,
    /// So many of the last samples are drawn in their order, 1 to 1000; all are used. Otherwise 100.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub drawn: Option<u32>,
}

/// Why a distribution was taken.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "because", rename_all = "snake_case")]
pub enum TakenBecause {
    /// Its AIC is lowest.
    LowestAic {
        /// The one after it.
        next: Option<Family>,
        /// How much lower than that.
        by: Option<f64>,
        /// Those that fit as well: less than 2 of AIC away.
        alike: Vec<Family>,
    },
    /// Somebody chose the family.
    Chosen {
        /// The one that fits best.
        best: Option<Family>,
        /// How much higher its AIC is than that.
        by: Option<f64>,
    },
    /// Somebody typed its parameters.
    Typed,
}

/// A family over the bars: how many values a bar there would hold.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FamilyCurve {
    /// The family.
    pub family: Family,
    /// Expected count of a bar at each x.
    pub count: Vec<f64>,
}

/// The value below which a share of all lies.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Quantile {
    /// The share.
    pub share: f64,
    /// By the distribution that was taken.
    pub fitted: f64,
    /// How many of the values lie below that, as a share.
    pub seen: f64,
}

/// A sample drawn in its order.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SampleDrawn {
    /// Its number.
    pub number: i64,
    /// Values that are used.
    pub values: Vec<f64>,
    /// Values that the filter left out.
    pub left_out: Vec<f64>,
}

/// A distribution study answered.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DistributionAnswer {
    /// Samples used.
    #[serde(flatten)]
    pub extent: Extent,
    /// Values used.
    pub n: usize,
    /// Values that the filter left out below what it keeps, and above.
    pub left_out: (usize, usize),
    /// What the filter keeps: from, to.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<Option<f64>>))]
    pub kept: (Option<f64>, Option<f64>),
    /// Their mean.
    pub mean: f64,
    /// s, divisor n − 1.
    pub sd: f64,
    /// The smallest, the middle, the largest.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<f64>))]
    pub ends: [f64; 3],
    /// Whether they look normal.
    pub normality: Normality,
    /// What was taken, with parameters.
    pub taken: Distribution,
    /// Its A².
    pub a2: Option<f64>,
    /// Why.
    pub reason: TakenBecause,
    /// All families that hold the values, the best first.
    pub fits: Vec<Fit>,
    /// The values, in bars.
    pub histogram: Histogram,
    /// The share of all values in each bar.
    pub shares: Vec<f64>,
    /// Values of the curves.
    pub x: Vec<f64>,
    /// What was taken first, then the others.
    pub curves: Vec<FamilyCurve>,
    /// Against what was taken.
    #[serde(flatten)]
    pub against: FitPlot,
    /// The values of shares.
    pub quantiles: Vec<Quantile>,
    /// The last samples in their order.
    pub drawn: Vec<SampleDrawn>,
}

impl DistributionQuestion {
    pub(super) fn wrong(&self) -> Vec<WrongField> {
        let drawn = self.drawn.is_none_or(|n| (1..=DRAWN_AT_MOST).contains(&n));
        let constants = self.filter.map_or([None, None], |filter| [filter.low, filter.high]);
        let percentile = self.filter.and_then(|filter| filter.percentile);
        let given: Vec<f64> = constants.into_iter().flatten().collect();
        let ordered = given.iter().all(|x| x.is_finite()) && given.windows(2).all(|pair| pair[0] < pair[1]);
        let typed =
            if let TakenDistribution::Typed { distribution } = self.taken { distribution.is_proper() } else { true };
        let mut wrong = self.of.wrong();
        wrong.extend(broken([
            ("bins", bins_hold(self.bins), BINS),
            ("drawn", drawn, Allowed::Whole { least: 1, most: DRAWN_AT_MOST }),
            ("parameters", typed, Allowed::ParametersOfTheFamily),
            ("percentile", percentile.is_none_or(|p| p > 0.0 && p < 0.5), Allowed::ShareBelowHalf),
            ("percentile", percentile.is_none() || given.is_empty(), Allowed::PercentileOrConstants),
            ("filter", ordered, Allowed::LowerBelowUpper),
        ]));
        wrong
    }
}

/// Answers a question of distribution.
///
/// # Errors
/// Why there is no answer.
pub fn distribution(
    question: &DistributionQuestion,
    characteristic: &Characteristic,
    picked: &[Picked],
) -> Result<DistributionAnswer, StudyRefusal> {
    if characteristic.kind != Kind::Measured {
        return Err(StudyRefusal::OtherKind);
    }
    let all = question.of.values(picked);
    if all.is_empty() {
        return Err(StudyRefusal::NoSamples);
    }
    // Bounds out of order were refused by their field.
    let (low, high) = question.filter.unwrap_or_default().bounds(&all).map_err(|_| StudyRefusal::NoSamples)?;
    let from = all.partition_point(|x| *x < low);
    let to = all.partition_point(|x| *x <= high);
    let sorted = all.get(from..to).unwrap_or_default();
    let looks = normality(sorted).ok_or(StudyRefusal::AllEqual { values: sorted.len() })?;
    let tally = Tally::of(sorted);
    let fits = fits(question, &tally);
    let (taken, reason) = take(question.taken, &tally, &fits)?;
    let against = fit_plot(sorted, taken)?;
    let unit = 10f64.powi(-i32::from(characteristic.decimals));
    let request = HistogramRequest { values: sorted.to_vec(), bins: question.bins.map(usize::from), unit: Some(unit) };
    let bars = histogram(&request).map_err(|_| StudyRefusal::NoSamples)?;
    let (x, curves) = curves(taken, &fits, &bars, sorted.len());
    let n = sorted.len() as f64;
    let quantile = |share: f64| {
        let fitted = taken.quantile(share, 1.0 - share);
        Quantile { share, fitted, seen: sorted.partition_point(|x| *x < fitted) as f64 / n }
    };
    let finite = |x: f64| Some(x).filter(|x| x.is_finite());
    let (mean, sd) = spc::subgroup::mean(sorted).zip(spc::subgroup::sd(sorted)).unwrap_or_default();
    Ok(DistributionAnswer {
        extent: question.of.extent(picked),
        n: sorted.len(),
        left_out: (from, all.len() - to),
        kept: (finite(low), finite(high)),
        mean,
        sd,
        ends: [sorted[0], spc::subgroup::median(sorted).unwrap_or_default(), sorted[sorted.len() - 1]],
        normality: looks,
        a2: anderson_darling(&tally, &taken),
        taken,
        reason,
        fits,
        shares: shares(&bars),
        histogram: bars,
        x,
        curves,
        against,
        quantiles: SHARES.into_iter().map(quantile).collect(),
        drawn: drawn(question, picked, (low, high)),
    })
}

/// Families that hold all values, the best first.
fn fits(question: &DistributionQuestion, values: &Tally) -> Vec<Fit> {
    let more: &[Family] = if question.from_a_start { &FROM_A_START } else { &[] };
    let families = Family::TWO_PARAMETERS.iter().chain(more);
    let mut fits: Vec<Fit> = families.filter_map(|family| fit_family(*family, values)).collect();
    fits.sort_by(|a, b| a.aic.total_cmp(&b.aic));
    fits
}

fn take(taken: TakenDistribution, values: &Tally, fits: &[Fit]) -> Result<(Distribution, TakenBecause), StudyRefusal> {
    let first = best(fits);
    match taken {
        TakenDistribution::Best => {
            let best = first.ok_or(StudyRefusal::OutsideFamily { family: None })?;
            let others = fits.iter().filter(|fit| fit.distribution.family() != best.distribution.family());
            let alike = others.clone().filter(|fit| fit.aic < best.aic + ALIKE).map(|fit| fit.distribution.family());
            let next = others.clone().next();
            let reason = TakenBecause::LowestAic {
                next: next.map(|fit| fit.distribution.family()),
                by: next.map(|fit| fit.aic - best.aic),
                alike: alike.collect(),
            };
            Ok((best.distribution, reason))
        }
        TakenDistribution::Family { family } => {
            let fit = fits.iter().find(|fit| fit.distribution.family() == family).copied();
            let fit = fit.or_else(|| fit_family(family, values));
            let fit = fit.ok_or(StudyRefusal::OutsideFamily { family: Some(family) })?;
            let better = first.filter(|best| best.distribution.family() != family && best.aic < fit.aic);
            let reason = TakenBecause::Chosen {
                best: better.map(|best| best.distribution.family()),
                by: better.map(|best| fit.aic - best.aic),
            };
            Ok((fit.distribution, reason))
        }
        TakenDistribution::Typed { distribution } => Ok((distribution, TakenBecause::Typed)),
    }
}

/// From a bar's width below the smallest value to one above the largest.
fn curves(taken: Distribution, fits: &[Fit], bars: &Histogram, n: usize) -> (Vec<f64>, Vec<FamilyCurve>) {
    let (Some(&low), Some(&high)) = (bars.edges.first(), bars.edges.last()) else { return (vec![], vec![]) };
    let width = (high - low) / bars.counts.len() as f64;
    let (from, to) = (low - width, high + width);
    let x: Vec<f64> = (0..CURVE).map(|i| from + (to - from) * i as f64 / (CURVE - 1) as f64).collect();
    let others = fits.iter().map(|fit| fit.distribution).filter(|of| of.family() != taken.family());
    let curve = |of: Distribution| {
        // Some densities have no bound where they start.
        let count = |x: &f64| Some(of.density(*x) * width * n as f64).filter(|x| x.is_finite()).unwrap_or(0.0);
        FamilyCurve { family: of.family(), count: x.iter().map(count).collect() }
    };
    let curves = std::iter::once(taken).chain(others).map(curve).collect();
    (x, curves)
}

fn drawn(question: &DistributionQuestion, picked: &[Picked], (low, high): (f64, f64)) -> Vec<SampleDrawn> {
    let most = question.drawn.unwrap_or(DRAWN) as usize;
    let used: Vec<&Picked> = picked
        .iter()
        .filter(|one| question.of.uses(&one.place) && !values_of(&one.place).is_empty())
        .rev()
        .take(most)
        .collect();
    let sample = |one: &&Picked| {
        let (values, left_out) = values_of(&one.place).iter().partition(|x| (low..=high).contains(*x));
        SampleDrawn { number: one.number, values, left_out }
    };
    used.iter().rev().map(sample).collect()
}
