//! A stretch of places judged, and how far it has to reach.

use spc::chart::{ChartKind, Figures, Limits, LimitsBasis, Sums, Watch, Watched};
use spc::wrong_request::WrongRequest;

use crate::place::Place;
use crate::scheme::{Scheme, Schemes};

/// What the places of a phase are judged by.
#[derive(Debug, Clone, Copy)]
pub struct Ground<'a> {
    /// What its limits are made of; nothing while there are too few points for any.
    pub figures: Option<Figures>,
    /// The schemes of its characteristic.
    pub schemes: &'a Schemes,
}

impl Ground<'_> {
    /// As the core takes them: given, whatever they were estimated from.
    fn limits(&self, scheme: &Scheme) -> Limits {
        let figures = self.figures.unwrap_or_else(|| any_figures(scheme.chart));
        Limits { basis: LimitsBasis::Given(figures), k: scheme.k }
    }
}

/// Figures to plot by where there are none: what has a statistic does not depend on them.
fn any_figures(chart: ChartKind) -> Figures {
    match chart {
        ChartKind::P | ChartKind::Np | ChartKind::C | ChartKind::U | ChartKind::G => Figures::centered(0.5),
        ChartKind::T => Figures { shape: Some(1.0), scale: Some(1.0), ..Figures::default() },
        ChartKind::BetweenWithin => Figures { sigma_between: Some(1.0), mean_n: Some(2.0), ..Figures::new(0.5, 1.0) },
        _ => Figures { mean_n: None, ..Figures::new(0.5, 1.0) },
    }
}

/// Places of one phase judged against frozen figures. Without any, nothing is flagged, and the points that have a
/// statistic count as tested all the same. `sums` are those of the point before the first place, where there is one.
///
/// Where another scheme begins, rules start afresh, and moving ranges reach back.
///
/// # Errors
/// When the figures or rules are out of their bounds; those that were put in force never are.
pub fn judge_window(ground: &Ground, places: &[&Place], sums: Option<Sums>) -> Result<Watched, WrongRequest> {
    follow(ground, places, sums, true)
}

/// As [`judge_window`], without looking for signals.
///
/// # Errors
/// When the figures are out of their bounds.
pub fn plot_window(ground: &Ground, places: &[&Place], sums: Option<Sums>) -> Result<Watched, WrongRequest> {
    follow(ground, places, sums, false)
}

fn follow(ground: &Ground, places: &[&Place], mut sums: Option<Sums>, judged: bool) -> Result<Watched, WrongRequest> {
    let mut all = Watched::default();
    let mut from = 0usize;
    for part in places.chunk_by(|a, b| a.scheme == b.scheme) {
        let scheme = ground.schemes.get(part[0].scheme);
        let rules = ground.figures.filter(|_| judged).map(|_| &scheme.rule_set);
        let mut options = scheme.options.clone();
        options.mean_size &= ground.figures.is_some();
        let mut watch = Watch::new(scheme.chart, &ground.limits(scheme), rules, &options)?;
        if from > 0 {
            places[from.saturating_sub(scheme.lead())..from].iter().for_each(|place| watch.lead_in(place.on_chart()));
            watch.restart();
        } else if let Some(sums) = sums.take() {
            watch.resume(sums);
        }
        all.append(watch.follow(part.iter().map(|place| place.on_chart())), from);
        from += part.len();
    }
    all.signals.sort_by_key(|signal| signal.at);
    Ok(all)
}

/// Whether a stretch holds all that the judgement of its places `changed..=last` depends on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Reach {
    /// Before them each panel has as many tested points as the longest rule looks back to.
    pub back: bool,
    /// After them each panel has all tested points whose rule windows can hold one of them, and one more, to see
    /// whether a pattern goes on behind them.
    pub ahead: bool,
}

/// How far a stretch reaches. Rules count tested points, and a moving range among gaps has fewer than
/// there are samples.
pub fn reach(schemes: &Schemes, places: &[&Place], window: &Watched, changed: usize, last: usize) -> Reach {
    let (longest, lead) = (schemes.longest_window(), schemes.lead());
    let tested = |from: usize, to: usize| {
        window.panels.iter().all(|(_, points)| {
            let part = points.iter().take(to).skip(from);
            part.filter(|point| point.tested).count() >= longest
        })
    };
    // What moves over the first points of the stretch may reach before it.
    let led = places.iter().enumerate().filter(|(_, place)| place.counts()).map(|(i, _)| i).nth(lead);
    let afresh = |from: usize| (from..=changed).any(|i| places[i].restart);
    let back = led.is_some_and(|led| tested(led, changed) || afresh(led));
    // They are part of the moving statistics up to here.
    let touched = places.iter().enumerate().skip(last + 1).filter(|(_, place)| place.counts()).map(|(i, _)| i);
    let ahead = touched.take(lead).last().map_or(lead == 0, |touched| tested(touched + 1, usize::MAX));
    Reach { back, ahead }
}
