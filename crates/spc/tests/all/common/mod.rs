//! Series and charts for the property tests.

use proptest::prelude::*;
use spc::Figure;
use spc::chart::{ChartAnswer, ChartKind, ChartRequest, Signal};
use spc::points::{Count, Points};
use spc::rules::{Preset, Rule, RuleSet, Side};

/// Charts of measured values with the pieces of a point.
pub fn measured() -> impl Strategy<Value = (ChartKind, usize)> {
    use ChartKind::{BetweenWithin, Cusum, Ewma, IMr, MedianR, MovingAverage, Run, XbarR, XbarS};
    prop::sample::select(vec![
        (XbarR, 3),
        (XbarS, 4),
        (MedianR, 3),
        (IMr, 1),
        (Run, 1),
        (Ewma, 1),
        (Ewma, 3),
        (Cusum, 2),
        (MovingAverage, 1),
        (MovingAverage, 3),
        (BetweenWithin, 3),
    ])
}

/// Charts of counts.
pub fn counting() -> impl Strategy<Value = ChartKind> {
    use ChartKind::{C, Np, P, PPrime, U, UPrime};
    prop::sample::select(vec![P, Np, C, U, PPrime, UPrime])
}

/// Steps that are exact in binary, so that shifting and scaling by powers of two change no digit.
pub fn series(values: &[i32], pieces: usize) -> Vec<Vec<f64>> {
    values.chunks(pieces).map(|chunk| chunk.iter().map(|&x| f64::from(x) / 4.0).collect()).collect()
}

pub fn counts(pairs: &[(u32, u32)]) -> Points {
    let count = |&(count, size): &(u32, u32)| Some(Count { count: f64::from(count.min(size)), size: f64::from(size) });
    Points::Counts(pairs.iter().map(count).collect())
}

pub fn by_nelson(chart: ChartKind, points: impl Into<Points>) -> ChartRequest {
    ChartRequest { rules: Some(RuleSet::Preset(Preset::Nelson)), ..ChartRequest::new(chart, points) }
}

pub fn rule_sets() -> impl Strategy<Value = RuleSet> {
    prop_oneof![
        prop::sample::select(vec![Preset::LimitsOnly, Preset::WesternElectric, Preset::Nelson, Preset::SevenPoint])
            .prop_map(RuleSet::Preset),
        // Short windows, so that series of some dozens of points are full of signals.
        Just(RuleSet::of(vec![
            Rule::Beyond { k: 1.5 },
            Rule::OneSide { n: 3 },
            Rule::Trend { n: 3 },
            Rule::Alternating { n: 4 },
            Rule::MOfN { m: 2, n: 4, k: 0.5 },
            Rule::Hugging { n: 3, k: 1.0 },
            Rule::Avoiding { n: 2, k: 0.5 },
            Rule::Beyond { k: 2.0 },
        ])),
    ]
}

pub fn close(a: f64, b: f64) -> bool {
    (a - b).abs() <= 1e-9 * a.abs().max(b.abs()).max(1.0)
}

/// Both absent, or both there and close.
pub fn figures_close(a: Figure, b: Figure) -> bool {
    match (a.get(), b.get()) {
        (Some(a), Some(b)) => close(a, b),
        (a, b) => a == b,
    }
}

pub fn options_close(a: Option<f64>, b: Option<f64>) -> bool {
    figures_close(a.into(), b.into())
}

pub fn mirrored(signal: &Signal) -> Signal {
    let side = signal.side.map(|side| match side {
        Side::Above => Side::Below,
        Side::Below => Side::Above,
        Side::Rising => Side::Falling,
        Side::Falling => Side::Rising,
    });
    Signal { side, ..*signal }
}

/// Signals of the panels that show which way a value lies, in an order of their own.
pub fn of_location(answer: &ChartAnswer) -> Vec<Signal> {
    let mut found: Vec<Signal> = answer.signals.iter().filter(|s| !s.panel.is_dispersion()).copied().collect();
    found.sort_by_key(|s| (s.at, format!("{:?}", s.rule), s.side));
    found
}
