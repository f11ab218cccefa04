//! Whether points are fit to take limits from. Unfit ground is said and asks for a reason; it does not block.

use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartRequest, compute};
use spc::dispersion::dispersion;
use spc::trust::{CheckName, CheckVerdict, trust};

use super::estimate::Estimate;
use crate::characteristic::{Characteristic, Kind};
use crate::place::{Place, points, where_so};

/// Something that speaks against limits from these points.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "code", rename_all = "snake_case")]
pub enum Unfit {
    /// Points that break rules are among them: the process was not steady.
    Unstable {
        /// Signals against their own limits.
        signals: usize,
    },
    /// There are few of them.
    FewPoints {
        /// How many are used.
        used: usize,
        /// How many would do.
        wanted: usize,
    },
    /// Single values far from normal.
    NotNormal {
        /// p of the Anderson–Darling test.
        p: f64,
    },
    /// The unit of measurement is too coarse: ranges take few values.
    Coarse {
        /// How many different ones.
        distinct: usize,
    },
    /// So little is found that the limits of counts say little.
    FewFound {
        /// Expected in a sample.
        expected: f64,
    },
    /// The counts scatter more than chance alone allows.
    OverDispersed {
        /// Variance of the standardised counts; 1 where chance alone is at work.
        ratio: f64,
        /// Probability of as large a ratio by chance.
        p: f64,
        /// The chart that allows for it.
        suggests: ChartKind,
    },
}

/// Limits should rest on at least so many points.
const POINTS_WANTED: usize = 20;

/// Everything that speaks against limits estimated from these places, those set aside left out.
pub fn unfit(characteristic: &Characteristic, places: &[Place], found: &Estimate) -> Vec<Unfit> {
    let scheme = characteristic.scheme();
    let request = ChartRequest {
        excluded: where_so(places, |place| place.aside),
        restarts: where_so(places, |place| place.restart),
        rules: Some(scheme.rule_set),
        options: scheme.options,
        ..ChartRequest::new(scheme.chart, points(characteristic.kind, places))
    };
    let mut unfit = Vec::new();
    let signals = compute(&request).map_or(0, |answer| answer.signals.len());
    if signals > 0 {
        unfit.push(Unfit::Unstable { signals });
    }
    let used = found.baseline.points as usize;
    if used < POINTS_WANTED {
        unfit.push(Unfit::FewPoints { used, wanted: POINTS_WANTED });
    }
    let checks = trust(&request).map(|trust| trust.checks).unwrap_or_default();
    let poor = |name: CheckName| checks.iter().find(|c| c.name == name && c.verdict == CheckVerdict::Poor);
    if let Some(p) = poor(CheckName::Normal).and_then(|check| check.value) {
        unfit.push(Unfit::NotNormal { p });
    }
    if let Some(distinct) = poor(CheckName::Resolution).and_then(|check| check.value) {
        unfit.push(Unfit::Coarse { distinct: distinct as usize });
    }
    unfit.extend(few_found(characteristic, found));
    unfit.extend(over_dispersed(&request));
    unfit
}

/// n·p̄, or what c̄ or ū expects, below 1.
fn few_found(characteristic: &Characteristic, found: &Estimate) -> Option<Unfit> {
    let Estimate { figures, baseline } = found;
    let mean_size = baseline.size / f64::from(baseline.points.max(1));
    let center = figures.center?;
    let expected = match characteristic.kind {
        Kind::NonconformingUnits => center * mean_size,
        Kind::Nonconformities if characteristic.chart == ChartKind::C => center,
        Kind::Nonconformities => center * mean_size,
        Kind::Measured | Kind::RareEvent => return None,
    };
    (expected < 1.0).then_some(Unfit::FewFound { expected })
}

fn over_dispersed(request: &ChartRequest) -> Option<Unfit> {
    let chart = match request.chart {
        ChartKind::P | ChartKind::Np => ChartKind::P,
        ChartKind::U | ChartKind::C => ChartKind::U,
        _ => return None,
    };
    let found = dispersion(&ChartRequest { chart, rules: None, ..request.clone() }).ok()?;
    Some(Unfit::OverDispersed { ratio: found.ratio?, p: found.p?, suggests: found.suggests? })
}
