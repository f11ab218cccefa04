//! What the figures of a study must be read with.

use serde::{Deserialize, Serialize};
use spc::capability::Capability;
use spc::distribution::Family;
use spc::trust::{CheckName, CheckVerdict};

use crate::trust::TrustView;

/// Overall sigma this much above that within is told: what was delivered scatters more than the process could.
const OVERALL_ABOVE: f64 = 1.2;

/// A reason not to believe the figures at once. Verdicts carry them in plain sight.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "doubt", rename_all = "snake_case")]
pub enum CapabilityDoubt {
    /// Findings among the values used: an unstable process foretells nothing.
    Unstable {
        /// Episodes that stand.
        episodes: u32,
        /// Of them those that wait for an answer or a review.
        unsettled: u32,
    },
    /// No episode stands, but points of the selection, taken as one phase, break rules.
    Unsteady {
        /// Signals.
        signals: u32,
    },
    /// Too few samples for the estimate.
    TooFew {
        /// Samples used.
        samples: u32,
        /// Values used.
        values: u32,
    },
    /// The values are not normal, and the figures take them as such.
    NotNormal {
        /// Of the test of normality.
        p: f64,
        /// The family that fits them clearly better, where one does.
        better: Option<Family>,
    },
    /// The measuring unit is too coarse.
    Coarse {
        /// Different spreads within their limits.
        distinct: u32,
    },
    /// Samples depend on those before.
    Dependent {
        /// Lag-1 autocorrelation.
        r1: f64,
    },
    /// What was delivered scatters more than the process does within samples.
    Drifting {
        /// Overall sigma over sigma within.
        ratio: f64,
    },
    /// The limits in force are to be looked at.
    LimitsStale,
    /// Samples that are set aside are left out.
    SetAside {
        /// How many.
        samples: u32,
    },
}

/// What is known of the samples beside their values.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Known {
    /// Episodes that stand among them.
    pub episodes: u32,
    /// Of them those that wait for an answer or a review.
    pub unsettled: u32,
    /// The limits in force are to be looked at.
    pub limits_stale: bool,
}

pub(super) fn doubts(
    of: &Capability,
    trust: &TrustView,
    known: Known,
    (samples, aside): (usize, usize),
    better: Option<Family>,
) -> Vec<CapabilityDoubt> {
    let count = |n: usize| u32::try_from(n).unwrap_or(u32::MAX);
    let check = |name: CheckName| trust.checks.iter().find(|check| check.name == name);
    let poor = |name: CheckName| check(name).filter(|check| check.verdict == CheckVerdict::Poor);
    let value = |name: CheckName| check(name).and_then(|check| check.value).unwrap_or(0.0);
    let mut doubts = vec![];
    let signals = value(CheckName::Stable) as u32;
    if known.episodes > 0 {
        doubts.push(CapabilityDoubt::Unstable { episodes: known.episodes, unsettled: known.unsettled });
    } else if signals > 0 {
        doubts.push(CapabilityDoubt::Unsteady { signals });
    }
    if check(CheckName::Enough).is_some_and(|check| check.verdict != CheckVerdict::Good) {
        doubts.push(CapabilityDoubt::TooFew { samples: count(samples), values: count(of.n) });
    }
    let taken_as_normal = of.distribution.distribution.family() == Family::Normal;
    if taken_as_normal && of.normality.p < 0.05 {
        doubts.push(CapabilityDoubt::NotNormal { p: of.normality.p, better });
    }
    if poor(CheckName::Resolution).is_some() {
        doubts.push(CapabilityDoubt::Coarse { distinct: value(CheckName::Resolution) as u32 });
    }
    if poor(CheckName::Independent).is_some() {
        doubts.push(CapabilityDoubt::Dependent { r1: value(CheckName::Independent) });
    }
    let ratio = of.sigma_within.map_or(1.0, |within| of.sigma_overall / within);
    if ratio > OVERALL_ABOVE {
        doubts.push(CapabilityDoubt::Drifting { ratio });
    }
    if known.limits_stale {
        doubts.push(CapabilityDoubt::LimitsStale);
    }
    if aside > 0 {
        doubts.push(CapabilityDoubt::SetAside { samples: count(aside) });
    }
    doubts
}
