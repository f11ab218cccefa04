//! Limits estimated from points.

use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartRequest, Figures, compute};
use spc::points::Point;

use crate::characteristic::Characteristic;
use crate::place::{Place, points, where_so};

/// Trial limits use at most this many points of their phase, the latest ones, so that saving a
/// sample costs the same however long a phase stays on trial. Limits that have seen so many points
/// should long have been put in force.
pub const TRIAL_POINTS_AT_MOST: usize = 200;

/// With fewer points a sigma says too little to judge by, and none is drawn.
pub const TRIAL_POINTS_AT_LEAST: usize = 10;

/// What limits were estimated from, as the check whether they are still true asks it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Baseline {
    /// Points used.
    pub points: u32,
    /// Values in them; of counts, units inspected or area.
    pub size: f64,
}

/// Figures with what they were estimated from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Estimate {
    /// What limits are made of.
    pub figures: Figures,
    /// What they rest on.
    pub baseline: Baseline,
}

/// Figures from the places of one phase, those set aside left out; `None` while there are too few, or
/// while they do not differ: equal readings have no sigma, and without any nonconforming unit (or
/// with no other) a share has none.
pub fn trial(characteristic: &Characteristic, places: &[Place]) -> Option<Estimate> {
    let found = estimate(characteristic, places)?;
    (found.baseline.points as usize >= TRIAL_POINTS_AT_LEAST).then_some(found)
}

/// As [`trial`], from however few points.
pub fn estimate(characteristic: &Characteristic, places: &[Place]) -> Option<Estimate> {
    let scheme = characteristic.scheme();
    let request = ChartRequest {
        excluded: where_so(places, |place| place.aside),
        options: scheme.options,
        ..ChartRequest::new(scheme.chart, points(characteristic.kind, places))
    };
    let phase = compute(&request).ok()?.phases.first().copied()?;
    let figures = phase.figures;
    scheme.chart.check_figures(&frozen(scheme.chart, figures), |_| String::new()).ok()?;
    let center = figures.center?;
    let degenerate = match scheme.chart {
        ChartKind::P | ChartKind::Np | ChartKind::PPrime => center <= 0.0 || center >= 1.0,
        ChartKind::C | ChartKind::U | ChartKind::UPrime | ChartKind::G => center <= 0.0,
        _ => false,
    };
    if degenerate {
        return None;
    }
    let size = |place: &Place| match place.plotted.point() {
        Point::Values(values) => values.len() as f64,
        Point::Count(count) => count.map_or(0.0, |count| count.size),
        Point::Between(_) => 1.0,
    };
    let size = places.iter().filter(|place| place.counts()).map(size).sum();
    let baseline = Baseline { points: u32::try_from(phase.used).unwrap_or(u32::MAX), size };
    Some(Estimate { figures: frozen(scheme.chart, figures), baseline })
}

/// The figures that freeze a chart: a fit says its centre itself.
fn frozen(chart: ChartKind, figures: Figures) -> Figures {
    if chart == ChartKind::T { Figures { center: None, ..figures } } else { figures }
}
