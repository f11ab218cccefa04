//! What was found.

use quality::characteristic::Kind;
use quality::study::{
    CapabilityAnswer, DefectsAnswer, DistributionAnswer, OverTimeAnswer, RuleSetsAnswer, SideBySideAnswer,
};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::characteristics::CharacteristicView;

/// What a study is about.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct About {
    pub id: Uuid,
    pub name: String,
    pub product: String,
    pub station: String,
    pub kind: Kind,
    pub unit: String,
    pub decimals: u8,
}

/// A capability study answered.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct CapabilityFound {
    pub about: About,
    #[serde(flatten)]
    pub answer: CapabilityAnswer,
}

/// A distribution study answered.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct DistributionFound {
    pub about: About,
    #[serde(flatten)]
    pub answer: DistributionAnswer,
}

/// A study of defects by kind answered.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct DefectsFound {
    pub about: About,
    #[serde(flatten)]
    pub answer: DefectsAnswer,
}

/// Sets side by side, each with what it is of.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct SideBySideFound {
    pub about: Vec<About>,
    #[serde(flatten)]
    pub answer: SideBySideAnswer,
}

/// Rules and plans weighed.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct RuleSetsFound {
    pub about: Option<About>,
    #[serde(flatten)]
    pub answer: RuleSetsAnswer,
}

/// A measure over time.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct OverTimeFound {
    pub about: About,
    #[serde(flatten)]
    pub answer: OverTimeAnswer,
}

/// What was found.
#[derive(Debug, Clone, Serialize, ToSchema)]
#[serde(tag = "sort", rename_all = "snake_case")]
pub enum StudyAnswer {
    Capability(Box<CapabilityFound>),
    Distribution(Box<DistributionFound>),
    Defects(Box<DefectsFound>),
    SideBySide(Box<SideBySideFound>),
    RuleSets(Box<RuleSetsFound>),
    OverTime(Box<OverTimeFound>),
}

impl From<&CharacteristicView> for About {
    fn from(of: &CharacteristicView) -> Self {
        let CharacteristicView { id, product, station, characteristic, .. } = of.clone();
        let (kind, decimals) = (characteristic.kind, characteristic.decimals);
        Self { id, name: characteristic.name, product, station, kind, unit: characteristic.unit, decimals }
    }
}
