//! The rules of the multirule, and what becomes of a run by them.

use serde::{Deserialize, Serialize};

/// The rules of the multirule.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)] // said by their descriptions
pub enum LabRule {
    /// One result beyond 2 sd: a warning, never a rejection.
    #[serde(rename = "1-2s")]
    OneTwoS,
    /// One result beyond 3 sd.
    #[serde(rename = "1-3s")]
    OneThreeS,
    /// Two consecutive results beyond 2 sd on one side, of neighbouring levels in the run or of one
    /// level in two runs.
    #[serde(rename = "2-2s")]
    TwoTwoS,
    /// In one run one result beyond +2 sd and another beyond −2 sd.
    #[serde(rename = "R-4s")]
    RangeFourS,
    /// Four consecutive beyond 1 sd on one side, of one level or across levels.
    #[serde(rename = "4-1s")]
    FourOneS,
    /// Ten consecutive on one side, of one level or across levels.
    #[serde(rename = "10x")]
    TenX,
    /// Two of three beyond 2 sd on one side, in a run or of one level.
    #[serde(rename = "2of3-2s")]
    TwoOfThreeTwoS,
    /// Three consecutive beyond 1 sd on one side.
    #[serde(rename = "3-1s")]
    ThreeOneS,
    /// Six consecutive on one side.
    #[serde(rename = "6x")]
    SixX,
    /// Eight consecutive on one side.
    #[serde(rename = "8x")]
    EightX,
    /// Twelve consecutive on one side.
    #[serde(rename = "12x")]
    TwelveX,
    /// Seven consecutive results of a level strictly rising or falling.
    #[serde(rename = "7T")]
    SevenT,
}

impl LabRule {
    /// The usual six.
    pub const DEFAULT: [Self; 6] =
        [Self::OneTwoS, Self::OneThreeS, Self::TwoTwoS, Self::RangeFourS, Self::FourOneS, Self::TenX];

    /// All of them, in the order of their description.
    pub const ALL: [Self; 12] = [
        Self::OneTwoS,
        Self::OneThreeS,
        Self::TwoTwoS,
        Self::RangeFourS,
        Self::FourOneS,
        Self::TenX,
        Self::TwoOfThreeTwoS,
        Self::ThreeOneS,
        Self::SixX,
        Self::EightX,
        Self::TwelveX,
        Self::SevenT,
    ];

    /// What becomes of a run that breaks it.
    pub fn verdict(self) -> Verdict {
        if self == Self::OneTwoS { Verdict::Warning } else { Verdict::Rejected }
    }

    /// No rule looks back at more results than this.
    pub const LONGEST: usize = 12;
}

/// What becomes of a run. A person may override it with a reason.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// No rule is broken.
    Accepted,
    /// Only 1-2s is.
    Warning,
    /// Any other rule is.
    Rejected,
}
