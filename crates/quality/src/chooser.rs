//! Which chart fits: plain questions, a recommended chart, and the reason.

use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartRequest};
use spc::dispersion::dispersion;
use spc::points::Points;

use crate::characteristic::{Kind, Taken};

/// Answers to the chooser's questions.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Asked {
    /// What is recorded?
    pub kind: Kind,
    /// How many pieces each time, or units inspected?
    pub pieces: u32,
    /// Not always the same number?
    pub varying: bool,
    /// Where do the pieces come from?
    pub taken: Taken,
}

/// Why a chart is recommended.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "code", rename_all = "snake_case")]
pub enum ChartReason {
    /// A single value has no spread of its own; neighbours show it.
    SingleValue,
    /// Few pieces: their range says nearly as much as their standard deviation, and can be done by hand.
    FewPieces,
    /// Many pieces: their range wastes most of what they say.
    ManyPieces,
    /// Nonconforming units out of a constant number: the number itself can be plotted.
    UnitsConstant,
    /// Nonconforming units out of varying numbers: only the share can be compared.
    UnitsVarying,
    /// Nonconformities in a constant area.
    FlawsConstant,
    /// Nonconformities in varying areas.
    FlawsVarying,
    /// So rare that counting them would find none nearly every time: how far they lie apart says more.
    RareEvents,
    /// The counts recorded so far scatter more than chance alone allows.
    OverDispersed {
        /// Variance of the standardised counts; 1 where chance alone is at work.
        ratio: f64,
        /// Probability of as large a ratio by chance.
        p: f64,
        /// Samples it was found in.
        samples: usize,
    },
}

/// A warning about how the sample is taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Caution {
    /// Different streams in one subgroup widen its range, and with it the limits: the chart goes blind.
    StreamsMixed,
    /// Pieces spread over the interval hide what happened within it.
    SpreadOut,
    /// So few are inspected that most counts are likely to be zero.
    FewInspected,
}

/// What the chooser recommends.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Recommendation {
    /// The chart that fits best.
    pub chart: ChartKind,
    /// Why it fits best.
    pub reason: ChartReason,
    /// Others that can be chosen.
    pub others: Vec<ChartKind>,
    /// What to think about.
    pub cautions: Vec<Caution>,
}

/// Up to so many pieces the range is recommended.
const RANGE_AT_MOST: u32 = 10;

/// With fewer samples nothing is said about their scatter.
const COUNTS_AT_LEAST: usize = 20;

/// Recommends a chart. `counts` are those recorded so far, for the check of over-dispersion.
/// Source: ISO 7870-2; Montgomery, ch. 6 and 7.
pub fn recommend(asked: &Asked, counts: Option<Points>) -> Recommendation {
    let (chart, reason) = match (asked.kind, asked.varying) {
        (Kind::Measured, _) if asked.pieces <= 1 => (ChartKind::IMr, ChartReason::SingleValue),
        (Kind::Measured, _) if asked.pieces <= RANGE_AT_MOST => (ChartKind::XbarR, ChartReason::FewPieces),
        (Kind::Measured, _) => (ChartKind::XbarS, ChartReason::ManyPieces),
        (Kind::NonconformingUnits, false) => (ChartKind::Np, ChartReason::UnitsConstant),
        (Kind::NonconformingUnits, true) => (ChartKind::P, ChartReason::UnitsVarying),
        (Kind::Nonconformities, false) => (ChartKind::C, ChartReason::FlawsConstant),
        (Kind::Nonconformities, true) => (ChartKind::U, ChartReason::FlawsVarying),
        (Kind::RareEvent, _) => (ChartKind::G, ChartReason::RareEvents),
    };
    let (chart, reason) = counts.and_then(|counts| over_dispersed(asked.kind, counts)).unwrap_or((chart, reason));
    let fits = |other: ChartKind| match other {
        ChartKind::IMr => asked.pieces <= 1,
        ChartKind::XbarR | ChartKind::XbarS | ChartKind::MedianR | ChartKind::BetweenWithin => asked.pieces > 1,
        ChartKind::Np | ChartKind::C => !asked.varying,
        _ => true,
    };
    let others = asked.kind.charts().iter().copied().filter(|&other| other != chart && fits(other)).collect();
    let mut cautions = Vec::new();
    if asked.kind == Kind::Measured && asked.pieces > 1 {
        match asked.taken {
            Taken::Streams => cautions.push(Caution::StreamsMixed),
            Taken::Spread => cautions.push(Caution::SpreadOut),
            Taken::Consecutive => {}
        }
    }
    if asked.kind == Kind::NonconformingUnits && asked.pieces < 20 {
        cautions.push(Caution::FewInspected);
    }
    Recommendation { chart, reason, others, cautions }
}

fn over_dispersed(kind: Kind, counts: Points) -> Option<(ChartKind, ChartReason)> {
    let samples = counts.len();
    let chart = match kind {
        Kind::Measured | Kind::RareEvent => return None,
        Kind::NonconformingUnits => ChartKind::P,
        Kind::Nonconformities => ChartKind::U,
    };
    let found = dispersion(&ChartRequest::new(chart, counts)).ok().filter(|_| samples >= COUNTS_AT_LEAST)?;
    let (chart, ratio, p) = (found.suggests?, found.ratio?, found.p?);
    Some((chart, ChartReason::OverDispersed { ratio, p, samples }))
}
