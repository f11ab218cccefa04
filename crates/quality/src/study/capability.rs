//! Is this process able to hold its specification?

use serde::{Deserialize, Serialize};
use spc::capability::{Capability, CapabilityRequest, Chosen, WithinMethod};
use spc::chart::{ChartKind, ChartOptions};
use spc::distribution::{Distribution, Family, Fit, Histogram, HistogramRequest, Tally, best, fit_family, histogram};
use spc::points::Readings;

use super::doubts::{CapabilityDoubt, Known, doubts};
use super::drawing::{BINS, FitPlot, bins_hold, fit_plot, shares};
use super::refusal::StudyRefusal;
use super::selection::{Picked, Selection};
use super::split::{Group, Split};
use super::used::{Extent, groups, values_of};
use super::verdict::CapabilityVerdict;
use crate::characteristic::{Characteristic, Kind, Specification};
use crate::field::{Allowed, WrongField, broken};
use crate::place::{Place, where_so};
use crate::thresholds::{Standing, Thresholds};
use crate::trust;

/// Share beyond three sigma of the normal, on one side.
const TAIL: f64 = 0.00135;
/// Of fewer values of a part no verdict is told: its interval is as wide as all that could be said.
const SAID_FROM: usize = 10;
/// Room beside what is drawn, as a share of its width.
const AIR: f64 = 0.04;
/// Values of a drawn curve.
const CURVE: usize = 160;

/// A question of capability.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct CapabilityQuestion {
    /// Of which samples.
    pub of: Selection,
    /// How sigma within is estimated; otherwise as their chart would.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sigma_method: Option<WithinMethod>,
    /// The family that overall figures are of: the normal unless said otherwise; `auto` is the one that fits best.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub distribution: Option<Chosen>,
    /// Another specification than that of the characteristic.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub specification: Option<Specification>,
    /// Other thresholds than those of the characteristic.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thresholds: Option<Thresholds>,
    /// Bars of the histogram, 1 to 200; otherwise by Freedman and Diaconis.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bins: Option<u16>,
    /// The same of parts of the samples beside one another.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub split: Option<Split>,
}

impl CapabilityQuestion {
    pub(super) fn wrong(&self) -> Vec<WrongField> {
        let spec = self.specification.unwrap_or_default();
        let given: Vec<f64> = [spec.lsl, spec.target, spec.usl].into_iter().flatten().collect();
        let ordered = given.iter().all(|x| x.is_finite()) && given.windows(2).all(|pair| pair[0] < pair[1]);
        let mut wrong = self.of.wrong();
        wrong.extend(broken([
            ("specification", ordered, Allowed::LslBelowTargetBelowUsl),
            ("bins", bins_hold(self.bins), BINS),
        ]));
        wrong.extend(self.thresholds.iter().flat_map(Thresholds::wrong));
        wrong
    }
}

/// What a curve over the histogram is of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CurveOf {
    /// The normal with sigma within.
    Within,
    /// The normal with s, or the family that was chosen.
    Overall,
}

/// A curve over the histogram: how many values a bar there would hold.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Curve {
    /// What it is of.
    pub of: CurveOf,
    /// Values.
    pub x: Vec<f64>,
    /// Expected count of a bar there.
    pub count: Vec<f64>,
}

/// From where to where a process reaches.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Reach {
    /// Mean and three sigma within, to either side.
    #[cfg_attr(feature = "schema", schema(value_type = Option<Vec<f64>>))]
    pub within: Option<[f64; 2]>,
    /// Between the quantiles 0.00135 and 0.99865 of the chosen family; of the normal mean and 3 s.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<f64>))]
    pub overall: [f64; 2],
}

/// The same of a part of the samples.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CapabilityGroup {
    /// Which part.
    pub group: Group,
    /// Samples used.
    pub samples: usize,
    /// Its figures; nothing where it has too few different values.
    pub capability: Option<Capability>,
    /// Where it stands; nothing of fewer than ten values.
    pub standing: Option<Standing>,
}

/// Parts of a million outside the specification, on both sides together.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outside {
    /// Of those measured.
    pub observed: f64,
    /// By the family that overall figures are of.
    pub expected: f64,
}

/// A capability study answered.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CapabilityAnswer {
    /// The specification it was held against.
    pub specification: Specification,
    /// Samples used.
    #[serde(flatten)]
    pub extent: Extent,
    /// The figures.
    pub capability: Capability,
    /// Of a million, outside on either side.
    pub outside: Outside,
    /// From where on the process counts as able.
    pub thresholds: Thresholds,
    /// What is to be said of them.
    pub verdict: Option<CapabilityVerdict>,
    /// What they must be read with.
    pub doubts: Vec<CapabilityDoubt>,
    /// The values, in bars.
    pub histogram: Histogram,
    /// The share of all values in each bar.
    pub shares: Vec<f64>,
    /// Over the bars.
    pub curves: Vec<Curve>,
    /// What six sigma within and 99.73 % of all take up.
    pub reach: Reach,
    /// Against the chosen family.
    #[serde(flatten)]
    pub against: FitPlot,
    /// All families that hold the values, the best first.
    pub fits: Vec<Fit>,
    /// Parts of the samples, where they are told apart.
    pub groups: Vec<CapabilityGroup>,
}

/// Answers a capability question.
///
/// # Errors
/// Why there is no answer.
pub fn capability(
    question: &CapabilityQuestion,
    characteristic: &Characteristic,
    picked: &[Picked],
    known: Known,
) -> Result<CapabilityAnswer, StudyRefusal> {
    if characteristic.kind != Kind::Measured {
        return Err(StudyRefusal::OtherKind);
    }
    let specification = question.specification.unwrap_or(characteristic.specification);
    let asking = Asking { question, specification, known };
    let places: Vec<Place> = picked.iter().map(|one| one.place.clone()).collect();
    let figures = asking.figures(&places)?;
    let values = question.of.values(picked);
    let tally = Tally::of(&values);
    let mut fits: Vec<Fit> = Family::TWO_PARAMETERS.iter().filter_map(|family| fit_family(*family, &tally)).collect();
    fits.sort_by(|a, b| a.aic.total_cmp(&b.aic));
    let extent = question.of.extent(picked);
    let thresholds = question.thresholds.unwrap_or(characteristic.thresholds);
    let fault = |_| StudyRefusal::NoSamples;
    let unit = 10f64.powi(-i32::from(characteristic.decimals));
    let bars =
        histogram(&HistogramRequest { values: values.clone(), bins: question.bins.map(usize::from), unit: Some(unit) });
    let histogram = bars.map_err(fault)?;
    let chosen = figures.distribution.distribution;
    let drawn = overall(&figures);
    let of_selection = trust::check(&as_charted(characteristic, &places), &unmarked(&places, &asking), None);
    let trust = of_selection.map_err(fault)?;
    Ok(CapabilityAnswer {
        specification,
        extent,
        outside: Outside {
            observed: both(figures.ppm.observed.below, figures.ppm.observed.above),
            expected: both(figures.ppm.overall.below, figures.ppm.overall.above),
        },
        verdict: thresholds.verdict(&figures),
        doubts: doubts(
            &figures,
            &trust,
            known,
            (extent.samples, extent.set_aside),
            better(&fits, &figures.distribution),
        ),
        thresholds,
        curves: curves(&figures, drawn, &histogram, specification),
        shares: shares(&histogram),
        histogram,
        reach: Reach {
            within: figures.sigma_within.map(|sigma| [figures.mean - 3.0 * sigma, figures.mean + 3.0 * sigma]),
            overall: [drawn.quantile(TAIL, 1.0 - TAIL), drawn.quantile(1.0 - TAIL, TAIL)],
        },
        against: fit_plot(&values, chosen)?,
        fits,
        groups: groups(picked, question.split.as_ref())
            .into_iter()
            .map(|(group, part)| {
                let places: Vec<Place> = part.into_iter().map(|one| one.place).collect();
                let found = asking.figures(&places).ok();
                let said = found.as_ref().filter(|found| found.n >= SAID_FROM);
                let standing = said.and_then(|found| thresholds.verdict(found)).map(|verdict| verdict.standing);
                let samples = places.iter().filter(|place| asking.uses(place)).count();
                CapabilityGroup { group, samples, capability: found, standing }
            })
            .collect(),
        capability: figures,
    })
}

struct Asking<'a> {
    question: &'a CapabilityQuestion,
    specification: Specification,
    known: Known,
}

impl Asking<'_> {
    fn uses(&self, place: &Place) -> bool {
        self.question.of.uses(place)
    }

    fn figures(&self, places: &[Place]) -> Result<Capability, StudyRefusal> {
        let values = places.iter().filter(|place| self.uses(place)).map(|place| values_of(place).len()).sum();
        let Specification { lsl, target, usl } = self.specification;
        let distribution = self.question.distribution.unwrap_or(Chosen::Family(Family::Normal));
        let readings: Readings = places.iter().map(|place| values_of(place).iter().copied()).collect();
        let request = CapabilityRequest {
            points: readings,
            excluded: where_so(places, |place| !self.uses(place)),
            lsl,
            target,
            usl,
            sigma_method: self.question.sigma_method,
            distribution,
            signals: self.known.episodes as usize,
        };
        let family = if let Chosen::Family(family) = distribution { Some(family) } else { None };
        spc::capability::capability(&request)
            .map_err(|wrong| StudyRefusal::of(&wrong, values, family).unwrap_or(StudyRefusal::NoSamples))
    }
}

/// Of a side without a limit there is nothing outside.
fn both(below: Option<f64>, above: Option<f64>) -> f64 {
    below.unwrap_or(0.0) + above.unwrap_or(0.0)
}

/// The characteristic on the plain chart of its data: what a study looks at is one phase of it.
fn as_charted(characteristic: &Characteristic, places: &[Place]) -> Characteristic {
    let sizes = places.iter().map(|place| values_of(place).len()).filter(|n| *n > 0);
    let (least, most) = sizes.fold((usize::MAX, 0), |(least, most), n| (least.min(n), most.max(n)));
    let chart = match (least, most) {
        (_, 0 | 1) => ChartKind::IMr,
        (least, most) if least == most && most <= 10 => ChartKind::XbarR,
        _ => ChartKind::XbarS,
    };
    Characteristic { chart, options: ChartOptions::default(), ..characteristic.clone() }
}

/// Places with those marked as set aside that are left out.
fn unmarked(places: &[Place], asking: &Asking) -> Vec<Place> {
    places.iter().map(|place| Place { aside: !asking.uses(place), scheme: 0, ..place.clone() }).collect()
}

/// The family that fits clearly better than the one that was taken: by 2 of AIC or more.
fn better(fits: &[Fit], taken: &Fit) -> Option<Family> {
    best(fits).filter(|best| best.aic <= taken.aic - 2.0).map(|best| best.distribution.family())
}

/// What overall figures are of.
fn overall(of: &Capability) -> Distribution {
    match of.distribution.distribution {
        // The figures of the normal use s, and so does what is drawn of it.
        Distribution::Normal { .. } => Distribution::Normal { mean: of.mean, sd: of.sigma_overall },
        other => other,
    }
}

/// Curves from the outermost of values and specification on, three sigma farther.
fn curves(of: &Capability, overall: Distribution, bars: &Histogram, specification: Specification) -> Vec<Curve> {
    let (Some(&low), Some(&high)) = (bars.edges.first(), bars.edges.last()) else { return vec![] };
    let width = (high - low) / bars.counts.len() as f64;
    let ends = [Some(low), Some(high), specification.lsl, specification.usl];
    let reach = ends.into_iter().flatten().fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), x| (a.min(x), b.max(x)));
    let spread = of.sigma_overall;
    let (from, to) = ((of.mean - 4.0 * spread).min(reach.0), (of.mean + 4.0 * spread).max(reach.1));
    let air = AIR * (to - from);
    let (from, to) = (from - air, to + air);
    let curve = |name: CurveOf, distribution: Distribution| {
        let x: Vec<f64> = (0..CURVE).map(|i| from + (to - from) * i as f64 / (CURVE - 1) as f64).collect();
        let count = x.iter().map(|x| finite(distribution.density(*x) * width * of.n as f64)).collect();
        Curve { of: name, x, count }
    };
    let within = of.sigma_within.map(|sd| curve(CurveOf::Within, Distribution::Normal { mean: of.mean, sd }));
    within.into_iter().chain([curve(CurveOf::Overall, overall)]).collect()
}

/// Some densities have no bound where they start.
fn finite(x: f64) -> f64 {
    if x.is_finite() { x } else { 0.0 }
}
