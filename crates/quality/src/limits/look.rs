//! Are limits in force still true? What the points since say, and when a chart is to be looked at because of it.
//!
//! With hundreds of charts some fail a test at 0.01 every day by chance. One is to be looked at when a test fails at
//! 0.001, or when two runs of points that share none fail at 0.01 in one direction; it stays so until a run holds.

use serde::{Deserialize, Serialize};
use spc::change_points::{ChangePointsRequest, change_points};
use spc::chart::{ChartKind, ChartRequest, Figures, Limits, LimitsBasis, compute};
use spc::limits_check::{self, LimitsCheck, LimitsCheckRequest, LimitsVerdict, SignalCount, limits_check};
use spc::points::Point;

use super::estimate::Baseline;
use crate::characteristic::{Characteristic, Kind};
use crate::place::{Place, points, where_so};

/// Points in a run.
pub const RUN: usize = 25;

/// What is read to look at two runs: their points, and what the rules of the first look back at.
pub const LOOKED_AT: usize = 3 * RUN;

/// The level of each test.
const LEVEL: f64 = 0.01;
/// One run alone has to fail at this.
const LEVEL_ALONE: f64 = 0.001;
/// How often a point of a rare event falls beyond its limits by chance, both sides together.
const BEYOND_BY_CHANCE: f64 = 0.0027;

/// What became of limits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Drift {
    /// The mean lies above the centre.
    Above,
    /// The mean lies below the centre.
    Below,
    /// The spread has grown.
    Wider,
    /// The spread has shrunk.
    Narrower,
    /// More points lie beyond the limits of a rare event than chance allows.
    Signals,
}

/// What the latest run of points says of limits in force.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LimitsLook {
    /// Points in the run.
    pub points: usize,
    /// What failed at 0.01; nothing where the limits hold.
    pub drift: Option<Drift>,
    /// Probability of that by chance; of limits that hold, the smaller one.
    pub p: f64,
    /// How far the mean lies from the centre, in sigma of single values; of counts, in sigma of single units.
    pub shift: Option<f64>,
    /// Sigma now over sigma in force.
    pub ratio: Option<f64>,
    /// Signals on the location panel, and how many would be there by chance.
    pub signals: SignalCount,
    /// The run before it failed in the same direction.
    pub before_too: bool,
}

impl LimitsLook {
    /// Whether a chart is to be looked at, given whether it was before.
    pub fn lists(&self, listed: bool) -> bool {
        self.drift.is_some() && (listed || self.before_too || self.p < LEVEL_ALONE)
    }
}

/// Looks at the latest points since limits were put in force, at most [`LOOKED_AT`] of them; nothing while they are
/// fewer than a run, and of charts without limits.
pub fn look(
    characteristic: &Characteristic,
    places: &[Place],
    figures: Figures,
    baseline: Option<Baseline>,
) -> Option<LimitsLook> {
    let counting: Vec<usize> = (0..places.len()).filter(|&i| places[i].counts()).collect();
    let latest = counting.len().checked_sub(RUN)?;
    let chart = Since { characteristic, figures, baseline };
    let found = chart.run(places)?;
    // The run before it ends where it begins.
    let before = latest.checked_sub(RUN).and_then(|_| chart.run(&places[..counting[latest]]));
    let before_too = found.drift.is_some() && before.is_some_and(|before| before.drift == found.drift);
    Some(LimitsLook { before_too, ..found })
}

struct Since<'a> {
    characteristic: &'a Characteristic,
    figures: Figures,
    baseline: Option<Baseline>,
}

impl Since<'_> {
    /// The last run of these places.
    fn run(&self, places: &[Place]) -> Option<LimitsLook> {
        let scheme = self.characteristic.scheme();
        let chart = ChartRequest {
            excluded: where_so(places, |place| place.aside),
            restarts: where_so(places, |place| place.restart),
            limits: vec![Limits { basis: LimitsBasis::Given(self.figures), k: scheme.k }],
            rules: Some(scheme.rule_set),
            options: scheme.options,
            ..ChartRequest::new(scheme.chart, points(self.characteristic.kind, places))
        };
        if matches!(chart.chart, ChartKind::G | ChartKind::T) {
            return signals_alone(&chart, places);
        }
        let measured = self.characteristic.kind == Kind::Measured;
        let of = |Baseline { points, size }: Baseline| limits_check::Baseline {
            points: points as usize,
            values: measured.then_some(size as usize),
            size: (!measured).then_some(size),
        };
        let baseline = self.baseline.map(of);
        let found = limits_check(&LimitsCheckRequest { chart, phase: None, last: RUN, since: None, baseline }).ok()?;
        Some(told(&found))
    }
}

fn told(check: &LimitsCheck) -> LimitsLook {
    let LimitsCheck { points, mean, sigma, signals, verdict } = *check;
    let p_of_sigma = sigma.map(|sigma| sigma.p);
    let (drift, p) = match verdict {
        LimitsVerdict::Hold => (None, mean.p.min(p_of_sigma.unwrap_or(1.0))),
        LimitsVerdict::Moved if mean.shift > 0.0 => (Some(Drift::Above), mean.p),
        LimitsVerdict::Moved => (Some(Drift::Below), mean.p),
        LimitsVerdict::Wider => (Some(Drift::Wider), p_of_sigma.unwrap_or(1.0)),
        LimitsVerdict::Narrower => (Some(Drift::Narrower), p_of_sigma.unwrap_or(1.0)),
    };
    let ratio = sigma.map(|sigma| sigma.ratio);
    LimitsLook { points, drift, p, shift: Some(mean.shift), ratio, signals, before_too: false }
}

/// Rare events have no test of a mean: points beyond the limits are counted, and compared with chance (Poisson).
fn signals_alone(chart: &ChartRequest, places: &[Place]) -> Option<LimitsLook> {
    let first = places.iter().enumerate().rev().filter(|(_, place)| place.counts()).nth(RUN - 1)?.0;
    let found = compute(chart).ok()?;
    let panel = &found.panels[0];
    let beyond = |i: &usize| {
        let point = panel.point(*i);
        let value = point.value.get().unwrap_or(f64::NAN);
        places[*i].counts()
            && (point.upper.get().is_some_and(|upper| value > upper)
                || point.lower.get().is_some_and(|lower| value < lower))
    };
    let seen = (first..places.len()).filter(beyond).count();
    let expected = RUN as f64 * BEYOND_BY_CHANCE;
    // P(X ≥ seen) of a Poisson distribution.
    let mut term = (-expected).exp();
    let mut below = 0.0;
    for i in 0..seen {
        below += term;
        term *= expected / (i + 1) as f64;
    }
    let p = 1.0 - below;
    let drift = (p < LEVEL).then_some(Drift::Signals);
    let signals = SignalCount { seen, expected: Some(expected) };
    Some(LimitsLook { points: RUN, drift, p, shift: None, ratio: None, signals, before_too: false })
}

/// Where the process seems to have changed for the last time: the place that a new phase could begin at.
pub fn proposed_start(places: &[Place]) -> Option<usize> {
    let location = |place: &Place| match place.plotted.point() {
        Point::Values(values) => values.iter().sum::<f64>() / values.len() as f64,
        Point::Count(count) => count.map_or(f64::NAN, |count| count.count / count.size),
        Point::Between(distance) => distance.unwrap_or(f64::NAN),
    };
    let counting: Vec<usize> = (0..places.len()).filter(|&i| places[i].counts()).collect();
    let values = counting.iter().map(|&i| location(&places[i])).collect();
    let found = change_points(&ChangePointsRequest { values }).ok()?;
    found.starts.last().filter(|&&start| start > 0).map(|&start| counting[start])
}
