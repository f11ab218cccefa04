//! A window of points judged, and how far it has to reach.

use spc::chart::{ChartKind, Watch, Watched};
use spc::points::Point;
use spc::wrong_request::WrongRequest;

use crate::characteristic::Characteristic;
use crate::limits::Figures;

/// A window of points judged against frozen figures. Without any, nothing is flagged, and the points
/// that have a statistic count as tested all the same.
///
/// # Errors
/// When the figures or rules are out of their bounds; those that were put in force never are.
pub fn judge_window<'p>(
    characteristic: &Characteristic,
    figures: Option<&Figures>,
    window: impl IntoIterator<Item = Point<'p>>,
) -> Result<Watched, WrongRequest> {
    /// What has a statistic does not depend on figures.
    const ANY: Figures = Figures { center: 0.5, sigma: Some(1.0), k: 3.0 };
    let options = characteristic.chart_options();
    let rules = figures.map(|_| &characteristic.rule_set);
    let given = match (figures, characteristic.chart) {
        (Some(figures), _) => figures.as_given(),
        (None, ChartKind::P | ChartKind::Np | ChartKind::C | ChartKind::U) => Figures { sigma: None, ..ANY }.as_given(),
        (None, _) => ANY.as_given(),
    };
    let mut watch = Watch::new(characteristic.chart, &given, None, rules, &options)?;
    Ok(watch.follow(window))
}

/// Whether a window holds all that the judgement of its point `changed` depends on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Reach {
    /// Before it each panel has as many tested points as the longest rule looks back to.
    pub back: bool,
    /// After it each panel has all tested points whose rule windows can hold it, and one more, to see
    /// whether a pattern goes on behind them.
    pub ahead: bool,
}

/// How far a window reaches. Rules count tested points, and a moving range among gaps has fewer than
/// there are samples.
pub fn reach(characteristic: &Characteristic, window: &Watched, changed: usize) -> Reach {
    let longest = characteristic.rule_set.longest_window();
    // The point is part of the moving ranges up to here.
    let touched = changed + characteristic.chart_options().span - 1;
    let tested = |from: usize, to: usize| {
        window.panels.iter().all(|(_, points)| {
            let part = points.iter().take(to).skip(from);
            part.filter(|point| point.tested).count() >= longest
        })
    };
    Reach { back: tested(0, changed), ahead: tested(touched + 1, usize::MAX) }
}
