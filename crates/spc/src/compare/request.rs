//! Data sets to compare, and how a difference is told.

use serde::Serialize;

use crate::capability::check_specification;
use crate::chart::{ChartKind, ChartRequest};
use crate::points::{Count, Points};
use crate::wrong_request::{Expected, WrongRequest};

/// Charts whose data can be compared.
const CHARTS: [ChartKind; 8] = [
    ChartKind::XbarR,
    ChartKind::XbarS,
    ChartKind::MedianR,
    ChartKind::IMr,
    ChartKind::P,
    ChartKind::Np,
    ChartKind::U,
    ChartKind::C,
];

/// Sets at most: more stand beside one another on no screen.
pub const SETS_AT_MOST: usize = 200;

/// Units or nonconformities of a set at most: exact tests walk through the counts that are likely.
const COUNTED_AT_MOST: f64 = 1e12;

/// Data sets to compare.
#[derive(Debug, Clone, PartialEq)]
pub struct CompareRequest {
    /// The first is the base that the others are held against.
    pub sets: Vec<DataSet>,
    /// What was recorded, and how sigma within is estimated.
    pub chart: ChartKind,
    /// Lower specification limit, of measured values.
    pub lsl: Option<f64>,
    /// Target value; it changes nothing here.
    pub target: Option<f64>,
    /// Upper specification limit.
    pub usl: Option<f64>,
    /// Of every interval, 0.5 … 0.9999. Usual: 0.95.
    pub confidence: f64,
}

/// Points that belong together: those of a line, a shift, a lot, a period.
#[derive(Debug, Clone, PartialEq)]
pub struct DataSet {
    /// What it is called.
    pub name: String,
    /// In order; gaps are left out, but break moving ranges.
    pub points: Points,
}

/// A figure with its interval, and how likely one as far from "no difference" is where there is none.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Estimate {
    /// The figure; nothing where it would divide by 0.
    pub value: Option<f64>,
    /// Lower end of its interval.
    pub low: Option<f64>,
    /// Upper end; nothing where it has none.
    pub high: Option<f64>,
    /// Two-sided.
    pub p: f64,
}

/// Whether this chart's data can be compared.
///
/// # Errors
/// The charts that can.
pub fn compared(chart: ChartKind) -> Result<ChartKind, WrongRequest> {
    if CHARTS.contains(&chart) {
        return Ok(chart);
    }
    Err(WrongRequest::new("chart", crate::wrong_request::spelled(chart), Expected::one_of(CHARTS)))
}

impl CompareRequest {
    pub(super) fn check(&self) -> Result<(), WrongRequest> {
        compared(self.chart)?;
        check_specification(self.lsl, self.target, self.usl)?;
        if !(0.5..=0.9999).contains(&self.confidence) {
            return Err(WrongRequest::new("confidence", self.confidence, Expected::between(0.5, 0.9999)));
        }
        if self.sets.is_empty() || self.sets.len() > SETS_AT_MOST {
            let expected = Expected::Entries { of: "sets", least: 1, most: Some(SETS_AT_MOST) };
            return Err(WrongRequest::new("sets", format!("{} sets", self.sets.len()), expected));
        }
        self.sets
            .iter()
            .enumerate()
            .try_for_each(|(i, set)| set.check(self.chart).map_err(|wrong| wrong.within(&format!("sets[{i}]"))))
    }
}

impl DataSet {
    fn check(&self, chart: ChartKind) -> Result<(), WrongRequest> {
        ChartRequest::new(chart, self.points.clone()).check()?;
        if self.points.are_all_gaps() {
            return Err(WrongRequest::new("points", "no values", Expected::at_least(1, "points with a value")));
        }
        let Points::Counts(counts) = &self.points else { return Ok(()) };
        let units = matches!(chart, ChartKind::P | ChartKind::Np);
        let sizes = counts.iter().enumerate().filter_map(|(i, count)| Some((i, count.as_ref()?.size)));
        if let Some((i, size)) = sizes.clone().find(|(_, size)| units && size.fract() != 0.0) {
            return Err(WrongRequest::new(format!("points[{i}].size"), size, Expected::whole_from(1)));
        }
        let all = |of: fn(&Count) -> f64| counts.iter().flatten().map(of).sum::<f64>();
        let most = if units { all(|count| count.size) } else { all(|count| count.count) };
        if most > COUNTED_AT_MOST {
            return Err(WrongRequest::new("points", format!("{most} in all"), Expected::up_to(COUNTED_AT_MOST)));
        }
        Ok(())
    }
}
