//! Control charts: a request goes in, panels with limits and signals come out.
//!
//! | chart | module |
//! |---|---|
//! | mean and range, mean and s, median and range | [`subgroups`] |
//! | individuals and moving range | [`individuals`] |
//! | run chart | [`run_chart`] |

mod answer;
pub mod individuals;
mod judged;
mod lines;
mod request;
pub mod run_chart;
pub mod subgroups;

pub use answer::{ChartAnswer, Panel, PanelPoint, Phase, Signal, Statistic};
pub use lines::Estimate;
pub use request::{ChartKind, ChartOptions, ChartRequest, Limits, LimitsBasis, Problem, SigmaMethod};

use subgroups::{Dispersion, Location};

/// Computes a control chart.
///
/// # Errors
/// What is wrong with the request: which field, what was given, what is allowed. A request that
/// passes [`ChartRequest::check`] is always answered.
pub fn compute(request: &ChartRequest) -> Result<ChartAnswer, Problem> {
    request.check()?;
    let (phases, panels) = match request.chart {
        ChartKind::XbarR => subgroups::panels(request, Location::Mean, Dispersion::Range),
        ChartKind::XbarS => subgroups::panels(request, Location::Mean, Dispersion::Sd),
        ChartKind::MedianR => subgroups::panels(request, Location::Median, Dispersion::Range),
        ChartKind::Run => run_chart::panels(request),
        ChartKind::IMr => individuals::panels(request),
    };
    Ok(judged::judge(request, phases, panels))
}
